import { defineStep, done } from './step.ts';

/** Something to be read and taken to heart. */
export const acknowledge = defineStep({
  kind: 'acknowledge',
  takes: { acknowledge: ({ step }) => [done(step)] },
  usual: (_, step) => ({ type: 'acknowledge', stepId: step.id }),
});
