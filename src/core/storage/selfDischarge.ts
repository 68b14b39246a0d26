import type { Chemistry } from '../batteries/chemistry.ts';
import type { LeadAcidKind } from '../batteries/kinds.ts';
import { restVoltageAtCharge, stateOfChargePercent } from '../capacity/stateOfCharge.ts';

/** Days in the month that self-discharge rates are printed for. */
const MONTH_DAYS = 30.4;
const DAY_MS = 86_400_000;

/** Half the width of what is believed of a printed rate: antimony alone spans 8 % new to 30 % old. Log-normal, one deviation. */
const RATE_OFF = 0.45;
/** A rest voltage is good for this much of the charge, one deviation. */
const MEASURED_OFF = 4;

/**
 * Share of its charge a standing battery loses in a day.
 *
 * Self-discharge doubles every 10 °C from its usual rate at 20 °C.
 *
 * @param temperatureC of the shelf
 * @returns 1/day, of what is left
 */
export function lossPerDay(
  kind: Pick<LeadAcidKind, 'selfDischargePerMonth'>,
  temperatureC: number,
): number {
  return (-Math.log(1 - kind.selfDischargePerMonth) / MONTH_DAYS) * 2 ** ((temperatureC - 20) / 10);
}

/** A rest voltage read on the shelf, or at the end of the charge that put it there. `at` in ms. */
export interface ShelfReading {
  at: number;
  voltageV: number;
}

export interface Between {
  low: number;
  mid: number;
  high: number;
}

/** What a battery on the shelf holds at a moment, with the middle 80 % of what is believed. */
export interface ShelfForecast {
  percent: Between;
  /** V per battery at 25 °C. */
  volts: Between;
  /** Loss per month at the shelf's temperature as these readings tell it, share of what is left. */
  lossPerMonth: number;
  /** Readings that the rate was learnt from. */
  learntFrom: number;
}

/** Where a kind stands on the shelf. */
export interface ShelfPlace {
  kind: LeadAcidKind;
  chemistry: Chemistry;
  cells: number;
  temperatureC: number;
}

const Z80 = 1.2816;
const STEPS = 81;

/** What is believed of a standing battery, learnt once from its readings; asked for any moment. */
export interface ShelfCourse {
  (at: number): ShelfForecast;
  /** The middle of its charge alone, %: for looking ahead day by day. */
  middle(at: number): number;
}

/**
 * Charge and rest voltage of a standing battery over time, learnt from its own readings.
 *
 * The rate is taken as log-normal about the kind's usual one; each reading after the first weighs it by
 * how well it explains what was read. The charge decays exponentially from the first reading.
 *
 * @param readings since its last charge, at least one, any order
 * @returns the forecast as a function of the moment, ms
 * @throws Error without a reading
 */
export function shelfCourse(place: ShelfPlace, readings: readonly ShelfReading[]): ShelfCourse {
  const ordered = [...readings].sort((a, b) => a.at - b.at);
  const [first] = ordered;
  if (!first) throw new Error('A forecast needs a first rest voltage.');
  const { kind, chemistry, cells, temperatureC } = place;
  const percentOf = (v: number) => stateOfChargePercent(v, cells, chemistry);
  const volts = (p: number) => restVoltageAtCharge(p, cells, chemistry);
  const usual = lossPerDay(kind, temperatureC);
  const start = percentOf(first.voltageV);
  const later = ordered
    .slice(1)
    .map((r) => ({ days: (r.at - first.at) / DAY_MS, percent: percentOf(r.voltageV) }))
    .filter((r) => r.days > 1);

  const rates = new Float64Array(STEPS);
  const weights = new Float64Array(STEPS);
  let total = 0;
  let meanRate = 0;
  for (let i = 0; i < STEPS; i++) {
    const z = -3 + (6 * i) / (STEPS - 1);
    const rate = usual * Math.exp(RATE_OFF * z);
    let misfit = 0;
    for (const { percent, days } of later)
      misfit += ((percent - start * Math.exp(-rate * days)) / (MEASURED_OFF * Math.SQRT2)) ** 2;
    const weight = Math.exp(-0.5 * (z * z + misfit));
    rates[i] = rate;
    weights[i] = weight;
    total += weight;
    meanRate += rate * weight;
  }
  const lossPerMonth = 1 - Math.exp((-meanRate / total) * MONTH_DAYS);
  const daysAt = (at: number): number => Math.max(0, (at - first.at) / DAY_MS);

  const middle = (at: number): number => {
    const days = daysAt(at);
    let sum = 0;
    for (let i = 0; i < STEPS; i++)
      sum += (weights[i] as number) * Math.exp(-(rates[i] as number) * days);
    return (start * sum) / total;
  };
  const forecast = (at: number): ShelfForecast => {
    const days = daysAt(at);
    let [sum, squares] = [0, 0];
    for (let i = 0; i < STEPS; i++) {
      const percent = start * Math.exp(-(rates[i] as number) * days);
      sum += percent * (weights[i] as number);
      squares += percent * percent * (weights[i] as number);
    }
    const mid = sum / total;
    const off = Z80 * Math.sqrt(Math.max(0, squares / total - mid * mid) + MEASURED_OFF ** 2);
    const percent = { low: clampPercent(mid - off), mid, high: clampPercent(mid + off) };
    return {
      percent,
      volts: { low: volts(percent.low), mid: volts(percent.mid), high: volts(percent.high) },
      lossPerMonth,
      learntFrom: later.length,
    };
  };
  return Object.assign(forecast, { middle });
}

const clampPercent = (p: number) => Math.min(100, Math.max(0, p));
