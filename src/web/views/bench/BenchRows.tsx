import { memo, startTransition, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { HouseRules } from '../../../core/house/rules.ts';
import { chargeStatus, READING_INTERVAL_S } from '../../../core/job/chargeStatus.ts';
import { GRACE_S } from '../../../core/job/hand.ts';
import { nextHand, urgencyOf } from '../../../core/watch/hands.ts';
import { chargeStartedAt } from '../../../core/job/chargeState.ts';
import { standingReadings } from '../../../core/job/job.ts';
import { OUTCOME_WORDS } from '../../../core/paper/sheet.ts';
import { readyAt, timeline } from '../../../core/watch/timeline.ts';
import {
  formatDuration,
  formatMoment,
  formatTemperature,
} from '../../../core/quantities/format.ts';
import { PortStrip } from '../../drawings/PortStrip.tsx';
import { stripLook } from '../../drawings/portState.ts';
import { hourMarks, Ribbon, type TimeSpan } from '../../drawings/Ribbon.tsx';
import { useWidth } from '../../drawings/useWidth.ts';
import { useHands, useLiveSample } from '../../line/queries.ts';
import type { BenchItem } from '../../line/benchItems.ts';
import { whyTitle } from '../../../core/job/why.ts';

const HOUR_MS = 3_600_000;
const RANGES = {
  shift: { name: 'Shift', back: 4, ahead: 8 },
  day: { name: 'Day', back: 12, ahead: 24 },
  week: { name: 'Week', back: 48, ahead: 120 },
} as const;
type RangeKey = keyof typeof RANGES;
const RANGE_KEY = 'cork-ember.range';
/** Rows of the first drawing. */
const AT_FIRST = 4;
const DRAWN_EVERY_MS = 15_000;

interface Props {
  open: BenchItem[];
  ended: BenchItem[];
  now: number;
  rules: HouseRules;
}

/** Every battery in process, all ribbons on one axis with one now line through them. */
export function BenchRows({ open, ended, now: exactly, rules }: Props) {
  // Ribbons and times are drawn to the quarter minute; what a charge reads is drawn when it comes.
  const now = Math.floor(exactly / DRAWN_EVERY_MS) * DRAWN_EVERY_MS;
  const [range, setRange] = useState<RangeKey>(
    () => (localStorage.getItem(RANGE_KEY) as RangeKey | null) ?? 'shift',
  );
  const [ref, width] = useWidth();
  const { back, ahead } = RANGES[range] ?? RANGES.shift;
  const span = useMemo<TimeSpan>(
    () => ({ from: now - back * HOUR_MS, to: now + ahead * HOUR_MS }),
    [now, back, ahead],
  );
  const nowX = (back / (back + ahead)) * width;
  const choose = (next: string) => {
    if (!(next in RANGES)) return;
    localStorage.setItem(RANGE_KEY, next);
    setRange(next as RangeKey);
  };
  const rows = [...collapseTrays(open), ...collapseTrays(ended)];
  // What is below the fold of a first visit is drawn a moment later, so that the first rows need not wait for it.
  const [all, setAll] = useState(false);
  useEffect(() => startTransition(() => setAll(true)), []);

  return (
    <>
      <div className="mb-1 flex flex-wrap items-end justify-between gap-2">
        <h1 id="rows" className="text-2xl">
          {open.length} in process
          {ended.length > 0 && (
            <span className="font-medium text-soft">, {ended.length} ended within a day</span>
          )}
        </h1>
        <fieldset className="flex max-sm:hidden">
          <legend className="sr-only">How much time to show</legend>
          {Object.entries(RANGES).map(([key, { name }]) => (
            <label
              key={key}
              className="grid min-h-11 min-w-14 cursor-pointer place-items-center px-2 font-label text-lg font-medium text-soft has-checked:text-ink has-checked:underline has-checked:decoration-2 has-checked:underline-offset-8 has-focus-visible:outline-3 has-focus-visible:outline-slate"
            >
              <input
                type="radio"
                name="range"
                className="sr-only"
                value={key}
                checked={key === range}
                onChange={() => choose(key)}
              />
              {name}
            </label>
          ))}
        </fieldset>
      </div>
      <div className={`${GRID} h-7 max-sm:hidden`} aria-hidden>
        <span className="col-start-3 block" ref={ref}>
          <svg width={width} height={28} className="block overflow-visible">
            {hourMarks(span, width, rules.timeZone).map((m) => {
              const x = ((m.at - span.from) / (span.to - span.from)) * width;
              return Math.abs(x - nowX) < 34 || x > width - 16 ? null : (
                <text
                  key={m.at}
                  x={x}
                  y={20}
                  textAnchor="middle"
                  className="fill-soft font-label text-[15px] font-medium"
                >
                  {m.label}
                </text>
              );
            })}
            <text
              x={nowX}
              y={20}
              textAnchor="middle"
              className="fill-ember-ink font-label text-[15px] font-semibold"
            >
              now
            </text>
          </svg>
        </span>
      </div>
      <ol className="relative border-t border-line">
        {(all ? rows : rows.slice(0, AT_FIRST)).map(({ item, alike }) => (
          <Row
            key={item.wire.id}
            item={item}
            alike={alike}
            now={now}
            span={span}
            width={width}
            nowX={nowX}
            rules={rules}
          />
        ))}
      </ol>
    </>
  );
}

const GRID =
  'grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 sm:grid-cols-[112px_104px_minmax(0,1fr)_196px] sm:gap-x-4';

/** A row of the bench: one battery, or the first of a tray with those that stand exactly as it does. */
interface BenchRow {
  item: BenchItem;
  alike: BenchItem[];
}

/** Batteries of one tray at the same step share a row, so that a full bench stays readable; those apart keep their own. */
function collapseTrays(items: readonly BenchItem[]): BenchRow[] {
  const rows: BenchRow[] = [];
  const standing = ({ wire, job: { state } }: BenchItem) =>
    state.charge && state.charge.mode !== 'ended'
      ? wire.id
      : [
          wire.battery.trayId,
          state.status,
          state.attempt,
          state.current?.stepId,
          state.current?.dueAt,
          state.outcome,
          state.paused?.at,
        ].join();
  for (const item of items) {
    const known = item.wire.battery.trayId
      ? rows.find((r) => standing(r.item) === standing(item))
      : undefined;
    if (known) known.alike.push(item);
    else rows.push({ item, alike: [] });
  }
  return rows;
}

interface RowProps {
  item: BenchItem;
  alike: BenchItem[];
  now: number;
  span: TimeSpan;
  width: number;
  nowX: number;
  rules: HouseRules;
}

/** Drawn again only when its battery, the quarter minute or the room it has changes. */
const Row = memo(RowNow, (a, b) => {
  const { alike: before, ...rest } = a;
  return (
    Object.keys(rest).every((key) => a[key as keyof RowProps] === b[key as keyof RowProps]) &&
    before.length === b.alike.length &&
    before.every((item, i) => item === b.alike[i])
  );
});

function RowNow({ item, alike, now, span, width, nowX, rules }: RowProps) {
  const { wire, job } = item;
  const { battery } = wire;
  const hand = nextHand(job, now);
  const overdue = hand !== null && urgencyOf(hand, now) === 'overdue';
  const hands = useHands();
  const ready = readyAt(job, now, hands);
  return (
    <li
      className={`${GRID} relative items-center border-b border-line py-1 [content-visibility:auto] [contain-intrinsic-height:auto_57px] ${job.state.status === 'refused' ? 'bg-oxide-pale/50' : overdue ? 'bg-ochre-pale/45' : ''}`}
    >
      <Link
        to={`/jobs/${wire.id}`}
        className="min-w-0 outline-none after:absolute after:inset-0 focus-visible:after:outline-3 focus-visible:after:outline-slate"
      >
        <b className="block font-label text-xl leading-tight font-semibold whitespace-nowrap">
          {battery.tag}
          {alike.length > 0 && (
            <span
              className="ml-1.5 rounded-sm bg-ink px-1.5 text-base text-sheet"
              title={alike.map((a) => a.wire.battery.tag).join(', ')}
            >
              +{alike.length}
              <span className="sr-only">
                {' '}
                of its tray stand alike: {alike.map((a) => a.wire.battery.tag).join(', ')}
              </span>
            </span>
          )}
        </b>
        <span
          className="block truncate text-[15px] text-soft"
          title={`${battery.modelCode}, ${battery.owner}`}
        >
          {battery.owner}
        </span>
      </Link>
      <span className="h-11 max-sm:hidden">
        {width > 0 && <PortStrip look={stripLook(job)} width={104} />}
      </span>
      <div className="relative max-sm:hidden" style={{ height: 44 }}>
        {width > 0 && (
          <>
            <Ribbon
              segments={timeline(job, now, hands)}
              span={span}
              width={width}
              now={now}
              promisedAt={battery.promisedAt}
              readyAt={ready}
              timeZone={rules.timeZone}
            />
            <span
              aria-hidden
              className="absolute -top-2 -bottom-2 w-0.5 bg-ember"
              style={{ left: nowX - 1 }}
            />
          </>
        )}
      </div>
      <Standing item={item} now={now} rules={rules} ready={ready} />
    </li>
  );
}

/** A moment in the little room of a row: the clock today, with the day of the week within a week, the date beyond. */
function shortMoment(at: number, now: number, timeZone: string): string {
  const said = formatMoment(at, now, timeZone);
  const [weekday, day, month, clock] = said.split(' ');
  if (!clock) return said;
  return at - now < 6 * 24 * HOUR_MS ? `${weekday} ${clock}` : `${day} ${month}`;
}

/** The number that matters now, and what it is. */
function Standing({
  item,
  now,
  rules,
  ready,
}: {
  item: BenchItem;
  now: number;
  rules: HouseRules;
  ready: number | null;
}) {
  const { state, plan } = item.job;
  const sample = useLiveSample(state.charge?.live?.chargeId);
  const lines = standing();
  return (
    <p className="flex items-center justify-end gap-2.5 text-right">
      <span className="min-w-0 text-[15px] leading-[1.2]">
        <span className={`block ${lines.alarm ? 'text-oxide' : 'text-soft'}`}>{lines.what}</span>
        {lines.then && <span className="block whitespace-nowrap">{lines.then}</span>}
      </span>
      <b
        className={`shrink-0 font-label text-[26px] leading-none font-semibold whitespace-nowrap ${lines.alarm ? 'text-oxide' : lines.live ? 'text-ember-ink' : ''}`}
      >
        {lines.number}
        {lines.unit && <small className="ml-1 text-sm font-medium text-soft">{lines.unit}</small>}
      </b>
    </p>
  );

  function standing(): {
    number: string;
    unit?: string;
    what: string;
    then?: string;
    alarm?: boolean;
    live?: boolean;
  } {
    const readyWords = ready === null ? '' : `ready ${shortMoment(ready, now, rules.timeZone)}`;
    if (state.status === 'refused') return { number: 'Refused', what: 'set aside', alarm: true };
    if (state.outcome)
      return {
        number:
          state.outcome === 'passed' && state.verdict?.restV
            ? state.verdict.restV.toFixed(2)
            : OUTCOME_WORDS[state.outcome],
        unit: state.verdict?.restV && state.outcome === 'passed' ? 'V' : '',
        what: OUTCOME_WORDS[state.outcome].toLowerCase(),
        then: state.closedAt ? formatMoment(state.closedAt, now, rules.timeZone) : '',
      };
    const { charge, current } = state;
    if (charge?.live && charge.mode !== 'ended') {
      const word =
        charge.mode === 'running'
          ? null
          : charge.resumesItself
            ? 'cooling, goes on by itself'
            : charge.why
              ? whyTitle(charge.why)
              : 'paused';
      const detail = sample
        ? `${sample.currentA.toFixed(2)} A · ${formatTemperature(sample.temperatureC, rules.temperatureUnit)}`
        : 'asking the charger';
      return {
        number: sample ? sample.voltageV.toFixed(2) : charge.setA.toFixed(1),
        unit: sample ? 'V' : 'A',
        what: word?.toLowerCase() ?? detail,
        then: readyWords,
        alarm: word !== null && !charge.resumesItself,
        live: charge.mode === 'running',
      };
    }
    if (charge && charge.mode !== 'ended') {
      const last = standingReadings(state, 'charge').at(-1);
      const stale =
        charge.mode === 'running' &&
        now - (last?.at ?? chargeStartedAt(charge)) > (READING_INTERVAL_S + GRACE_S) * 1000;
      const word =
        charge.mode === 'halted'
          ? 'stopped hot'
          : charge.mode === 'paused'
            ? 'paused, cooling'
            : stale
              ? `read ${formatDuration((now - (last?.at ?? chargeStartedAt(charge))) / 1000)} ago`
              : null;
      if (!last)
        return {
          number: charge.setA.toFixed(1),
          unit: 'A',
          what: word ?? 'set, not yet read',
          then: readyWords,
          alarm: word !== null,
        };
      const detail = `${last.values.currentA?.toFixed(2)} A · ${formatTemperature(last.values.temperatureC ?? 0, rules.temperatureUnit)}`;
      return {
        number: last.values.voltageV?.toFixed(2) ?? '',
        unit: 'V',
        what: word ?? detail,
        then: chargeStatus(item.job, now).progress.agrees ? 'charge is done' : readyWords,
        alarm: word !== null,
      };
    }
    if (state.status === 'with-lead')
      return {
        number: state.verdict?.restV?.toFixed(2) ?? 'Lead',
        unit: state.verdict?.restV ? 'V' : '',
        what: 'with the lead',
        alarm: true,
      };
    if (state.paused)
      return { number: 'Paused', what: state.paused.reason.slice(0, 40), then: readyWords };
    if (current?.dueAt && current.dueAt > now)
      return {
        number: formatDuration((current.dueAt - now) / 1000),
        what: 'to wait',
        then: readyWords,
      };
    const rest = standingReadings(state, 'rest').findLast((r) => r.attempt === state.attempt);
    if (rest)
      return {
        number: rest.values.voltageV?.toFixed(2) ?? '',
        unit: 'V',
        what: rest.marks.includes('early') ? 'early, not judged' : 'at rest',
        then: readyWords,
      };
    const arrival = standingReadings(state, 'arrival').at(-1);
    if (arrival)
      return {
        number: arrival.values.voltageV?.toFixed(2) ?? '',
        unit: 'V',
        what: 'as it came',
        then: readyWords,
      };
    const { fillMl } = plan.figures;
    return fillMl
      ? { number: fillMl.value.toFixed(0), unit: 'mL', what: plan.model.code, then: readyWords }
      : {
          number: plan.model.c20Ah.toFixed(0),
          unit: 'Ah',
          what: plan.model.code,
          then: readyWords,
        };
  }
}
