import { memo, useMemo, useState } from 'react';
import type { HandsAt } from '../../../core/house/hours.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { hourMarks, type TimeSpan } from '../../drawings/Ribbon.tsx';
import { useWidth } from '../../drawings/useWidth.ts';
import { device } from '../../line/device.ts';
import type { BenchItem } from '../../line/benchItems.ts';
import { useWhole } from '../../line/whole.ts';
import type { KnownPlan } from '../../line/planned.ts';
import { GRID, Row, HOUR_MS } from './BenchRow.tsx';
const RANGES = {
  shift: { name: 'Shift', back: 4, ahead: 8 },
  day: { name: 'Day', back: 12, ahead: 24 },
  week: { name: 'Week', back: 48, ahead: 120 },
} as const;
type RangeKey = keyof typeof RANGES;
const RANGE_KEY = 'cork-ember.range';
/** Rows of the first drawing. */
const AT_FIRST = 4;

interface Props {
  open: readonly BenchItem[];
  ended: readonly BenchItem[];
  now: number;
  rules: HouseRules;
  hands: HandsAt;
  plan: KnownPlan;
}

/** Every battery in process, all ribbons on one axis with one now line through them. */
export const BenchRows = memo(AllRows);

function AllRows({ open, ended, now, rules, hands, plan }: Props) {
  const [range, setRange] = useState<RangeKey>(
    () => (device.getItem(RANGE_KEY) as RangeKey | null) ?? 'shift',
  );
  const [ref, width] = useWidth({ keepsItsHeight: true });
  const { back, ahead } = RANGES[range] ?? RANGES.shift;
  const span = useMemo<TimeSpan>(
    () => ({ from: now - back * HOUR_MS, to: now + ahead * HOUR_MS }),
    [now, back, ahead],
  );
  const nowX = (back / (back + ahead)) * width;
  const choose = (next: string) => {
    if (!(next in RANGES)) return;
    device.setItem(RANGE_KEY, next);
    setRange(next as RangeKey);
  };
  const rows = [...collapseTrays(open), ...collapseTrays(ended)];
  // What is below the fold of a first visit is drawn a moment later, so that the first rows need not wait for it.
  const whole = useWhole();

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
            {hourMarks(span, width, rules).map((m) => {
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
        {(whole ? rows : rows.slice(0, AT_FIRST)).map(({ item, alike }) => (
          <Row
            key={item.wire.id}
            item={item}
            alike={alike}
            now={now}
            span={span}
            width={width}
            nowX={nowX}
            rules={rules}
            hands={hands}
            plan={plan}
          />
        ))}
      </ol>
    </>
  );
}

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
