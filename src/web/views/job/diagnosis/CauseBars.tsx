import { CAUSES } from '../../../../core/diagnosis/causes.ts';
import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import type { CauseOdds } from '../../../../core/diagnosis/findings.ts';

const SHOWN = 5;
const percent = (share: number): string =>
  share < 0.01 ? 'under 1 %' : share > 0.99 ? 'over 99 %' : `${(100 * share).toFixed(0)} %`;

/** How likely each cause is. Several may hold; the bar is for its holding, the darker part for its being the gravest. */
export function CauseBars({ diagnosis }: { diagnosis: Diagnosis }) {
  const shown = [...diagnosis.causes]
    .sort((a, b) => b.gravest - a.gravest || b.holds - a.holds)
    .slice(0, SHOWN);
  const others = diagnosis.causes.filter((c) => !shown.includes(c) && c.holds > 0.15);
  return (
    <section aria-label="What it may be">
      <h3 className="text-xl">What it may be</h3>
      <ul className="mt-1 grid gap-1.5">
        {shown.map((odds) => (
          <CauseBar key={odds.cause} odds={odds} />
        ))}
      </ul>
      <p className="mt-1 text-[15px] text-soft">
        Dark: the main cause. Pale: also there; several may be.
      </p>
      {others.length > 0 && (
        <p className="mt-1 text-[15px] text-soft">
          Beside it perhaps:{' '}
          {others
            .map((c) => `${CAUSES[c.cause].name.toLowerCase()} ${percent(c.holds)}`)
            .join(', ')}
          .
        </p>
      )}
    </section>
  );
}

function CauseBar({ odds: { cause, holds, gravest } }: { odds: CauseOdds }) {
  return (
    <li title={CAUSES[cause].plain}>
      <div className="flex items-baseline justify-between gap-3 leading-tight">
        <span className="font-label text-lg font-semibold">{CAUSES[cause].name}</span>
        <span className="text-[15px]">
          <b className="text-lg">{percent(gravest)}</b>
          {holds > gravest + 0.03 && <span className="text-soft">, present {percent(holds)}</span>}
        </span>
      </div>
      <div className="relative h-2.5 rounded-sm bg-hair" aria-hidden>
        <span
          className="absolute inset-y-0 left-0 rounded-sm bg-slate-pale"
          style={{ width: `${100 * holds}%` }}
        />
        <span
          className="absolute inset-y-0 left-0 rounded-sm bg-slate"
          style={{ width: `${100 * gravest}%` }}
        />
      </div>
    </li>
  );
}
