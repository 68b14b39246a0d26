import { correctSg } from '../electrolyte/concentration.ts';
import { compensatedCeilingV } from './limits.ts';

/** One hand reading of a running charge. `at` in ms; V per battery, A, °C. */
export interface ChargeReading {
  at: number;
  voltageV: number;
  currentA: number;
  temperatureC: number;
  /** Of a cell, as read, where one was taken. */
  specificGravity?: number | undefined;
}

export interface ChargeTarget {
  cells: number;
  c20Ah: number;
  /** Charge ceiling at 25 °C, V per battery, and the current the charger is set to, A. */
  ceilingV: number;
  setA: number;
}

/** When readings say that a charge is finished. */
export interface FinishRules {
  /** Constant current: this many readings … */
  readings: number;
  /** … this far apart, s … */
  apartS: number;
  /** … within this many volts per cell of each other count as no longer rising. */
  flatVPerCell: number;
  /** Below this voltage per cell (25 °C) no full cell stands with current in it; and volts speak only while this share of the set current flows. */
  fullVPerCell: number;
  setShare: number;
  /** SG within this, corrected for its temperature, does as well. */
  flatSg: number;
  /** Constant voltage: below this share of C20, and fallen by no more than this share within the last hour. */
  tailC: number;
  tailFall: number;
  /** At the ceiling: within this of it, V per cell. */
  ceilingSlackVPerCell: number;
  /** Less than this share of C20 per hour is no current. */
  noCurrentC: number;
}

export const FINISH_RULES: Readonly<FinishRules> = {
  readings: 3,
  apartS: 3600,
  flatVPerCell: 0.005,
  fullVPerCell: 2.35,
  setShare: 0.85,
  flatSg: 0.003,
  tailC: 0.02,
  tailFall: 0.1,
  ceilingSlackVPerCell: 0.025,
  noCurrentC: 0.0002,
};

/** Readings taken a little early still count as an hour apart. */
const APART_SLACK_S = 5 * 60;
/** A meter of amperes shows no less than this. A */
const LEAST_SHOWN_A = 0.005;
/** Its last digit says nothing. A */
const METER_STEP_A = 0.01;

export interface ChargeProgress {
  agrees: boolean;
  by: 'flat' | 'tail' | 'sg' | 'light' | 'ceiling' | null;
  /** What the readings say, in one sentence: why it is finished, or what is missing, or what they point to. */
  sentence: string;
}

const volts = (v: number): string => `${v.toFixed(2)} V`;
const amps = (a: number): string => `${a.toFixed(2)} A`;

/**
 * Do the readings agree that the charge is finished?
 *
 * Constant current: three voltages an hour apart that no longer rise, at the set current and above the voltage
 * of full cells. Constant voltage: at the ceiling for the battery's temperature, below C/50, with the current no
 * longer falling. Or three SG readings that no longer rise. Nothing counts while no current flows.
 *
 * @param readings oldest first, taken while the charger was on
 */
export function chargeProgress(
  readings: readonly ChargeReading[],
  target: ChargeTarget,
  rules: FinishRules = FINISH_RULES,
): ChargeProgress {
  const last = readings.at(-1);
  if (!last) return not('No reading yet.');
  const { cells, c20Ah, setA } = target;
  const ceiling = compensatedCeilingV(target.ceilingV, cells, last.temperatureC);
  const slack = rules.ceilingSlackVPerCell * cells;
  const nearCeiling = ceiling - last.voltageV <= slack;
  if (last.currentA < Math.max(LEAST_SHOWN_A, rules.noCurrentC * c20Ah))
    return not(
      `${volts(last.voltageV)} but ${amps(last.currentA)}: no current flows. ${nearCeiling ? 'Check the charger clips' : 'Check that the charger is on and its clips hold'}, then enter the reading again.`,
    );

  const spaced = lastSpaced(readings, rules);
  const sgs = spaced.map((r) =>
    r.specificGravity === undefined ? undefined : correctSg(r.specificGravity, r.temperatureC),
  );
  if (
    spaced.length >= rules.readings &&
    sgs.every((sg) => sg !== undefined) &&
    Math.max(...sgs) - Math.min(...sgs) <= rules.flatSg
  )
    return yes(
      'sg',
      `Three SG readings an hour apart stay at ${(sgs.at(-1) as number).toFixed(3)}, corrected to 25 °C: no longer rising.`,
    );

  if (nearCeiling) return byTail(last, spaced, target, slack, rules);
  if (last.currentA < rules.setShare * setA && Math.abs(last.voltageV - target.ceilingV) <= slack)
    return not(
      `The charger holds ${volts(last.voltageV)}, and at ${last.temperatureC.toFixed(0)} °C the ceiling is ${volts(ceiling)}. Set it to that, and read again in an hour.`,
    );
  return byVolts(last, spaced, cells, setA, rules);
}

const yes = (by: 'flat' | 'tail' | 'sg', sentence: string): ChargeProgress => ({
  agrees: true,
  by,
  sentence,
});
const not = (sentence: string): ChargeProgress => ({ agrees: false, by: null, sentence });

function byTail(
  last: ChargeReading,
  spaced: readonly ChargeReading[],
  { cells, c20Ah, ceilingV }: ChargeTarget,
  slack: number,
  rules: FinishRules,
): ChargeProgress {
  const tailA = rules.tailC * c20Ah;
  if (last.currentA > tailA)
    return not(`At the ceiling; ${amps(last.currentA)} still flows, wait for ${amps(tailA)}.`);
  const before = spaced.at(-2);
  if (
    !before ||
    compensatedCeilingV(ceilingV, cells, before.temperatureC) - before.voltageV > slack
  )
    return not(
      `At the ceiling with ${amps(last.currentA)}. One more reading in an hour will show whether the current still falls.`,
    );
  if (before.currentA * (1 - rules.tailFall) > last.currentA + METER_STEP_A)
    return not(
      `From ${amps(before.currentA)} to ${amps(last.currentA)} within the last hour: it still takes charge. Read it again in an hour.`,
    );
  return yes(
    'tail',
    `At ${volts(last.voltageV)} the current has tailed off to ${amps(last.currentA)}, below ${amps(tailA)}, and no longer falls.`,
  );
}

function byVolts(
  last: ChargeReading,
  spaced: readonly ChargeReading[],
  cells: number,
  setA: number,
  rules: FinishRules,
): ChargeProgress {
  const missing = rules.readings - spaced.length;
  if (missing > 0)
    return not(
      `${missing === 1 ? 'One more reading' : `${missing} more readings`} an hour apart will show whether the volts still rise.`,
    );
  const rise = last.voltageV - (spaced[0] as ChargeReading).voltageV;
  if (Math.abs(rise) > rules.flatVPerCell * cells)
    return not(
      rise > 0
        ? `Still rising: ${volts(rise)} over the last three hourly readings.`
        : `Volts fell by ${volts(-rise)} over the last three hourly readings; look for heat or a short.`,
    );
  const fullV = compensatedCeilingV(rules.fullVPerCell * cells, cells, last.temperatureC);
  if (last.voltageV < fullV)
    return not(
      `${volts(last.voltageV)} three times, and full cells would stand above ${volts(fullV)} with current in them. One may be short: feel and measure each cell.`,
    );
  if (last.currentA < rules.setShare * setA)
    return not(
      `Volts stay at ${volts(last.voltageV)}, but only ${amps(last.currentA)} of the ${amps(setA)} set flows. Check the setting and the clips; the volts count at the set current.`,
    );
  return yes(
    'flat',
    `Three readings an hour apart stay at ${volts(last.voltageV)}: no longer rising.`,
  );
}

/** The latest readings about an hour apart, oldest first, at most three. */
function lastSpaced(readings: readonly ChargeReading[], rules: FinishRules): ChargeReading[] {
  const kept: ChargeReading[] = [];
  for (const reading of readings.toReversed()) {
    const later = kept[0];
    if (!later || (later.at - reading.at) / 1000 >= rules.apartS - APART_SLACK_S)
      kept.unshift(reading);
    if (kept.length === rules.readings) break;
  }
  return kept;
}

/** A stretch of time with current on; open while it still is. ms. */
export interface OnStretch {
  from: number;
  to: number | null;
}

/**
 * Ampere-hours put in, from hand readings: current is taken as linear between two readings and as
 * level before the first and after the last of a stretch. Time with current off counts nothing, and
 * neither does time after the newest reading of a stretch that still runs: nobody knows it yet.
 *
 * @param readings oldest first
 * @param on stretches with current on, oldest first
 */
export function ampereHoursIn(
  readings: readonly ChargeReading[],
  on: readonly OnStretch[],
): number {
  let milliampereHours = 0;
  for (const { from, to } of on) {
    const inside = readings.filter((r) => r.at >= from && (to === null || r.at <= to));
    const end = to ?? inside.at(-1)?.at ?? from;
    const level = inside[0]?.currentA ?? readings.findLast((r) => r.at < from)?.currentA ?? 0;
    let [at, amps] = [from, level];
    for (const next of [...inside, { at: end, currentA: inside.at(-1)?.currentA ?? level }]) {
      milliampereHours += ((amps + next.currentA) / 2) * ((next.at - at) / 3600);
      [at, amps] = [next.at, next.currentA];
    }
  }
  return milliampereHours / 1000;
}

/**
 * The moment at which current had been on for so long: where a course told in hours of charging stands
 * on the clock. After the last stretch it goes on from `now`, as if current came back at once.
 *
 * @returns ms since the epoch
 */
export function momentOfHoursOn(hours: number, on: readonly OnStretch[], now: number): number {
  let leftMs = hours * 3_600_000;
  for (const { from, to } of on) {
    if (to === null || leftMs <= to - from) return from + leftMs;
    leftMs -= to - from;
  }
  return now + leftMs;
}

/** Hours with current on up to `now`. */
export function hoursOn(on: readonly OnStretch[], now: number): number {
  return on.reduce((sum, { from, to }) => sum + ((to ?? now) - from), 0) / 3_600_000;
}
