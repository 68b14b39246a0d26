import type { StepKind } from '../procedure.ts';
import type { Step } from '../procedure.ts';
import { acid } from './acid.ts';
import { acknowledge } from './acknowledge.ts';
import { capacity } from './capacity.ts';
import { charge } from './charge.ts';
import { checks } from './checks.ts';
import { diagnose } from './diagnose.ts';
import { doIt } from './do.ts';
import { handover } from './handover.ts';
import { arrival, cells, holdMeasure, load, measure } from './measuring.ts';
import { outcome } from './outcome.ts';
import { pack } from './pack.ts';
import { ports } from './ports.ts';
import type { StepModule } from './step.ts';
import { rinse } from './rinse.ts';
import { story } from './story.ts';
import { verdict } from './verdict.ts';
import { wait } from './wait.ts';
import { wake } from './wake.ts';
import { wakeCheck } from './wakeCheck.ts';

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
export const moduleOf = (step: Step): StepModule<StepKind> => STEPS[step.kind] as unknown as StepModule<StepKind>;
