import type { ReactNode } from 'react';
import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import { type RouteKey, ROUTES } from '../../../../core/diagnosis/routes.ts';
import { FAMILIES } from '../../../../core/diagnosis/practice/families.ts';
import { useRules } from '../../../line/queries.ts';
import { oddsWords } from '../../../../core/quantities/chance.ts';

interface Props {
  diagnosis: Diagnosis;
  c20Ah: number;
  /** The route whose charge runs; null where one is still to be chosen. */
  underWay: RouteKey | null;
  /** What is done about it, and what to measure first. */
  children?: ReactNode;
}

/** The answer: what it most likely is, how surely, what it will hold, and what to do. */
export function Answer({ diagnosis, c20Ah, underWay, children }: Props) {
  const { currency } = useRules().stakes;
  const [first, second] = diagnosis.families;
  if (!first) return null;
  const { capacity, proposal } = diagnosis;
  const route = underWay ?? proposal.route;
  const odds = route && diagnosis.routes.find((r) => r.route === route);
  const band = odds?.capacity ?? capacity;
  const ah = (share: number): string =>
    Math.min(share, 1) * c20Ah < 10
      ? (Math.min(share, 1) * c20Ah).toFixed(1)
      : (Math.min(share, 1) * c20Ah).toFixed(0);
  const money = (amount: number): string => `${amount.toFixed(0)} ${currency}`;
  const words = oddsWords(first.chance);
  return (
    <section
      aria-label="The answer"
      className="grid gap-3 rounded-md border-2 border-ink bg-sheet p-4 md:p-5"
    >
      <div>
        <p className="label">Most likely</p>
        <p className="flex flex-wrap items-baseline gap-x-3">
          <b className="font-label text-4xl font-semibold">{FAMILIES[first.family].name}</b>
          <span className="text-2xl">{words === 'almost surely' ? words : `about ${words}`}</span>
          {second && second.chance > 0.1 && (
            <span className="text-lg text-soft">
              else {FAMILIES[second.family].is}, {oddsWords(second.chance)}
            </span>
          )}
        </p>
        {/* Two lines are kept for it: what it says grows when routes have been tried. */}
        <p className="mt-1 min-h-14 text-lg">
          {route === null ? (
            <>
              Nothing is likely to bring it back for what it costs: it would hold{' '}
              <b>
                {ah(band.low)}–{ah(band.high)} of {c20Ah} Ah
              </b>
              .
            </>
          ) : (
            <>
              Likely to hold{' '}
              <b>
                {ah(band.low)}–{ah(band.high)} of {c20Ah} Ah
              </b>{' '}
              after “{ROUTES[route].name.toLowerCase()}”{underWay && ', which is under way'}
              {odds &&
                !underWay &&
                `, about ${odds.hours.middle.toFixed(0)} h on the charger, ${odds.handsMin} min of hands`}
              .
            </>
          )}
        </p>
        {!underWay && proposal.instead && proposal.usual && (
          <p className="text-lg text-soft">
            Instead of “{ROUTES[proposal.usual].name.toLowerCase()}”, the shop’s usual way: it holds{' '}
            {(proposal.instead.gain * c20Ah).toFixed(0)} Ah more in{' '}
            {(10 * proposal.instead.share).toFixed(0)} of 10 simulated batteries.
          </p>
        )}
        {!underWay && proposal.cheaper && proposal.usual && (
          <p className="text-lg text-soft">
            The shop’s usual way, “{ROUTES[proposal.usual].name.toLowerCase()}”, costs more than it
            brings with a battery of this size.
          </p>
        )}
        {!underWay && odds && proposal.loss !== null && proposal.loss >= 1 && (
          <p className="text-lg text-soft">
            It hardly pays: {money(proposal.loss)} more than the battery is worth then. Kept in{' '}
            {(10 * (odds.returns + odds.light)).toFixed(0)} of 10.
          </p>
        )}
      </div>
      {children}
    </section>
  );
}
