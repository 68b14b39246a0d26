import { Refused } from '../commands.ts';
import { judge } from '../verdict.ts';
import { defineStep } from './step.ts';

/** What the numbers say, signed. */
export const verdict = defineStep({
  kind: 'verdict',
  takes: {
    giveVerdict: ({ job }) => {
      const verdict = judge(job);
      if (verdict.outcome === 'incomplete') throw new Refused(`Nothing to judge yet. ${verdict.reasons.join(' ')}`, 'out-of-order');
      return [{ type: 'verdict.given', verdict }];
    },
  },
});
