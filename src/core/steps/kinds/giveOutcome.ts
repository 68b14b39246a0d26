import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { OUTCOMES } from '../../job/recoveryState.ts';
import { disposalOf, judgeRecovery, outcomeAllowed } from '../../recovery/judging.ts';
import type { Asked } from '../step.ts';

/** What becomes of a battery, signed: what the numbers carry, or with a reason what they allow. */
export function giveOutcome({
  job,
  command,
  context: { now, by },
}: Pick<Asked<'outcome', 'giveOutcome'>, 'job' | 'command' | 'context'>): JobEvent[] {
  const verdict = judgeRecovery(job);
  if (!outcomeAllowed(verdict, command.outcome))
    throw new Refused(
      `The numbers do not carry “${OUTCOMES[command.outcome].name}”. ${verdict.reasons.join(' ')}`,
      'forbidden',
      'outcome',
    );
  if (command.outcome !== verdict.suggested && !command.reason)
    throw new Refused(
      `“${OUTCOMES[verdict.suggested].name}” is what the numbers say. Say why not.`,
      'invalid',
      'reason',
    );
  const events: JobEvent[] = [
    {
      type: 'outcome.given',
      outcome: {
        outcome: command.outcome,
        suggested: verdict.suggested,
        reasons: [...verdict.reasons, ...verdict.warnings],
        reason: command.reason ?? null,
        attempt: job.state.attempt,
        at: now,
        by: by.id,
        disposal: command.outcome === 'recycle' ? disposalOf(job) : null,
        ...(command.outcome === 'another' ? {} : { found: command.found ?? null }),
        ...(command.said ? { said: command.said } : {}),
      },
    },
  ];
  if (command.outcome === 'recycle')
    events.push({ type: 'job.closed', outcome: 'recycle', destination: null });
  return events;
}
