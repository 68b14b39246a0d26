import { defineStep, done, type Takes } from '../step.ts';

/** Something to be read and taken to heart. */
export const acknowledge = defineStep({
  kind: 'acknowledge',
  usual: (_, step) => ({ type: 'acknowledge', stepId: step.id }),
});

export const acknowledgeTakes: Takes<'acknowledge'> = { acknowledge: ({ step }) => [done(step)] };
