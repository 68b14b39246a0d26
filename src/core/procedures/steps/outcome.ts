import { giveOutcome } from './giveOutcome.ts';
import { defineStep } from './step.ts';

/** What becomes of a recovered battery. */
export const outcome = defineStep({ kind: 'outcome', takes: { giveOutcome } });
