import {
  FAMILIES,
  FAMILY_KEYS,
  type FamilyKey,
  type FamilyOdds,
} from '../../../../core/diagnosis/practice/families.ts';
import { Choice } from '../../../parts/Choice.tsx';

/** Surer than this, it is filled in; else somebody has to say so. */
const FILLED_IN = 0.6;

/** What a battery most likely was, where that is fairly sure. */
export function likelyFound(said: readonly FamilyOdds[] | null): FamilyKey | null {
  const [first] = said ?? [];
  return first && first.chance >= FILLED_IN ? first.family : null;
}

const OPTIONS = [
  ['', 'Not known'] as const,
  ...FAMILY_KEYS.map((family) => [family, FAMILIES[family].name] as const),
];

/** Asks what it was in the end: the diagnosis learns from the answer. */
export function FoundField({
  value,
  onChange,
}: {
  value: FamilyKey | null;
  onChange: (found: FamilyKey | null) => void;
}) {
  return (
    <div className="grid max-w-md gap-1">
      <Choice
        label="What it was in the end"
        value={value ?? ''}
        options={OPTIONS}
        onChange={(family) => onChange(family === '' ? null : family)}
      />
      <p className="text-[15px] text-soft">
        The diagnosis learns from it. Change it where you know better.
      </p>
    </div>
  );
}
