import { labelMilliohm } from '../batteries/labelResistance.ts';
import { forCells } from '../batteries/chemistry.ts';
import type { Job } from '../job/job.ts';
import { restVoltageHolding } from '../job/verdict.ts';

/** Loads come off at this voltage up to 25 A, V per 12 V; above it lower, by what the battery's own resistance takes. Usual practice. */
const CUTOFF_V = 10.5;
const CUTOFF_A = 25;
/** Heavier loads that are told, A, where a battery of its size meets them. */
const HEAVY_A = [50, 100, 200] as const;
const MOST_C = 3;
/** A parked machine still starts from about this much, %. Usual practice: a quarter to half. */
const STILL_STARTS = [25, 50] as const;

/**
 * Until when a battery may be used by whoever takes it away: under load, and standing in a machine that must still start.
 */
export function reserveAdvice(job: Job): { label: string; value: string }[] {
  const { model } = job.plan;
  const cutoffV = forCells(CUTOFF_V, model.cells);
  const heavy = HEAVY_A.filter((amps) => amps <= MOST_C * model.c20Ah).map((amps) => {
    const volts = cutoffV - ((amps - CUTOFF_A) * labelMilliohm(model)) / 1000;
    return `${volts.toFixed(1)} V at ${amps} A`;
  });
  const [low, high] = STILL_STARTS.map((percent) => restVoltageHolding(job, percent));
  return [
    {
      label: 'Loads off',
      value: [`under load at ${cutoffV.toFixed(2)} V up to ${CUTOFF_A} A`, ...heavy].join('; '),
    },
    {
      label: 'Parked',
      value: `loads off at ${low?.toFixed(1)} to ${high?.toFixed(1)} V at rest, so that it still starts`,
    },
  ];
}
