import type { ChemistryKey } from './chemistry.ts';

/** Kinds of battery the shop can take in, and those it turns away with the reason. */
export type KindKey = 'agm-dry' | 'lithium';

export type BatteryKind =
  { key: KindKey; name: string; chemistry: ChemistryKey; procedure: string; arrives: string } | { key: KindKey; name: string; refusal: string };

export const KINDS: readonly BatteryKind[] = [
  {
    key: 'agm-dry',
    name: 'AGM, dry-charged',
    chemistry: 'agm',
    procedure: 'commission-agm-dry',
    arrives: 'Dry, ports under foil. Filled once from the pack made for the model, then sealed for good by its cap strip.',
  },
  {
    key: 'lithium',
    name: 'Lithium',
    refusal:
      'Lithium is not lead-acid. Its cells need their own charger and their own electronics, and nothing on this bench is safe for it. Send it to a shop equipped for lithium.',
  },
];

/** @throws Error when the key is not in {@link KINDS} */
export function kindOf(key: string): BatteryKind {
  const kind = KINDS.find((k) => k.key === key);
  if (!kind) throw new Error(`No battery kind “${key}”.`);
  return kind;
}
