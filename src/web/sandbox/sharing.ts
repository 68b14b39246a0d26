import { useQuery } from '@tanstack/react-query';
import type { DrillWire } from '../../contract/drillWire.ts';
import { ask, pathTo } from '../line/api.ts';
import { newId } from '../line/newId.ts';
import { queryClient } from '../line/queries.ts';
import { outbox } from '../line/sending.ts';
import { type Attempt, keepAttempt } from './attempts.ts';

/** What was shared and given out; nothing where the server is not there. */
export const useDrill = (): DrillWire =>
  useQuery({ queryKey: ['drill'], queryFn: () => ask('drill') }).data ?? {
    results: [],
    assigned: [],
    cases: [],
  };

/** Sends how a case went to the shop, for its lead to see; without a server it goes when there is one. */
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
    .catch(() => undefined);
  await keepAttempt({ ...attempt, shared: true });
  await queryClient.invalidateQueries({ queryKey: ['drill'] });
  await queryClient.invalidateQueries({ queryKey: ['drill-back', attempt.id] });
}
