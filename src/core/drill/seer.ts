import { leadAcidKind } from '../batteries/kinds.ts';
import { needsWaking } from '../recovery/evidence.ts';
import { offeredWakes } from '../recovery/recovery.ts';
import type { DrillCase } from './case.ts';
import type { DrillBench } from './drillBench.ts';
import { GoodTechnician } from './goodTechnician.ts';
import { bestWay } from './truth.ts';

/** Somebody who knows what the battery is and does no less than the procedure asks: nobody can be quicker and right. */
class Seer extends GoodTechnician {
  override diagnoses(stepId: string): void {
    const { truth, model, right } = this.bench.drillCase;
    const best = bestWay(truth, model, leadAcidKind(model.kind).ports === 'serviceable');
    if (right[0] === 'recycle' || !best)
      return this.send({
        type: 'giveOutcome',
        stepId,
        outcome: 'recycle',
        found: truth.family,
        reason: 'Known',
      });
    const [wake = 'none'] = offeredWakes(model.kind, this.job.plan.schools);
    this.coverPlates();
    this.send({
      type: 'chooseRoute',
      stepId,
      route: best.route,
      wake: needsWaking(this.job) ? wake : 'none',
      forecast: null,
    });
  }
}

/** The case as somebody would do it who knew the battery. */
export function seer(drillCase: DrillCase): DrillBench {
  const knows = new Seer(drillCase);
  knows.work();
  return knows.bench;
}
