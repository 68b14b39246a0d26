import { forCells } from '../batteries/chemistry.ts';
import { lineA, sourceLine } from '../chargers/behaviour.ts';
import { showingFindingWords } from '../chargers/showingWords.ts';
import { chargeGuards, type HandTrip } from '../charging/guards.ts';
import {
  ampereHoursIn,
  hoursOn,
  type ChargeProgress,
  chargeProgress,
  type ChargeReading,
  type ChargeTarget,
} from '../charging/progress.ts';
import { compensatedCeilingV } from '../charging/limits.ts';
import { linesOf } from '../plan/lines.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Band } from '../rehearsal/outlook.ts';
import { expectedChargeS } from './chargeExpected.ts';
import {
  ampereHoursEstimated,
  lastShowing,
  nextLookAt,
  showingsOfCharge,
  showsNoAmps,
} from './chargeShowing.ts';
import { chargeStartedAt } from './chargeState.ts';
import { type Job, standingReadings } from './job.ts';
import { jobChemistry } from './verdict.ts';

/** How often a charge run by hand is read, s. Hourly, so that three readings tell whether volts still rise. */
const READING_INTERVAL_S = 3600;

/** A meter that shows this little below the ceiling is at it. V */
const CEILING_READ_SLACK_V = 0.02;

/** An unregulated charger may lift a flooded battery so high before it counts as too much, V per 12 V: hard gassing lies there. */
const UNHELD_V = 16;

export interface ChargeStatus {
  readings: ChargeReading[];
  progress: ChargeProgress;
  trips: HandTrip[];
  ampereHours: number;
  /** Where nothing shows a current: what has probably gone in, Ah. Null where it was read. */
  estimatedAh: Band | null;
  /** When the next reading is due, while current flows. */
  nextReadingAt: Moment | null;
  /** Expected end by the plan, or by its twin where an instrument runs it; pauses added. */
  expectedEndAt: Moment | null;
}

/** At `now`, what the running (or last) charge of this attempt looks like from its standing readings. */
export function chargeStatus(job: Job, now: Moment): ChargeStatus {
  const { charge, attempt } = job.state;
  const lines = linesOf(job.plan);
  const { cells } = job.plan.model;
  const own = charge?.charger?.own;
  const line =
    own && (own.program?.ceilingV ?? null) === null ? sourceLine(own.kind, own.amps, cells) : null;
  const startedAt = charge ? chargeStartedAt(charge) : 0;
  const runningSince = charge?.on.at(-1)?.from ?? 0;
  const readings = standingReadings(job.state, 'charge')
    .filter((r) => r.attempt === attempt && charge !== null && r.at >= startedAt)
    .sort((a, b) => a.at - b.at)
    .map((r): ChargeReading => ({
      at: r.at,
      voltageV: r.values.voltageV ?? 0,
      // Nothing shows it: what an unregulated charger gives at this voltage, or what is printed on it.
      currentA:
        r.values.currentA ?? (line ? lineA(line, r.values.voltageV ?? 0) : (own?.amps ?? 0)),
      temperatureC: r.values.temperatureC ?? 0,
      specificGravity: r.values.specificGravity,
    }));
  const sinceOn = charge ? readings.filter((r) => r.at >= runningSince) : [];
  const last = sinceOn.at(-1);
  const flooded = jobChemistry(job).key === 'flooded';
  const setV = charge?.setV ?? job.plan.figures.ceilingV.value;
  const target: ChargeTarget = {
    cells,
    c20Ah: job.plan.model.c20Ah,
    // Nothing holds it at a ceiling: a flooded battery goes on until its voltage no longer rises.
    ceilingV: line && flooded ? Math.max(setV, forCells(UNHELD_V, cells)) : setV,
    setA:
      line && last ? lineA(line, last.voltageV) : (charge?.setA ?? job.plan.figures.chargeA.value),
  };
  const running = charge?.mode === 'running';
  const byLight = showsNoAmps(charge) && !line;
  const estimatedAh = ampereHoursEstimated(job, now);
  const expectedS = expectedChargeS(job);
  const lastLook = Math.max(last?.at ?? 0, showingsOfCharge(job).at(-1)?.at ?? 0);
  return {
    readings,
    progress: byLight
      ? lightProgress(job, hoursOn(charge?.on ?? [], now), expectedS / 3600)
      : (line && !flooded && last && atCeiling(last, target)) ||
        chargeProgress(sinceOn, target, lines.finish),
    trips: charge
      ? chargeGuards(
          sinceOn,
          target,
          job.plan.roomC,
          charge.setA,
          job.procedure.purpose === 'recover',
          lines.temperature,
        )
      : [],
    ampereHours: estimatedAh?.middle ?? ampereHoursIn(readings, charge?.on ?? []),
    estimatedAh,
    nextReadingAt:
      !running || charge.live
        ? null
        : byLight
          ? nextLookAt(runningSince, lastLook >= runningSince ? lastLook : null, expectedS / 3600)
          : Math.max(last?.at ?? 0, runningSince) + READING_INTERVAL_S * 1000,
    expectedEndAt: charge
      ? now +
        Math.max(0, (charge.live?.expectedS ?? expectedS) - hoursOn(charge.on, now) * 3600) * 1000
      : null,
  };
}

/** A charger that shows lights and no current is done when it says so, and that is not at once. */
function lightProgress(job: Job, onH: number, expectedH: number): ChargeProgress {
  const seen = lastShowing(job);
  if (!seen)
    return {
      agrees: false,
      by: null,
      sentence: 'Nobody has looked at it yet since it was connected. Tap what it shows.',
    };
  if (!seen.finding)
    return {
      agrees: false,
      by: null,
      sentence: `Charging for ${onH.toFixed(1)} h; about ${expectedH.toFixed(1)} h are expected.`,
    };
  const { title, means, next } = showingFindingWords(seen.finding);
  return {
    agrees: seen.finding.kind === 'full',
    by: seen.finding.kind === 'full' ? 'light' : null,
    sentence: `${title}. ${means} ${next}`,
  };
}

/** Nothing holds a sealed battery at its ceiling on an unregulated charger: there it is switched off. Null below it. */
function atCeiling(last: ChargeReading, { ceilingV, cells }: ChargeTarget): ChargeProgress | null {
  const limitV = compensatedCeilingV(ceilingV, cells, last.temperatureC);
  if (last.voltageV < limitV - CEILING_READ_SLACK_V) return null;
  return {
    agrees: true,
    by: 'ceiling',
    sentence: `${last.voltageV.toFixed(2)} V: the ceiling of ${limitV.toFixed(2)} V is reached, and this charger does not hold it. Charger off now. Not quite full: the rest voltage decides.`,
  };
}
