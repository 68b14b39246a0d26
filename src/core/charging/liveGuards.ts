import { type GuardAction, type GuardKey } from './chargePlan.ts';
import type { FittedPlan, FittedStage } from './fitPlan.ts';
import { coolEnough } from './guards.ts';
import { type GuardLimits, guardLimitsOf } from './guardLimits.ts';
import { compensatedCeilingV, TEMPERATURE_LIMITS, CEILING_SLACK_V } from './limits.ts';
import { LEAST_FLOW_C, type PlanRun } from './runPlan.ts';
import { type Trip, trip, type TripFigures } from './trips.ts';

/** A sample as the guards see it: what was measured, when (s since the charge began), and what had been asked for. */
export interface GuardSample {
  atS: number;
  voltageV: number;
  currentA: number;
  temperatureC: number;
  /** Current asked of the instrument; 0 while off, resting, or between bursts. */
  askedA: number;
}

/** A bounded memory: every sample of the last two minutes and at least the last sixty, and one a minute for three hours. */
export interface GuardWindow {
  recent: readonly GuardSample[];
  minutes: readonly GuardSample[];
  /** When current was last seen to flow while it was asked for; the first sample's moment until then. s */
  flowedS: number | null;
}

export const EMPTY_WINDOW: GuardWindow = { recent: [], minutes: [], flowedS: null };
const RECENT_S = 120;
const RECENT_SAMPLES = 60;
const MINUTES_S = 3 * 3600;

export function remember(window: GuardWindow, sample: GuardSample): GuardWindow {
  const kept = window.recent;
  const recent = [
    ...kept.filter((s, i) => sample.atS - s.atS <= RECENT_S || i >= kept.length - RECENT_SAMPLES),
    sample,
  ];
  const flows = sample.askedA !== 0 && Math.abs(sample.currentA) > 0.02 * Math.abs(sample.askedA);
  const flowedS = flows ? sample.atS : (window.flowedS ?? sample.atS);
  const last = window.minutes.at(-1);
  if (last && sample.atS - last.atS < 60) return { recent, minutes: window.minutes, flowedS };
  return {
    recent,
    flowedS,
    minutes: [...window.minutes.filter((s) => sample.atS - s.atS <= MINUTES_S), sample],
  };
}

/** What the guards need to know beside the samples. */
export interface GuardContext {
  plan: FittedPlan;
  stage: FittedStage;
  run: PlanRun;
  ambientC: number;
  /** Charge that was missing when the plan began, Ah, as far as known. */
  missingAh: number | null;
  /** Now, s since the charge began: later than the newest sample when the instrument is silent. */
  nowS: number;
  /** Usual spacing of the samples, s: 1 on the bench; more where bench time runs fast. */
  everyS: number;
}

export interface Guard<K extends GuardKey = GuardKey> {
  key: K;
  /** What it usually does; a plan may say otherwise. */
  action: GuardAction;
  /** What was seen when it trips. */
  look: (window: GuardWindow, context: GuardContext, limits: GuardLimits) => TripFigures[K] | null;
}

/** Writes a guard; the compiler sees to it that it tells the figures of its key. */
const guard = <K extends GuardKey>(written: Guard<K>): Guard => written;

/** Silence of an instrument that is no longer excused, s. */
const SILENT_S = 10;
/** Identical to the last digit for so many samples: a live converter is never that still. */
const FROZEN_SAMPLES = 60;
const LEAD_OFF_S = 8;
/** … in so many samples in a row: a noisy reading is not a charger that does not hold its limit. */
const OVER_SAMPLES = 4;

const charging = (stage: FittedStage): boolean => stage.do !== 'rest' && stage.do !== 'discharge';

export const GUARDS: readonly Guard[] = [
  guard({
    key: 'hot',
    action: 'stop',
    look: ({ recent }, _, { temperature: { stopC } }) => {
      const t = recent.at(-1)?.temperatureC;
      return t !== undefined && t > stopC ? { temperatureC: t, limitC: stopC } : null;
    },
  }),
  guard({
    key: 'heating-fast',
    action: 'stop',
    look: ({ recent, minutes }, _, { temperature: { stopRiseC, stopRiseS } }) => {
      const last = recent.at(-1);
      if (!last) return null;
      const coolest = Math.min(
        ...minutes.filter((s) => last.atS - s.atS <= stopRiseS).map((s) => s.temperatureC),
        last.temperatureC,
      );
      const rise = last.temperatureC - coolest;
      return rise > stopRiseC ? { riseC: rise } : null;
    },
  }),
  guard({
    key: 'reversed',
    action: 'stop',
    look: ({ recent }, { stage }) => {
      const last = recent.at(-1);
      return last && stage.do !== 'rest' && last.voltageV < -0.5
        ? { voltageV: last.voltageV }
        : null;
    },
  }),
  guard({
    key: 'over-volts',
    action: 'stop',
    look: ({ recent }, { plan, stage }) => {
      const last = recent.at(-1);
      const newest = recent.slice(-OVER_SAMPLES);
      if (!last || newest.length < OVER_SAMPLES || !charging(stage)) return null;
      const most =
        compensatedCeilingV(stage.limitV, plan.battery.cells, last.temperatureC) +
        CEILING_SLACK_V * plan.battery.cells;
      return newest.every((s) => s.voltageV > most && s.askedA > 0)
        ? { voltageV: last.voltageV, mostV: most }
        : null;
    },
  }),
  guard({
    key: 'silent',
    action: 'ask',
    look: ({ recent }, { nowS, everyS }) => {
      const last = recent.at(-1);
      const silence = nowS - (last?.atS ?? 0);
      return silence > Math.max(SILENT_S, 4 * everyS) ? { silentS: silence } : null;
    },
  }),
  guard({
    key: 'frozen-reading',
    action: 'ask',
    look: ({ recent }) => {
      const last = recent.slice(-FROZEN_SAMPLES);
      const first = last[0];
      if (!first || last.length < FROZEN_SAMPLES || first.askedA === 0) return null;
      const same = last.every(
        (s) =>
          s.voltageV === first.voltageV &&
          s.currentA === first.currentA &&
          s.temperatureC === first.temperatureC &&
          s.askedA === first.askedA,
      );
      return same ? { readings: FROZEN_SAMPLES } : null;
    },
  }),
  guard({
    key: 'no-current',
    action: 'ask',
    look: ({ recent, flowedS }, { plan, stage, everyS }) => {
      const last = recent.at(-1);
      if (!last || stage.do === 'rest') return null;
      if (stage.do === 'pulse') {
        // Looks too far apart to see every burst say nothing about them.
        const quietS = last.atS - (flowedS ?? last.atS);
        if (everyS > stage.onS / 2 || quietS <= 1.5 * (stage.onS + stage.offS) + LEAD_OFF_S)
          return null;
        return { askedA: stage.currentA, burst: { quietS, everyS: stage.onS + stage.offS } };
      }
      const offS = Math.max(LEAD_OFF_S, 5 * everyS);
      const on = recent.filter((s) => s.askedA !== 0);
      const tail = on.filter((s) => last.atS - s.atS <= offS);
      const least = LEAST_FLOW_C * plan.battery.c20Ah;
      if (
        tail.length < 4 ||
        (tail[0]?.atS ?? last.atS) > last.atS - 0.7 * offS ||
        !tail.every((s) => Math.abs(s.currentA) <= least)
      )
        return null;
      // A long tail may reach next to nothing by itself; it gets there slowly.
      const earlier = on
        .filter((s) => s.atS < (tail[0]?.atS ?? 0))
        .map((s) => Math.abs(s.currentA));
      // One that comes off a higher ceiling stands above its float for hours and takes nothing; what it did before says nothing.
      const floats =
        stage.do === 'float'
          ? compensatedCeilingV(stage.limitV, plan.battery.cells, last.temperatureC) +
            0.01 * plan.battery.cells
          : Infinity;
      const flowed = on
        .filter((s) => s.atS < (tail[0]?.atS ?? 0) && s.voltageV <= floats)
        .some((s) => Math.abs(s.currentA) >= 3 * least);
      const steady =
        stage.do === 'float'
          ? !flowed
          : earlier.length > 0 &&
            Math.max(...earlier) < 3 * least &&
            charging(stage) &&
            stage.do !== 'current';
      return steady ? null : { askedA: Math.abs(last.askedA) };
    },
  }),
  guard({
    key: 'no-rise',
    action: 'stop',
    look: ({ minutes }, { plan, stage, run }, { noRise }) => {
      if (stage.do !== 'current') return null;
      const { c20Ah, cells } = plan.battery;
      const last = minutes.at(-1);
      if (!last || last.voltageV >= noRise.belowPerCell * cells) return null;
      if (
        run.stageAh >= noRise.missingShare * c20Ah &&
        last.currentA > 0.5 * stage.currentA &&
        last.voltageV < noRise.missingPerCell * cells
      )
        return { ah: run.stageAh, standsV: last.voltageV };
      let ah = 0;
      let [lowest, highest] = [last.voltageV, last.voltageV];
      for (let i = minutes.length - 1; i > 0 && ah < noRise.share * c20Ah; i--) {
        const [a, b] = [minutes[i - 1] as GuardSample, minutes[i] as GuardSample];
        if (a.askedA !== b.askedA || a.askedA <= 0) break;
        ah += ((a.currentA + b.currentA) / 2) * ((b.atS - a.atS) / 3600);
        lowest = Math.min(lowest, a.voltageV);
        highest = Math.max(highest, a.voltageV);
      }
      // A sulfated battery starts high, falls and then rises: that is its sulfate, not a short.
      const fell = minutes.some(
        (s) => s.askedA > 0 && s.voltageV > highest + noRise.withinPerCell * cells,
      );
      if (ah < noRise.share * c20Ah || fell || highest - lowest > noRise.withinPerCell * cells)
        return null;
      return { ah, lowestV: lowest, highestV: highest };
    },
  }),
  guard({
    key: 'low-plateau',
    action: 'ask',
    look: ({ minutes }, { plan, stage, run, missingAh }, { plateau }) => {
      if (stage.do !== 'current' || run.flatS < plateau.s) return null;
      const last = minutes.at(-1);
      if (!last || last.currentA < plateau.cRate * plan.battery.c20Ah) return null;
      if (run.ahIn < plateau.missing * (missingAh ?? plan.battery.c20Ah)) return null;
      const short =
        compensatedCeilingV(stage.limitV, plan.battery.cells, last.temperatureC) - last.voltageV;
      return short >= plateau.leastShortV && short <= plateau.mostShortV
        ? { voltageV: last.voltageV, shortV: short }
        : null;
    },
  }),
  guard({
    key: 'gassing-early',
    action: 'ask',
    look: ({ minutes }, { plan, stage, run, missingAh }, { gassingEarly, gassingDeep }) => {
      const last = minutes.at(-1);
      const { c20Ah, cells } = plan.battery;
      if (!last || missingAh === null || missingAh < gassingEarly.missing * c20Ah) return null;
      const deep = Math.min(
        1,
        Math.max(
          0,
          (missingAh / c20Ah - gassingDeep.from) / (gassingDeep.missing - gassingDeep.from),
        ),
      );
      if (
        run.ahIn >=
        (gassingEarly.share + deep * (gassingDeep.share - gassingEarly.share)) * missingAh
      )
        return null;
      if (stage.do !== 'current' && stage.do !== 'voltage') return null;
      const hour = minutes.filter((s) => last.atS - s.atS <= gassingEarly.overS);
      if (last.atS - (hour[0]?.atS ?? last.atS) < 0.97 * gassingEarly.overS) return null;
      const above = hour.every(
        (s) =>
          s.askedA > 0 &&
          s.voltageV >= compensatedCeilingV(gassingEarly.perCell * cells, cells, s.temperatureC),
      );
      return above
        ? { voltageV: last.voltageV, forS: gassingEarly.overS, ah: run.ahIn, missingAh }
        : null;
    },
  }),
  guard({
    key: 'warm',
    action: 'pause',
    look: ({ recent }, { ambientC }, { temperature: { pauseC, pauseAboveAmbientC } }) => {
      const t = recent.at(-1)?.temperatureC;
      if (t === undefined || (t <= pauseC && t - ambientC <= pauseAboveAmbientC)) return null;
      return {
        temperatureC: t,
        ...(t > pauseC ? { limitC: pauseC } : { overRoomC: t - ambientC }),
      };
    },
  }),
  guard({
    key: 'over-time',
    action: 'ask',
    look: (_, { plan, run }) =>
      run.totalS > plan.mostS ? { ranS: run.totalS, plannedS: plan.mostS } : null,
  }),
];

/** A guard that has tripped, and what it does. */
export type LiveTrip = Trip & { action: GuardAction };

const WORST_FIRST: Readonly<Record<GuardAction, number>> = { stop: 0, ask: 1, pause: 2 };

/** Asks every guard; the worst answer, or null when all are content. */
export function watch(window: GuardWindow, context: GuardContext): LiveTrip | null {
  const limits = guardLimitsOf(context.plan);
  let worst: LiveTrip | null = null;
  for (const { key, action, look } of GUARDS) {
    const figures = look(window, context, limits);
    if (!figures) continue;
    const tripped = { ...trip(key, figures), action: context.plan.guards[key] ?? action };
    if (!worst || WORST_FIRST[tripped.action] < WORST_FIRST[worst.action]) worst = tripped;
  }
  return worst;
}

/** May a charge that paused because it was warm go on by itself? */
export function mayResume(temperatureC: number, ambientC: number, plan: FittedPlan): boolean {
  return coolEnough(temperatureC, ambientC, guardLimitsOf(plan).temperature);
}

/** What the check before any current says: null when it may flow, else why not. */
export function refusesToStart(
  { voltageV, temperatureC }: { voltageV: number; temperatureC: number },
  { cells }: { cells: number },
  { leastStartV }: { leastStartV: number },
): Trip | null {
  if (voltageV < -0.5) return trip('clips-reversed', { voltageV });
  if (voltageV < 0.3) return trip('clips-open', { voltageV });
  if (voltageV > 2.6 * cells) return trip('clips-too-much', { voltageV, nominalV: 2 * cells });
  if (voltageV < leastStartV) return trip('clips-low', { voltageV, startsV: leastStartV });
  if (cells >= 6 && voltageV < 1.17 * cells && voltageV > 0.93 * cells)
    return trip('clips-half', { voltageV });
  if (temperatureC > TEMPERATURE_LIMITS.pauseC)
    return trip('clips-warm', { temperatureC, coolC: TEMPERATURE_LIMITS.pauseC - 5 });
  return temperatureC < 0 ? trip('clips-frozen', { temperatureC }) : null;
}
