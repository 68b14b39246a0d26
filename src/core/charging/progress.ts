import { correctSg } from '../electrolyte/concentration.ts';

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
  /** Charge ceiling at 25 °C, V per battery. */
  ceilingV: number;
}

/** When readings say that a charge is finished. */
export interface FinishRules {
  readings: number;
  apartS: number;
  flatVPerCell: number;
  flatSg: number;
  tailC: number;
  ceilingSlackVPerCell: number;
}

export const FINISH_RULES: Readonly<FinishRules> = {
  /** Constant current: this many readings … */
  readings: 3,
  /** … this far apart … */
  apartS: 3600,
  /** … within this many volts per cell of each other count as no longer rising. */
  flatVPerCell: 0.005,
  /** … and SG within this, corrected for warmth, does as well. */
  flatSg: 0.003,
  /** Constant voltage: the current has tailed off below this share of C20. */
  tailC: 0.02,
  /** At the ceiling: within this of it, V per cell. */
  ceilingSlackVPerCell: 0.02,
};

/** Readings taken a little early still count as an hour apart. */
const APART_SLACK_S = 5 * 60;

export interface ChargeProgress {
  agrees: boolean;
  by: 'flat' | 'tail' | 'sg' | null;
  /** What the readings say, in one sentence. */
  sentence: string;
}

/**
 * Do the readings agree that the charge is finished?
 *
 * Constant current: three voltages an hour apart that no longer rise. Constant voltage: at the
 * ceiling with the current below C/50. Either is enough; neither is a forecast.
 *
 * @param readings oldest first, taken while current flowed
 */
export function chargeProgress(readings: readonly ChargeReading[], target: ChargeTarget, rules: FinishRules = FINISH_RULES): ChargeProgress {
  const last = readings.at(-1);
  if (!last) return { agrees: false, by: null, sentence: 'No reading yet.' };

  const tailA = rules.tailC * target.c20Ah;
  const nearCeiling = target.ceilingV - last.voltageV <= rules.ceilingSlackVPerCell * target.cells;
  if (nearCeiling && last.currentA <= tailA) {
    return {
      agrees: true,
      by: 'tail',
      sentence: `At ${last.voltageV.toFixed(2)} V the current has tailed off to ${last.currentA.toFixed(2)} A, below ${tailA.toFixed(2)} A.`,
    };
  }

  const spaced = lastSpaced(readings, rules);
  const flatV = rules.flatVPerCell * target.cells;
  if (spaced.length >= rules.readings) {
    const rise = last.voltageV - (spaced[0] as ChargeReading).voltageV;
    if (Math.abs(rise) <= flatV) {
      return { agrees: true, by: 'flat', sentence: `Three readings an hour apart stay at ${last.voltageV.toFixed(2)} V: no longer rising.` };
    }
    const sgs = spaced.map((r) => (r.specificGravity === undefined ? undefined : correctSg(r.specificGravity, r.temperatureC)));
    if (sgs.every((sg) => sg !== undefined) && Math.max(...sgs) - Math.min(...sgs) <= rules.flatSg)
      return {
        agrees: true,
        by: 'sg',
        sentence: `Three SG readings an hour apart stay at ${(sgs.at(-1) as number).toFixed(3)}, corrected to 25 °C: no longer rising.`,
      };
    return {
      agrees: false,
      by: null,
      sentence:
        rise > 0
          ? `Still rising: ${rise.toFixed(2)} V over the last three hourly readings.`
          : `Volts fell by ${(-rise).toFixed(2)} V over the last three hourly readings; look for heat or a short.`,
    };
  }
  const missing = rules.readings - spaced.length;
  if (nearCeiling) return { agrees: false, by: null, sentence: `At the ceiling; ${last.currentA.toFixed(2)} A still flows, wait for ${tailA.toFixed(2)} A.` };
  return {
    agrees: false,
    by: null,
    sentence: `${missing === 1 ? 'One more reading' : `${missing} more readings`} an hour apart will show whether the volts still rise.`,
  };
}

/** The latest readings about an hour apart, oldest first, at most three. */
function lastSpaced(readings: readonly ChargeReading[], rules: FinishRules): ChargeReading[] {
  const kept: ChargeReading[] = [];
  for (const reading of readings.toReversed()) {
    const later = kept[0];
    if (!later || (later.at - reading.at) / 1000 >= rules.apartS - APART_SLACK_S) kept.unshift(reading);
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
export function ampereHoursIn(readings: readonly ChargeReading[], on: readonly OnStretch[]): number {
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
