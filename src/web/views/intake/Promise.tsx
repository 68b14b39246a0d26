import { chanceWords } from '../../../core/quantities/chance.ts';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { AskedWire } from '../../../contract/dayPlanWire.ts';
import type { BatteryModel } from '../../../core/batteries/model.ts';
import type { Suffers } from '../../../core/dayplan/ask.ts';
import { SAFE, UNSAFE } from '../../../core/dayplan/planWords.ts';
import type { Purpose } from '../../../core/plan/procedure.ts';
import {
  formatMoment,
  formatMomentShort,
  type WallStyle,
} from '../../../core/quantities/format.ts';
import { ask } from '../../line/api.ts';

/** So long an answer counts as today's; the bench changes meanwhile. ms */
const FRESH_MS = 60_000;

/** What can honestly be promised of a battery that is not there yet; `null` while the day plan is asked. */
export function useAskedPromise(
  model: BatteryModel | null,
  purpose: Purpose,
  count: number,
  wantedAt: number | null,
): AskedWire | null {
  const facts = model && factsOf(model);
  const { data } = useQuery({
    queryKey: ['askPromise', facts, purpose, count, wantedAt],
    queryFn: () =>
      facts ? ask('askPromise', { body: { model: facts, purpose, count, wantedAt } }) : null,
    staleTime: FRESH_MS,
    placeholderData: keepPreviousData,
    enabled: facts !== null,
  });
  return data ?? null;
}

interface Props {
  asked: AskedWire | null;
  promisedAt: number | null;
  now: number;
  wall: WallStyle;
}

/**
 * What can honestly be promised: by the day plan, with everything that is on the bench already. Where the time that is wanted
 * is not safe: what would have to give, and what a charger or an hour more would bring.
 */
export function PromiseAsked({ asked, ...shown }: Props) {
  if (!asked) return <p className="min-h-24 text-soft">Asking the day plan …</p>;
  if (!asked.answer)
    return (
      <p className="min-h-24 text-soft">
        There is no day plan just now. The hours below are for this battery alone.
      </p>
    );
  return <Answer asked={asked} {...shown} />;
}

/** What is asked of a model; what the catalogue keeps beside it stays behind. */
function factsOf(model: BatteryModel): BatteryModel {
  const { id: _, ...facts } = model as BatteryModel & { id?: string };
  return facts;
}

interface AnswerProps extends Omit<Props, 'asked'> {
  asked: AskedWire;
}

function Answer({ asked: { answer, from }, promisedAt, now, wall }: AnswerProps) {
  if (!answer) return null;
  const said = (minute: number): string => formatMoment(from + minute * 60_000, now, wall);
  const short = (minute: number): string => formatMomentShort(from + minute * 60_000, now, wall);
  const { earliest, kept, rush, more } = answer;
  const unsafe = kept !== null && kept < SAFE;
  return (
    <div className="grid gap-3">
      {earliest ? (
        <dl className="flex flex-wrap gap-x-8 gap-y-2">
          {(
            [
              ['even chance', earliest.half],
              ['8 in 10', earliest.eight],
              ['19 in 20', earliest.nineteen],
            ] as const
          ).map(([label, minute]) => (
            <div key={label}>
              <dt className="label">Ready, {label}</dt>
              <dd className="font-label text-2xl font-semibold">{said(minute)}</dd>
            </div>
          ))}
        </dl>
      ) : (
        <p className="border-l-4 border-oxide pl-3">
          The shop as it is cannot do it within the week.
        </p>
      )}
      {promisedAt !== null && kept !== null && (
        <p
          className={`text-lg ${kept < UNSAFE ? 'text-oxide' : kept < SAFE ? 'text-ochre' : ''}`}
          role="status"
        >
          Promised for {formatMoment(promisedAt, now, wall)}: <b>{chanceWords(kept)}</b>.
        </p>
      )}
      {unsafe && (
        <ul className="grid gap-1.5 text-soft">
          {rush && (
            <li>
              Put before everything else: {rush.kept === null ? '' : chanceWords(rush.kept)}
              {rush.earliest && `, 8 in 10 at ${short(rush.earliest.eight)}`}.{' '}
              {rush.suffers.length === 0 ? 'No promise suffers.' : sufferWords(rush.suffers)}
            </li>
          )}
          {earliest && more.charger && more.charger.eight < earliest.eight - 15 && (
            <li>With one charger more: 8 in 10 at {short(more.charger.eight)}.</li>
          )}
          {earliest && more.overtime && more.overtime.eight < earliest.eight - 15 && (
            <li>With everybody an hour longer: 8 in 10 at {short(more.overtime.eight)}.</li>
          )}
        </ul>
      )}
    </div>
  );
}

const sufferWords = (suffers: readonly Suffers[]): string =>
  suffers
    .slice(0, 3)
    .map(
      (s) =>
        `${s.tag}, ${s.whose}, falls from ${chanceWords(s.before)} to ${chanceWords(s.after)}.`,
    )
    .join(' ');
