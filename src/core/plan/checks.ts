import type { JobPlan } from './jobPlan.ts';
import type { StepOf } from './procedure.ts';

/** Id of the check that asks what the label says. */
const LABEL = 'label';

/** The checks of a step that can be answered for a battery: what its label says cannot, where nobody can read it. */
export const checksOf = ({ checks }: StepOf<'checks'>, { model }: JobPlan) =>
  model.estimate ? checks.filter((c) => c.id !== LABEL) : checks;
