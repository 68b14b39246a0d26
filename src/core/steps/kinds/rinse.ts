import { neutraliser } from '../../electrolyte/neutralising.ts';
import { checkFilled } from '../amounts.ts';
import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { figureOf } from '../../plan/jobPlan.ts';
import { SEDIMENT_WORDS, type Sediment } from '../../job/sediment.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** Acid out, distilled water through, and a look at what came with it, before more money goes in. */
export const rinse = defineStep({
  kind: 'rinse',
  usual: ({ plan }, step) => ({
    type: 'rinse',
    stepId: step.id,
    sediment: 'clear',
    drainedMl: figureOf(plan, step.acid).value,
  }),
  remark: ({ plan }, _, run) => {
    if (!run.result) return [];
    const { sediment, drainedMl } = run.result;
    const { bicarbonateKg } = neutraliser(drainedMl / 1000, plan.figures.fillSg.value);
    return [
      SEDIMENT_WORDS[sediment].name.toLowerCase(),
      `${(drainedMl / 1000).toFixed(1)} L of waste acid into its own drum, ${bicarbonateKg.toFixed(1)} kg of bicarbonate would neutralise it`,
    ];
  },
});

export const rinseTakes: Takes<'rinse'> = { rinse: rinseIt };

function rinseIt({ job, step, command }: Asked<'rinse', 'rinse'>): JobEvent[] {
  const { sediment, drainedMl, sure } = command;
  if (sediment === 'brown' && !sure) throw new Refused(shedding(sediment), 'ask', 'sediment');
  checkFilled(drainedMl, figureOf(job.plan, step.acid).value, sure);
  return [done(step, { kind: 'rinse', sediment, drainedMl })];
}

const shedding = (sediment: Sediment): string =>
  `${SEDIMENT_WORDS[sediment].means} The lead can decide, too. Is it to go on all the same?`;
