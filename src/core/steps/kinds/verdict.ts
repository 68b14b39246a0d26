import { Refused } from '../../job/commands.ts';
import { judge } from '../../job/verdict.ts';
import { defineStep, type Takes } from '../step.ts';

/** What the numbers say, signed. */
export const verdict = defineStep({
  kind: 'verdict',
  rested: true,
  inTray: () => 'Signs those whose own verdict is the same; the others stay and are named.',
  repeatsFrom: (step) => step.repeatFrom,
});

export const verdictTakes: Takes<'verdict'> = {
  giveVerdict: ({ job }) => {
    const verdict = judge(job);
    if (verdict.outcome === 'incomplete')
      throw new Refused(`Nothing to judge yet. ${verdict.reasons.join(' ')}`, 'out-of-order');
    return [{ type: 'verdict.given', verdict }];
  },
};
