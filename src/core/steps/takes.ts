import type { Step, StepKind } from '../plan/procedure.ts';
import { acidTakes } from './kinds/acid.ts';
import { acknowledgeTakes } from './kinds/acknowledge.ts';
import { capacityTakes } from './kinds/capacity.ts';
import { chargeTakes } from './kinds/charge.ts';
import { checksTakes } from './kinds/checks.ts';
import { diagnoseTakes } from './kinds/diagnose.ts';
import { doItTakes } from './kinds/do.ts';
import { handoverTakes } from './kinds/handover.ts';
import { outcomeTakes } from './kinds/outcome.ts';
import { packTakes } from './kinds/pack.ts';
import { portsTakes } from './kinds/ports.ts';
import { rinseTakes } from './kinds/rinse.ts';
import { storyTakes } from './kinds/story.ts';
import { verdictTakes } from './kinds/verdict.ts';
import { waitTakes } from './kinds/wait.ts';
import { wakeTakes } from './kinds/wake.ts';
import { wakeCheckTakes } from './kinds/wakeCheck.ts';
import type { Takes } from './step.ts';

/** What every kind of step takes; those that end by a reading take no command. */
const TAKES: { readonly [K in StepKind]?: Takes<K> } = {
  acknowledge: acknowledgeTakes,
  checks: checksTakes,
  pack: packTakes,
  acid: acidTakes,
  do: doItTakes,
  ports: portsTakes,
  wait: waitTakes,
  charge: chargeTakes,
  story: storyTakes,
  diagnose: diagnoseTakes,
  wake: wakeTakes,
  'wake-check': wakeCheckTakes,
  rinse: rinseTakes,
  capacity: capacityTakes,
  outcome: outcomeTakes,
  verdict: verdictTakes,
  handover: handoverTakes,
};

/** What a step takes. It is only ever given steps of its own kind, which the compiler cannot see here. */
export const takesOf = (step: Step): Takes<StepKind> =>
  (TAKES[step.kind] ?? {}) as unknown as Takes<StepKind>;
