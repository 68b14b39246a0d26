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

/** What it was last read at with nothing on it, or at the end of waking, V; null where nobody has. */
function lastReadV(job: Job): number | null {
  const read = standingReadings(job.state).findLast(
    (r) => ['arrival', 'rest', 'spot', 'hold'].includes(r.role) && r.values.voltageV !== undefined,
  );
  const woken = runsWith(job.state, 'wake-check').findLast((r) => r.end === 'done');
  if (woken && (woken.endedAt ?? 0) > (read?.at ?? 0)) return woken.result.voltageV;
  return read?.values.voltageV ?? null;
}
