import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import type { RouteOdds } from '../../../../core/diagnosis/findings.ts';
import { type RouteKey, ROUTES } from '../../../../core/diagnosis/routes.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import { formatTemperature } from '../../../../core/quantities/format.ts';

interface Props {
  diagnosis: Diagnosis;
  chosen: RouteKey | null;
  proposed: RouteKey | null;
  onChoose: ((route: RouteKey) => void) | null;
  rules: HouseRules;
}

/** Columns of a wide screen; on a phone what they say stands under the odds. */
const WIDE = 'max-sm:hidden';

const share = (x: number): string => `${(100 * x).toFixed(0)} %`;

/** What each route promises: odds, hours, heat, and what it is worth against recycling now. */
export function RouteTable({ diagnosis, chosen, proposed, onChoose, rules }: Props) {
  const { currency } = rules.stakes;
  return (
    <section
      aria-label="Routes"
      className="w-full [content-visibility:auto] [contain-intrinsic-height:auto_420px]"
    >
      {diagnosis.routes.length === 0 && (
        <p className="min-h-60 text-lg text-soft">Routes are being tried on simulated batteries…</p>
      )}
      <div className={`overflow-x-auto ${diagnosis.routes.length === 0 ? 'hidden' : ''}`}>
        <table className="w-full border-collapse sm:min-w-[560px]">
          <thead>
            <tr className="label border-b-2 border-ink text-left">
              <th className="py-1 font-medium">Route</th>
              <th className="font-medium sm:w-52">Comes back · light duty</th>
              <th className={`font-medium ${WIDE}`}>On the charger</th>
              <th className={`font-medium ${WIDE}`}>Work</th>
              <th className={`font-medium ${WIDE}`}>Warmest</th>
              <th className="text-right font-medium">Worth</th>
            </tr>
          </thead>
          <tbody>
            {diagnosis.routes.map((odds) => (
              <RouteRow
                key={odds.route}
                odds={odds}
                chosen={chosen === odds.route}
                proposed={proposed === odds.route}
                onChoose={onChoose}
                rules={rules}
              />
            ))}
            <tr className={`border-b border-line ${proposed === null ? 'bg-ochre-pale' : ''}`}>
              <td className="py-2 font-label text-lg font-semibold">
                Recycle now{' '}
                {proposed === null && (
                  <span className="ml-1 rounded-sm bg-ochre px-1.5 py-0.5 text-[15px] text-sheet">
                    proposed
                  </span>
                )}
              </td>
              <td className={`text-soft ${WIDE}`} colSpan={4}>
                Nothing tried, nothing spent
              </td>
              <td className="text-soft sm:hidden">Nothing spent</td>
              <td className="text-right font-semibold">0 {currency}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  );
}

function RouteRow({
  odds,
  chosen,
  proposed,
  onChoose,
  rules,
}: Omit<Props, 'diagnosis' | 'chosen' | 'proposed'> & {
  odds: RouteOdds;
  chosen: boolean;
  proposed: boolean;
}) {
  const { name } = ROUTES[odds.route];
  const hours = `${odds.hours.middle.toFixed(0)} h`;
  const warmest = formatTemperature(odds.peakC.high, rules.temperatureUnit);
  const label = (
    <span className="font-label text-lg font-semibold">
      {name}{' '}
      {proposed && (
        <span className="ml-1 rounded-sm bg-moss px-1.5 py-0.5 text-[15px] text-sheet">
          proposed
        </span>
      )}
    </span>
  );
  return (
    <tr className={`border-b border-line ${chosen ? 'bg-moss-pale' : ''}`}>
      <td className="py-0.5 pr-2">
        {onChoose ? (
          <label className="flex min-h-11 cursor-pointer items-center gap-2 sm:gap-3">
            <input
              type="radio"
              name="route"
              className="size-5 shrink-0 accent-ink"
              checked={chosen}
              onChange={() => onChoose(odds.route)}
              onClick={() => onChoose(odds.route)}
            />
            {label}
          </label>
        ) : (
          <span className="flex min-h-11 items-center">{label}</span>
        )}
      </td>
      <td className="py-1 pr-2 sm:pr-3">
        <span className="flex items-center gap-2">
          <span className="relative h-3 w-12 shrink-0 sm:w-20 rounded-sm bg-hair" aria-hidden>
            <span
              className="absolute inset-y-0 left-0 rounded-sm bg-moss"
              style={{ width: `${100 * odds.returns}%` }}
            />
            <span
              className="absolute inset-y-0 bg-slate-pale"
              style={{ left: `${100 * odds.returns}%`, width: `${100 * odds.light}%` }}
            />
          </span>
          <span className="whitespace-nowrap">
            <b>{share(odds.returns)}</b> · {share(odds.light)}
          </span>
        </span>
        <span className="block text-[15px] leading-snug text-soft sm:hidden">
          {hours} of charge, {odds.handsMin} min of work,{' '}
          <span className="whitespace-nowrap">up to {warmest}</span>
        </span>
      </td>
      <td className={`whitespace-nowrap pr-3 ${WIDE}`}>
        {hours}{' '}
        <span className="text-soft">
          ({odds.hours.low.toFixed(0)}–{odds.hours.high.toFixed(0)})
        </span>
      </td>
      <td className={`whitespace-nowrap pr-3 ${WIDE}`}>{odds.handsMin} min</td>
      <td className={`whitespace-nowrap pr-3 ${WIDE}`}>{warmest}</td>
      <td className="whitespace-nowrap text-right font-semibold">
        {odds.worth < 0 ? '−' : '+'}
        {Math.abs(odds.worth).toFixed(0)} {rules.stakes.currency}
      </td>
    </tr>
  );
}
