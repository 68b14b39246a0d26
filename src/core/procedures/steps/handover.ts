import { recoveryOf } from '../recovery.ts';
import { defineStep } from './step.ts';

/** To its owner or onto the shelf; the job is over. */
export const handover = defineStep({
  kind: 'handover',
  takes: {
    handOver: ({ job, command }) => [
      { type: 'job.closed', outcome: recoveryOf(job).outcomes.at(-1)?.outcome === 'light' ? 'light' : 'passed', destination: command.destination },
    ],
  },
});
