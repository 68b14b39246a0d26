import type { JobWire } from '../../contract/wire.ts';
import { chargingAir } from '../../core/watch/chargingAir.ts';
import type { ChargingBattery } from '../../core/safety/ventilation.ts';

/** What is charging on the bench, as the ventilation formula wants it. */
export function chargingBatteries(
  jobs: readonly Pick<JobWire, 'plan' | 'state'>[],
): ChargingBattery[] {
  return jobs.filter(({ state }) => state.charge?.mode === 'running').map(chargingAir);
}
