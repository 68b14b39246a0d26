import { figureIn } from '../../../core/quantities/shopUnits.ts';
import { memo } from 'react';
import { Link } from 'react-router';
import type { HandsAt } from '../../../core/house/hours.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { chargeStatus } from '../../../core/job/chargeStatus.ts';
import { GRACE_S } from '../../../core/job/hand.ts';
import { nextHand, urgencyOf } from '../../../core/watch/hands.ts';
import { standingReadings } from '../../../core/job/job.ts';
import { OUTCOME_WORDS } from '../../../core/job/outcome.ts';
import {
  formatDuration,
  formatMoment,
  formatTemperature,
  formatMomentShort,
} from '../../../core/quantities/format.ts';
import { PortStrip } from '../../drawings/PortStrip.tsx';
import { stripLook } from '../../drawings/portState.ts';
import { Ribbon, type TimeSpan } from '../../drawings/Ribbon.tsx';
import { type KnownPlan, plannedLife } from '../../line/planned.ts';
import { useLiveSample } from '../../line/queries.ts';
import type { BenchItem } from '../../line/benchItems.ts';
import { whyTitle } from '../../../core/job/why.ts';
import { showingText } from '../../../core/chargers/showingWords.ts';
import { lastShowing } from '../../../core/job/chargeShowing.ts';
import { leadsNowhere } from '../../../core/steps/stepsAhead.ts';

export const GRID =
  'grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 sm:grid-cols-[112px_104px_minmax(0,1fr)_210px] sm:gap-x-4';

interface RowProps {
  item: BenchItem;
  alike: BenchItem[];
  now: number;
  span: TimeSpan;
  width: number;
  nowX: number;
  rules: HouseRules;
  /** When somebody is at the bench. */
  hands: HandsAt;
  plan: KnownPlan;
}

/** Drawn again only when its battery, the quarter minute or the room it has changes. */
export const Row = memo(RowNow, (a, b) => {
  const { alike: before, ...rest } = a;
  return (
    Object.keys(rest).every((key) => a[key as keyof RowProps] === b[key as keyof RowProps]) &&
    before.length === b.alike.length &&
    before.every((item, i) => item === b.alike[i])
  );
});

function RowNow({ item, alike, now, span, width, nowX, rules, hands, plan }: RowProps) {
  const { wire, job } = item;
  const { battery } = wire;
  const hand = nextHand(job, now);
  const overdue = hand !== null && urgencyOf(hand, now) === 'overdue';
  const { segments, ready } = plannedLife(plan, hands, wire.id, job, now);
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
              segments={segments}
              span={span}
              width={width}
              now={now}
              promisedAt={battery.promisedAt}
              readyAt={ready}
              wall={rules}
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
    const readyWords = ready === null ? '' : `ready ${formatMomentShort(ready, now, rules)}`;
    if (leadsNowhere(item.job))
      return { number: 'No route', what: 'for the recycler', alarm: true };
    if (state.status === 'refused') return { number: 'Refused', what: 'set aside', alarm: true };
    if (state.outcome)
      return {
        number:
          state.outcome === 'passed' && state.verdict?.restV
            ? state.verdict.restV.toFixed(2)
            : OUTCOME_WORDS[state.outcome],
        unit: state.verdict?.restV && state.outcome === 'passed' ? 'V' : '',
        what: OUTCOME_WORDS[state.outcome].toLowerCase(),
        then: state.closedAt ? formatMoment(state.closedAt, now, rules) : '',
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
      const status = chargeStatus(item.job, now);
      const due = status.nextReadingAt;
      const stale = charge.mode === 'running' && due !== null && now > due + GRACE_S * 1000;
      const word =
        charge.mode === 'halted'
          ? 'stopped hot'
          : charge.mode === 'paused'
            ? charge.why?.by === 'charger'
              ? whyTitle(charge.why).toLowerCase()
              : 'paused, cooling'
            : stale
              ? `look due ${formatDuration((now - (due ?? now)) / 1000)} ago`
              : null;
      if (!last)
        return {
          number: charge.setA.toFixed(1),
          unit: 'A',
          what: word ?? showingNow(item) ?? 'set, not yet read',
          then: readyWords,
          alarm: word !== null,
        };
      const amps = last.values.currentA;
      const warmth = formatTemperature(last.values.temperatureC ?? 0, rules.temperatureUnit);
      const detail =
        showingNow(item) ?? (amps === undefined ? warmth : `${amps.toFixed(2)} A · ${warmth}`);
      return {
        number: last.values.voltageV?.toFixed(2) ?? '',
        unit: 'V',
        what: word ?? detail,
        then: status.progress.agrees ? 'charge is done' : readyWords,
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
        what: 'left to wait',
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
        what: 'on arrival',
        then: readyWords,
      };
    const { fillMl } = plan.figures;
    return fillMl
      ? { ...figureIn(fillMl, rules), what: plan.model.code, then: readyWords }
      : {
          number: `${plan.model.estimate ? '≈ ' : ''}${plan.model.c20Ah.toFixed(0)}`,
          unit: 'Ah',
          what: plan.model.code,
          then: readyWords,
        };
  }
}

export const HOUR_MS = 3_600_000;

/** What its charger showed last, where it shows lights; null before anybody looked. */
function showingNow({ job }: BenchItem): string | null {
  const showing = lastShowing(job)?.reading.showing;
  return showing ? showingText(showing) : null;
}
