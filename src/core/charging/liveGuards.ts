import { type GuardAction, type GuardKey } from './chargePlan.ts';
import type { FittedPlan, FittedStage } from './fitPlan.ts';
import { coolEnough } from './guards.ts';
import { type GuardLimits, guardLimitsOf } from './guardLimits.ts';
import { compensatedCeilingV, TEMPERATURE_LIMITS } from './limits.ts';
import { LEAST_FLOW_C, type PlanRun } from './runPlan.ts';

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
  const recent = [...kept.filter((s, i) => sample.atS - s.atS <= RECENT_S || i >= kept.length - RECENT_SAMPLES), sample];
  const flows = sample.askedA !== 0 && Math.abs(sample.currentA) > 0.02 * Math.abs(sample.askedA);
  const flowedS = flows ? sample.atS : (window.flowedS ?? sample.atS);
  const last = window.minutes.at(-1);
  if (last && sample.atS - last.atS < 60) return { recent, minutes: window.minutes, flowedS };
  return { recent, flowedS, minutes: [...window.minutes.filter((s) => sample.atS - s.atS <= MINUTES_S), sample] };
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

export interface Guard {
  key: GuardKey;
  title: string;
  /** What it usually does; a plan may say otherwise. */
  action: GuardAction;
  /** A sentence when it trips: what was seen, and what to do. */
  look: (window: GuardWindow, context: GuardContext, limits: GuardLimits) => string | null;
}

/** Silence of an instrument that is no longer excused, s. */
const SILENT_S = 10;
/** Identical to the last digit for so many samples: a live converter is never that still. */
const FROZEN_SAMPLES = 60;
const LEAD_OFF_S = 8;
const OVER_V_PER_CELL = 0.05;
/** … in so many samples in a row: a noisy reading is not a charger that does not hold its limit. */
const OVER_SAMPLES = 4;

const charging = (stage: FittedStage): boolean => stage.do !== 'rest' && stage.do !== 'discharge';

export const GUARDS: readonly Guard[] = [
  {
    key: 'hot',
    title: 'Hot',
    action: 'stop',
    look: ({ recent }, _, { temperature: { stopC } }) => {
      const t = recent.at(-1)?.temperatureC;
      return t !== undefined && t > stopC ? `${t.toFixed(1)} °C is above ${stopC} °C. Leave it alone until it is cold; suspect a short.` : null;
    },
  },
  {
    key: 'heating-fast',
    title: 'Heating fast',
    action: 'stop',
    look: ({ recent, minutes }, _, { temperature: { stopRiseC, stopRiseS } }) => {
      const last = recent.at(-1);
      if (!last) return null;
      const coolest = Math.min(...minutes.filter((s) => last.atS - s.atS <= stopRiseS).map((s) => s.temperatureC), last.temperatureC);
      const rise = last.temperatureC - coolest;
      return rise > stopRiseC ? `It warmed by ${rise.toFixed(1)} °C within half an hour. Suspect a short.` : null;
    },
  },
  {
    key: 'reversed',
    title: 'Reversed',
    action: 'stop',
    look: ({ recent }, { stage }) => {
      const last = recent.at(-1);
      return last && stage.do !== 'rest' && last.voltageV < -0.5 ? `${last.voltageV.toFixed(2)} V: plus and minus are swapped. Nothing more goes in.` : null;
    },
  },
  {
    key: 'over-volts',
    title: 'Over the ceiling',
    action: 'stop',
    look: ({ recent }, { plan, stage }) => {
      const last = recent.at(-1);
      const newest = recent.slice(-OVER_SAMPLES);
      if (!last || newest.length < OVER_SAMPLES || !charging(stage)) return null;
      const most = compensatedCeilingV(stage.limitV, plan.battery.cells, last.temperatureC) + OVER_V_PER_CELL * plan.battery.cells;
      return newest.every((s) => s.voltageV > most && s.askedA > 0)
        ? `${last.voltageV.toFixed(2)} V is above ${most.toFixed(2)} V, the ceiling and its slack. The charger does not hold its limit.`
        : null;
    },
  },
  {
    key: 'silent',
    title: 'Silent instrument',
    action: 'ask',
    look: ({ recent }, { nowS, everyS }) => {
      const last = recent.at(-1);
      const silence = nowS - (last?.atS ?? 0);
      return silence > Math.max(SILENT_S, 4 * everyS)
        ? `No answer from the instrument for ${silence.toFixed(0)} s. Its own watchdog switches the output off.`
        : null;
    },
  },
  {
    key: 'frozen-reading',
    title: 'Frozen reading',
    action: 'ask',
    look: ({ recent }) => {
      const last = recent.slice(-FROZEN_SAMPLES);
      const first = last[0];
      if (!first || last.length < FROZEN_SAMPLES || first.askedA === 0) return null;
      const same = last.every(
        (s) => s.voltageV === first.voltageV && s.currentA === first.currentA && s.temperatureC === first.temperatureC && s.askedA === first.askedA,
      );
      return same ? `${FROZEN_SAMPLES} readings in a row are the same to the last digit. The instrument shows an old value; measure by hand.` : null;
    },
  },
  {
    key: 'no-current',
    title: 'No current',
    action: 'ask',
    look: ({ recent, flowedS }, { plan, stage, everyS }) => {
      const last = recent.at(-1);
      if (!last || stage.do === 'rest') return null;
      if (stage.do === 'pulse') {
        // Looks too far apart to see every burst say nothing about them.
        const quietS = last.atS - (flowedS ?? last.atS);
        if (everyS > stage.onS / 2 || quietS <= 1.5 * (stage.onS + stage.offS) + LEAD_OFF_S) return null;
        return `No burst for ${quietS.toFixed(0)} s; one of ${stage.currentA.toFixed(1)} A was due every ${stage.onS + stage.offS} s. A lead is off, or a joint is open.`;
      }
      const offS = Math.max(LEAD_OFF_S, 5 * everyS);
      const on = recent.filter((s) => s.askedA !== 0);
      const tail = on.filter((s) => last.atS - s.atS <= offS);
      const least = LEAST_FLOW_C * plan.battery.c20Ah;
      if (tail.length < 4 || (tail[0]?.atS ?? last.atS) > last.atS - 0.7 * offS || !tail.every((s) => Math.abs(s.currentA) <= least)) return null;
      // A long tail may reach next to nothing by itself; it gets there slowly.
      const earlier = on.filter((s) => s.atS < (tail[0]?.atS ?? 0)).map((s) => Math.abs(s.currentA));
      // One that comes off a higher ceiling stands above its float for hours and takes nothing; what it did before says nothing.
      const floats = stage.do === 'float' ? compensatedCeilingV(stage.limitV, plan.battery.cells, last.temperatureC) + 0.01 * plan.battery.cells : Infinity;
      const flowed = on.filter((s) => s.atS < (tail[0]?.atS ?? 0) && s.voltageV <= floats).some((s) => Math.abs(s.currentA) >= 3 * least);
      const steady = stage.do === 'float' ? !flowed : earlier.length > 0 && Math.max(...earlier) < 3 * least && charging(stage) && stage.do !== 'current';
      return steady ? null : `Next to no current flows of the ${Math.abs(last.askedA).toFixed(1)} A asked for. A lead is off, or a joint is open.`;
    },
  },
  {
    key: 'no-rise',
    title: 'Current but no rise',
    action: 'stop',
    look: ({ minutes }, { plan, stage, run }, { noRise }) => {
      if (stage.do !== 'current') return null;
      const { c20Ah, cells } = plan.battery;
      const last = minutes.at(-1);
      if (!last || last.voltageV >= noRise.belowPerCell * cells) return null;
      if (run.stageAh >= noRise.missingShare * c20Ah && last.currentA > 0.5 * stage.currentA && last.voltageV < noRise.missingPerCell * cells)
        return `${run.stageAh.toFixed(1)} Ah went in and it stands at ${last.voltageV.toFixed(2)} V, lower than any sound cells with current in them. Suspect a shorted cell: feel each one.`;
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
      const fell = minutes.some((s) => s.askedA > 0 && s.voltageV > highest + noRise.withinPerCell * cells);
      if (ah < noRise.share * c20Ah || fell || highest - lowest > noRise.withinPerCell * cells) return null;
      return `${ah.toFixed(1)} Ah went in and the volts did not rise (${lowest.toFixed(2)} to ${highest.toFixed(2)} V). Suspect a shorted cell: feel each one.`;
    },
  },
  {
    key: 'low-plateau',
    title: 'Low by a cell',
    action: 'ask',
    look: ({ minutes }, { plan, stage, run, missingAh }, { plateau }) => {
      if (stage.do !== 'current' || run.flatS < plateau.s) return null;
      const last = minutes.at(-1);
      if (!last || last.currentA < plateau.cRate * plan.battery.c20Ah) return null;
      if (run.ahIn < plateau.missing * (missingAh ?? plan.battery.c20Ah)) return null;
      const short = compensatedCeilingV(stage.limitV, plan.battery.cells, last.temperatureC) - last.voltageV;
      return short >= plateau.leastShortV && short <= plateau.mostShortV
        ? `It stays at ${last.voltageV.toFixed(2)} V, ${short.toFixed(1)} V short of its ceiling, with its charge back in. One cell is not taking part: measure each.`
        : null;
    },
  },
  {
    key: 'gassing-early',
    title: 'Gassing early',
    action: 'ask',
    look: ({ minutes }, { plan, stage, run, missingAh }, { gassingEarly, gassingDeep }) => {
      const last = minutes.at(-1);
      const { c20Ah, cells } = plan.battery;
      if (!last || missingAh === null || missingAh < gassingEarly.missing * c20Ah) return null;
      const deep = Math.min(1, Math.max(0, (missingAh / c20Ah - gassingDeep.from) / (gassingDeep.missing - gassingDeep.from)));
      if (run.ahIn >= (gassingEarly.share + deep * (gassingDeep.share - gassingEarly.share)) * missingAh) return null;
      if (stage.do !== 'current' && stage.do !== 'voltage') return null;
      const hour = minutes.filter((s) => last.atS - s.atS <= gassingEarly.overS);
      if (last.atS - (hour[0]?.atS ?? last.atS) < 0.97 * gassingEarly.overS) return null;
      const above = hour.every((s) => s.askedA > 0 && s.voltageV >= compensatedCeilingV(gassingEarly.perCell * cells, cells, s.temperatureC));
      return above
        ? `${last.voltageV.toFixed(2)} V for ${Math.round(gassingEarly.overS / 60)} min after only ${run.ahIn.toFixed(1)} of about ${missingAh.toFixed(0)} Ah. It is nearly full, or sulfated: look again, or take a slow restore.`
        : null;
    },
  },
  {
    key: 'warm',
    title: 'Warm',
    action: 'pause',
    look: ({ recent }, { ambientC }, { temperature: { pauseC, pauseAboveAmbientC } }) => {
      const t = recent.at(-1)?.temperatureC;
      if (t === undefined || (t <= pauseC && t - ambientC <= pauseAboveAmbientC)) return null;
      return `${t.toFixed(1)} °C is ${t > pauseC ? `above ${pauseC} °C` : `${(t - ambientC).toFixed(1)} °C over the room`}. It goes on by itself when it has cooled.`;
    },
  },
  {
    key: 'over-time',
    title: 'Over time',
    action: 'ask',
    look: (_, { plan, run }) =>
      run.totalS > plan.mostS
        ? `It has run for ${(run.totalS / 3600).toFixed(0)} h, longer than the plan's ${(plan.mostS / 3600).toFixed(0)} h, and is not done.`
        : null,
  },
];

export interface LiveTrip {
  key: GuardKey;
  title: string;
  action: GuardAction;
  sentence: string;
}

const WORST_FIRST: Readonly<Record<GuardAction, number>> = { stop: 0, ask: 1, pause: 2 };

/** Asks every guard; the worst answer, or null when all are content. */
export function watch(window: GuardWindow, context: GuardContext): LiveTrip | null {
  const limits = guardLimitsOf(context.plan);
  let worst: LiveTrip | null = null;
  for (const { key, title, action, look } of GUARDS) {
    const sentence = look(window, context, limits);
    if (!sentence) continue;
    const trip = { key, title, action: context.plan.guards[key] ?? action, sentence };
    if (!worst || WORST_FIRST[trip.action] < WORST_FIRST[worst.action]) worst = trip;
  }
  return worst;
}

/** May a charge that paused because it was warm go on by itself? */
export function mayResume(temperatureC: number, ambientC: number, plan: FittedPlan): boolean {
  return coolEnough(temperatureC, ambientC, guardLimitsOf(plan).temperature);
}

/** What the check before any current says: null when it may flow, else why not. */
export function refusesToStart(
  measured: { voltageV: number; temperatureC: number },
  battery: { cells: number },
  charger: { leastStartV: number },
): { why: 'open' | 'reversed' | 'low' | 'wrong-volts' | 'warm' | 'frozen'; sentence: string } | null {
  const { voltageV, temperatureC } = measured;
  const { cells } = battery;
  if (voltageV < -0.5)
    return {
      why: 'reversed',
      sentence: `The clips read ${voltageV.toFixed(2)} V: plus and minus are swapped, or the battery is reversed. Nothing was switched on.`,
    };
  if (voltageV < 0.3)
    return { why: 'open', sentence: `The clips read ${voltageV.toFixed(2)} V: no battery on them, or an open one. Check both clips; measure at the posts.` };
  if (voltageV > 2.6 * cells)
    return {
      why: 'wrong-volts',
      sentence: `The clips read ${voltageV.toFixed(2)} V, too much for a ${2 * cells} V battery. This is another battery than the job's.`,
    };
  if (voltageV < charger.leastStartV)
    return {
      why: 'low',
      sentence: `${voltageV.toFixed(2)} V is below the ${charger.leastStartV.toFixed(1)} V this charger starts from. It needs waking first.`,
    };
  if (cells >= 6 && voltageV < 1.17 * cells && voltageV > 0.93 * cells)
    return {
      why: 'wrong-volts',
      sentence: `The clips read ${voltageV.toFixed(2)} V. That is a full battery of half the voltage, or a 12 V battery of which half has failed: make sure which.`,
    };
  if (temperatureC > TEMPERATURE_LIMITS.pauseC)
    return { why: 'warm', sentence: `It is at ${temperatureC.toFixed(0)} °C already. Let it cool below ${TEMPERATURE_LIMITS.pauseC - 5} °C first.` };
  if (temperatureC < 0) return { why: 'frozen', sentence: `It is at ${temperatureC.toFixed(0)} °C. Flat acid may be frozen: bring it into the warm first.` };
  return null;
}
