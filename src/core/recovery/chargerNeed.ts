import type { ChargeNeed } from '../chargers/fit.ts';
import { planBattery } from '../charging/jobChargePlan.ts';
import { MOST_C, SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from '../charging/limits.ts';
import { shareAtFirst } from '../job/chargeExpected.ts';
import { type Job, runsWith, standingReadings } from '../job/job.ts';
import { jobChemistry } from '../job/verdict.ts';
import { simulatedChargeS } from '../rehearsal/expectedCharge.ts';
import { handSettings } from './recovery.ts';

/** The most a new battery takes, share of C20. Usual care for first charges. */
const FIRST_MOST_C = 0.1;

/** What the battery of a job asks of a charger now. */
export function chargerNeed(job: Job): ChargeNeed {
  const { model, figures } = job.plan;
  const chemistry = jobChemistry(job);
  const { setA, setV } = handSettings(job);
  const recovering = job.procedure.purpose === 'recover';
  const first = Math.min(
    FIRST_MOST_C * model.c20Ah,
    model.c20Ah <= SMALL_SIZE_AH ? SMALL_SIZE_CAP_A : Infinity,
  );
  const share = shareAtFirst(job);
  return {
    nominalV: model.nominalV,
    cells: model.cells,
    chemistry: chemistry.key,
    c20Ah: model.c20Ah,
    plannedA: setA,
    mostA: Math.max(figures.chargeA.value, recovering ? MOST_C * model.c20Ah : first),
    ceilingV: setV,
    readsV: lastReadV(job),
    battery: planBattery(model, chemistry.key),
    share,
    roomC: job.plan.roomC,
    sizeSpan: model.estimate
      ? { low: model.estimate.low / model.c20Ah, high: model.estimate.high / model.c20Ah }
      : { low: 1, high: 1 },
    perhapsSulfated: recovering,
    supplyHours: (amps, volts) =>
      (simulatedChargeS(model, chemistry.key, amps, volts, share) ??
        ((1 - share) * model.c20Ah * chemistry.rechargeFactor * 3600) / amps) / 3600,
  };
}

/**
 * What waking asks of a charger: beside a donor it meets the volts of both and may give what both take; alone it must start at
 * what the battery reads, and give at most a tenth of C20.
 *
 * @param donorV what the clips read beside a donor, V; null without one
 */
export function wakeNeed(job: Job, donorV: number | null, donorAh: number): ChargeNeed {
  const need = chargerNeed(job);
  const alone = WAKE_ALONE_C * need.c20Ah;
  if (donorV === null) return { ...need, plannedA: alone / 2, mostA: alone };
  const together = need.c20Ah + donorAh;
  return {
    ...need,
    c20Ah: together,
    plannedA: Math.min(WAKE_BESIDE_A, WAKE_BESIDE_C * need.c20Ah),
    mostA: WAKE_BESIDE_C * together,
    readsV: donorV,
  };
}

/** Waking alone: at most a tenth of C20. Beside a donor: 10 A is usual, a fifth of both. */
const WAKE_ALONE_C = 0.1;
const WAKE_BESIDE_A = 10;
const WAKE_BESIDE_C = 0.2;

/** What it was last read at with nothing on it, or at the end of waking, V; null where nobody has. */
function lastReadV(job: Job): number | null {
  const read = standingReadings(job.state).findLast(
    (r) => ['arrival', 'rest', 'spot', 'hold'].includes(r.role) && r.values.voltageV !== undefined,
  );
  const woken = runsWith(job.state, 'wake-check').findLast((r) => r.end === 'done');
  if (woken && (woken.endedAt ?? 0) > (read?.at ?? 0)) return woken.result.voltageV;
  return read?.values.voltageV ?? null;
}
