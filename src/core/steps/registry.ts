import type { StepKind } from '../plan/procedure.ts';
import type { Step } from '../plan/procedure.ts';
import { acid } from './kinds/acid.ts';
import { acknowledge } from './kinds/acknowledge.ts';
import { capacity } from './kinds/capacity.ts';
import { charge } from './kinds/charge.ts';
import { checks } from './kinds/checks.ts';
import { diagnose } from './kinds/diagnose.ts';
import { doIt } from './kinds/do.ts';
import { handover } from './kinds/handover.ts';
import { arrival, cells, holdMeasure, load, measure } from './kinds/measuring.ts';
import { outcome } from './kinds/outcome.ts';
import { pack } from './kinds/pack.ts';
import { ports } from './kinds/ports.ts';
import type { StepModule } from './step.ts';
import { rinse } from './kinds/rinse.ts';
import { story } from './kinds/story.ts';
import { verdict } from './kinds/verdict.ts';
import { wait } from './kinds/wait.ts';
import { wake } from './kinds/wake.ts';
import { wakeCheck } from './kinds/wakeCheck.ts';

/** Every kind of step there is. */
const STEPS: { readonly [K in StepKind]: StepModule<K> } = {
  acknowledge,
  checks,
  pack,
  acid,
  do: doIt,
  ports,
  wait,
  arrival,
  charge,
  story,
  diagnose,
  wake,
  'wake-check': wakeCheck,
  rinse,
  capacity,
  'hold-measure': holdMeasure,
  outcome,
  cells,
  measure,
  load,
  verdict,
  handover,
};

/** The module of a step's kind. A module is only ever given steps of its own kind, which the compiler cannot see here. */
export const moduleOf = (step: Step): StepModule<StepKind> =>
  STEPS[step.kind] as unknown as StepModule<StepKind>;
