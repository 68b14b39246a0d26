import { leadAcidKind } from '../batteries/kinds.ts';
import type { ChargePlan } from '../charging/chargePlan.ts';
import type { ChargingBattery } from '../safety/ventilation.ts';
import type { Job } from '../job/job.ts';

/**
 * What a job's battery asks of the air while it charges. Open cells count as vented, and so does a battery that was
 * filled in the shop, whose ports stay open until after its first charge.
 */
export function chargingAir({
  plan: { model, figures },
  state,
}: Pick<Job, 'plan' | 'state'>): ChargingBattery {
  const vented = leadAcidKind(model.kind).chemistry === 'flooded' || figures.fillMl !== undefined;
  const gassesMaPerAh = gassingOnPurpose(state.chargePlan);
  return {
    cells: model.cells,
    c20Ah: model.c20Ah,
    vented,
    ...(gassesMaPerAh > 0 ? { gassesMaPerAh } : {}),
  };
}

/** Current of a stage that goes on when the volts are reached, to gas: nearly all of it does. mA per Ah; 0 where none does. */
function gassingOnPurpose(plan: ChargePlan | null | undefined): number {
  const stages = plan?.stages ?? [];
  return Math.max(
    0,
    ...stages.map((s) =>
      s.do === 'current' && !s.until.some((u) => u.when === 'volts' || u.when === 'ah')
        ? 1000 * s.cRate
        : 0,
    ),
  );
}
