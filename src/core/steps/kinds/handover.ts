import { recoveryOf } from '../../job/job.ts';
import { defineStep, type Takes } from '../step.ts';

/** To its owner or onto the shelf; the job is over. */
export const handover = defineStep({
  kind: 'handover',
  rested: true,
});

export const handoverTakes: Takes<'handover'> = {
  handOver: ({ job, command }) => [
    {
      type: 'job.closed',
      outcome: recoveryOf(job).outcomes.at(-1)?.outcome === 'light' ? 'light' : 'passed',
      destination: command.destination,
    },
  ],
};
