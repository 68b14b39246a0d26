import { giveOutcome } from './giveOutcome.ts';
import { defineStep, type Takes } from '../step.ts';

/** What becomes of a recovered battery. */
export const outcome = defineStep({
  kind: 'outcome',
  inTray: 'each',
  repeatsFrom: (step) => step.repeatFrom,
});

export const outcomeTakes: Takes<'outcome'> = { giveOutcome };
