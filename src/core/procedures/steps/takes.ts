import type { Step, StepKind } from '../procedure.ts';
import { acidTakes } from './acid.ts';
import { acknowledgeTakes } from './acknowledge.ts';
import { capacityTakes } from './capacity.ts';
import { chargeTakes } from './charge.ts';
import { checksTakes } from './checks.ts';
import { diagnoseTakes } from './diagnose.ts';
import { doItTakes } from './do.ts';
import { handoverTakes } from './handover.ts';
import { outcomeTakes } from './outcome.ts';
import { packTakes } from './pack.ts';
import { portsTakes } from './ports.ts';
import { rinseTakes } from './rinse.ts';
import { storyTakes } from './story.ts';
import { verdictTakes } from './verdict.ts';
import { waitTakes } from './wait.ts';
import { wakeTakes } from './wake.ts';
import { wakeCheckTakes } from './wakeCheck.ts';
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
export const takesOf = (step: Step): Takes<StepKind> => (TAKES[step.kind] ?? {}) as unknown as Takes<StepKind>;
