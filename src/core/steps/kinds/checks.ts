import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { fillText } from '../../plan/words.ts';
import { checksOf } from '../../plan/checks.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** Questions with two answers each; a bad one holds the job, or ends it. */
export const checks = defineStep({
  kind: 'checks',
  usual: (job, step) => ({
    type: 'answerChecks',
    stepId: step.id,
    answers: Object.fromEntries(checksOf(step, job.plan).map((c) => [c.id, true])),
  }),
});

export const checksTakes: Takes<'checks'> = { answerChecks };

function answerChecks({
  job,
  step,
  command: { answers },
}: Asked<'checks', 'answerChecks'>): JobEvent[] {
  const unknown = Object.keys(answers).find((id) => !step.checks.some((c) => c.id === id));
  if (unknown) throw new Refused(`No check “${unknown}” here.`, 'invalid', 'answers');
  const missing = checksOf(step, job.plan).find((c) => answers[c.id] === undefined);
  const failed =
    step.checks.find((c) => answers[c.id] === false && c.refusal) ??
    step.checks.find((c) => answers[c.id] === false);
  // One bad answer settles it, whatever else is still open.
  if (failed?.refusal)
    return [{ type: 'job.refused', stepId: step.id, why: { by: 'check', check: failed.id } }];
  if (failed)
    throw new Refused(fillText(failed.hold ?? failed.text, job.plan), 'invalid', 'answers');
  if (missing)
    throw new Refused(`Answer “${fillText(missing.text, job.plan)}”.`, 'invalid', 'answers');
  return [done(step, { kind: 'checks', answers })];
}
