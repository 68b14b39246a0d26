import { Refused } from '../../job/commands.ts';
import type { DeviationWhat } from '../../job/deviation.ts';
import { deviationWords } from '../../job/deviationWords.ts';
import type { JobEvent } from '../../job/events.ts';
import { fillText } from '../../plan/words.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** One question, answered for every port. */
export const ports = defineStep({
  kind: 'ports',
  usual: ({ plan }, step) => ({
    type: 'answerPorts',
    stepId: step.id,
    ports: Array.from({ length: plan.model.cells }, () => step.answers[0]?.id ?? ''),
  }),
});

export const portsTakes: Takes<'ports'> = { answerPorts };

function answerPorts({ job, step, command }: Asked<'ports', 'answerPorts'>): JobEvent[] {
  const { plan, state } = job;
  if (command.ports.length !== plan.model.cells)
    throw new Refused(`Answer for all ${plan.model.cells} ports.`, 'invalid', 'ports');
  const answers = command.ports.map((id) => step.answers.find((a) => a.id === id));
  if (answers.some((a) => !a))
    throw new Refused('That is not one of the answers.', 'invalid', 'ports');
  if (answers.some((a) => !a?.good))
    throw new Refused(fillText(step.hold, plan), 'invalid', 'ports');
  const events: JobEvent[] = [];
  const odd = answers.flatMap((a, i) =>
    a?.deviation ? [{ answer: a.deviation, cell: i + 1 }] : [],
  );
  for (const answer of new Set(odd.map((o) => o.answer))) {
    const what: DeviationWhat = {
      kind: 'ports',
      answer,
      cells: odd.filter((o) => o.answer === answer).map((o) => o.cell),
    };
    if (plan.overNeedsReason && !command.reason)
      throw new Refused(
        `${deviationWords(what, 'C')}. Draw it down to the mark, or say why it stays.`,
        'invalid',
        'reason',
      );
    events.push({
      type: 'deviation',
      stepId: step.id,
      what,
      reason: command.reason ?? 'Tolerated by the house rule',
    });
  }
  for (const liquid of ['acid', 'water'] as const) {
    const cells = answers.flatMap((a, i) => (a?.added === liquid ? [i + 1] : []));
    if (cells.length > 0) events.push({ type: 'topped-up', liquid, cells, ml: null, lot: null });
  }
  const result = { kind: 'ports', ports: command.ports } as const;
  const { passes } = step;
  if (passes && answers.some((a) => a?.again)) {
    const made = state.runs.filter((r) => r.stepId === step.id && r.end === 'done').length + 1;
    if (made < passes.most)
      return [...events, { type: 'pass.repeated', stepId: step.id, from: passes.from, result }];
    events.push({
      type: 'deviation',
      stepId: step.id,
      what: {
        kind: 'still-topped-up',
        pass: made,
        cells: answers.flatMap((a, i) => (a?.again ? [i + 1] : [])),
      },
      reason: 'Look for a leak; its level is watched on charge',
    });
  }
  return [...events, done(step, result)];
}
