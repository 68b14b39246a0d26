import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import {
  FAMILIES,
  FAMILY_TERMS,
  PICTURES,
  type PictureKey,
} from '../../../../core/diagnosis/practice/families.ts';
import { PRACTICE_WORTH } from '../../../../core/diagnosis/practice/experience.ts';
import { likeliestOf } from '../../../../core/diagnosis/practice/whys.ts';
import { TermLink } from '../../../parts/TermLink.tsx';
import { oddsWords } from '../../../../core/quantities/chance.ts';

const LEAST = 0.03;
const MOST = 5;
export const FAMILY_COLOURS = ['var(--color-slate)', '#a8895f', '#b9a98f'] as const;

/** What a picture is called where it changes what is done. */
const PICTURE_WORDS: Partial<Record<PictureKey, string>> = {
  shorted: 'shorted',
  open: 'open, or a loose link',
  reversed: 'reversed',
  leaking: 'leaking',
  weak: 'weak',
  hard: 'hard, for long',
  light: 'light, lately',
  uncovered: 'plates uncovered',
};

/** The families by their chance; inside each, what it most likely is. */
export function FamilyBars({ diagnosis }: { diagnosis: Diagnosis }) {
  const shown = diagnosis.families.filter((f, i) => i < 2 || f.chance >= LEAST).slice(0, MOST);
  return (
    <section aria-label="What it may be">
      <h3 className="text-xl">What it may be</h3>
      <ul className="mt-1 grid gap-1.5">
        {shown.map(({ family, chance }, i) => {
          const picture = likeliestOf(family, diagnosis.pictures);
          const many = Object.values(PICTURES).filter((f) => f === family).length > 1;
          return (
            <li key={family} title={FAMILIES[family].plain}>
              <div className="flex items-baseline justify-between gap-3 leading-tight">
                <span className="font-label text-lg font-semibold">
                  <TermLink term={FAMILY_TERMS[family]}>{FAMILIES[family].name}</TermLink>
                  {many && PICTURE_WORDS[picture] && (
                    <span className="block text-[15px] leading-tight font-medium text-soft">
                      {PICTURE_WORDS[picture]}
                    </span>
                  )}
                </span>
                <span className="shrink-0 text-lg">{oddsWords(chance)}</span>
              </div>
              <div className="h-2.5 rounded-sm bg-hair" aria-hidden>
                <span
                  className="block h-full rounded-sm"
                  style={{
                    width: `${Math.max(1, 100 * chance)}%`,
                    background: FAMILY_COLOURS[Math.min(i, FAMILY_COLOURS.length - 1)],
                  }}
                />
              </div>
            </li>
          );
        })}
      </ul>
      <p className="mt-1 text-[15px] text-soft">Several may hold. {standsOn(diagnosis)}</p>
    </section>
  );
}

/** What the odds stand on: what each says of the likeliest, and how much the shop itself has taught. */
function standsOn({ said, named, families, suspects, learnt }: Diagnosis): string {
  const [first] = families;
  if (!first) return '';
  const says = [
    `${percent(said.practice)} by practice`,
    said.signs === null ? '' : `${percent(said.signs)} by what simulated batteries read`,
    said.simulated === null
      ? ''
      : `${percent(said.simulated)} by ${suspects} simulated for this one`,
  ].filter(Boolean);
  const taught =
    learnt === null || learnt.of === 0
      ? ''
      : ` Practice is worth ${PRACTICE_WORTH} batteries beside ${learnt.of} of this shop.`;
  const name = `“${FAMILIES[first.family].name}”`;
  const stands =
    named === first.family
      ? `${name} is named by a plain rule, whatever the odds: ${says.join(', ')}.`
      : `${name}: ${says.join(', ')}.`;
  return stands + taught;
}

const percent = (share: number): string => `${Math.round(100 * share)} %`;
