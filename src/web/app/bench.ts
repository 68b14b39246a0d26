import type { JobWire } from '../../contract/wire.ts';
import { kindOf } from '../../core/batteries/kinds.ts';
import type { ChargingBattery } from '../../core/safety/ventilation.ts';

/** What is charging on the bench, as the ventilation formula wants it. */
export function chargingBatteries(jobs: readonly Pick<JobWire, 'plan' | 'state'>[]): ChargingBattery[] {
  return jobs
    .filter(({ state }) => state.charge?.mode === 'running')
    .map(({ plan: { model } }) => {
      const kind = kindOf(model.kind);
      return { cells: model.cells, c20Ah: model.c20Ah, vented: 'chemistry' in kind && kind.chemistry === 'flooded' };
    });
}
