import { type FittedPlan, fitPlan } from '../../core/charging/fitPlan.ts';
import type { ChargePlan } from '../../core/charging/chargePlan.ts';
import { firstChargePlan, planBattery } from '../../core/charging/jobChargePlan.ts';
import { discharges } from '../../core/charging/testPlan.ts';
import type { ChemistryKey } from '../../core/batteries/chemistry.ts';
import type { InstrumentSetting } from '../../core/house/instruments.ts';
import type { Job } from '../../core/job/job.ts';
import { jobChemistry } from '../../core/job/verdict.ts';
import { conflict } from '../http/problem.ts';
import type { Channel } from '../instruments/channel.ts';
import { refused } from './clips.ts';

interface AtPlace {
  channel: Channel;
  charger: InstrumentSetting;
  chemistry: ChemistryKey;
  plan: ChargePlan;
  /** The plan in amps and volts of this battery, and within what the charger gives. */
  fitted: FittedPlan;
}

/**
 * The plan of a job as the instrument of a place would run it.
 *
 * @throws HttpProblem where the place has none, or the plan fits neither battery nor charger
 */
export function planAtPlace(
  job: Job,
  place: number,
  found: { channel: Channel; charger: InstrumentSetting } | null,
): AtPlace {
  if (!found)
    throw conflict(`Place ${place} has no instrument; charge by hand there.`, {
      place: 'No instrument.',
    });
  const { channel, charger } = found;
  const { model, figures } = job.plan;
  const chemistry = jobChemistry(job).key;
  const plan =
    job.state.chargePlan ??
    firstChargePlan(model, chemistry, figures.chargeA.value, figures.ceilingV.value);
  const battery = planBattery(model, chemistry);
  const { fitted, faults } = fitPlan(plan, {
    ...battery,
    mostA: Math.min(battery.mostA ?? Infinity, charger.mostA),
    mostV: Math.min(battery.mostV ?? Infinity, charger.mostV),
  });
  if (!fitted) throw refused(faults[0]?.sentence ?? 'The plan does not fit this battery.');
  if (discharges(fitted) && !channel.discharges)
    throw refused(`Place ${place} has no electronic load, and the plan discharges.`);
  return { channel, charger, chemistry, plan, fitted };
}
