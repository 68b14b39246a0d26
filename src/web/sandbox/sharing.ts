import { useQuery } from '@tanstack/react-query';
import type { DrillWire } from '../../contract/drillWire.ts';
import { ask, pathTo, Unreachable } from '../line/api.ts';
import { newId } from '../line/newId.ts';
import { isJudged } from '../line/outbox.ts';
import { queryClient } from '../line/queries.ts';
import { outbox } from '../line/sending.ts';
import { type Attempt, keepAttempt, keepOwnCases, keptOwnCases } from './attempts.ts';

const NOTHING: DrillWire = { results: [], assigned: [], cases: [] };

/** What was shared and given out, and the shop's own cases; those are known without the server, too. */
async function drillNow(): Promise<DrillWire> {
  try {
    const drill = await ask('drill');
    await keepOwnCases(drill.cases);
    return drill;
  } catch (error) {
    if (!(error instanceof Unreachable)) throw error;
    return { ...NOTHING, cases: await keptOwnCases() };
  }
}

export const useDrill = (): DrillWire =>
  useQuery({ queryKey: ['drill'], queryFn: drillNow }).data ?? NOTHING;

/**
 * Sends how a case went to the shop, for its lead to see; without a server it goes when there is one.
 *
 * @throws ProblemError where the server has looked at it and says no
 */
export async function shareAttempt(attempt: Attempt): Promise<void> {
  const { code, endedAt, result, personId } = attempt;
  if (!result || endedAt === null) return;
  const { decision, passed, points, handsMin, hours } = result;
  await outbox
    .send({
      path: pathTo('shareDrill'),
      body: {
        commandId: newId(),
        by: personId,
        result: { code, endedAt, decision, passed, points, handsMin, hours },
      },
      what: `Drill, case ${code}`,
    })
    .catch((error: unknown) => {
      if (isJudged(error)) throw error;
    });
  await keepAttempt({ ...attempt, shared: true });
  await queryClient.invalidateQueries({ queryKey: ['drill'] });
  await queryClient.invalidateQueries({ queryKey: ['drill-back', attempt.id] });
}
