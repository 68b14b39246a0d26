import { useSyncExternalStore } from 'react';
import type { Shop } from '../../contract/wire.ts';
import type { DrillAct } from '../../core/drill/acts.ts';
import type { DrillCase } from '../../core/drill/case.ts';
import { PUPIL } from '../../core/drill/drillBench.ts';
import { workingHoursOf } from '../../core/drill/hours.ts';
import { DEFAULT_RULES } from '../../core/house/rules.ts';
import { serveInPage } from '../line/api.ts';
import { benchClock } from '../line/benchClock.ts';
import { keptUnder } from '../line/drillPlace.ts';
import { keepJob } from '../line/queries.ts';
import { caseOfAttempt, endAttempt, keepAttempt, knownShop, readAttempt } from './attempts.ts';
import { DrillServer } from './drillServer.ts';

/** The case that these pages are about; there is one for as long as they are open. */
let server: DrillServer | null = null;
let version = 0;
const listeners = new Set<() => void>();

/**
 * Opens the case of an attempt: from here on these pages ask its bench, and no server.
 *
 * @returns false where this device knows no such attempt, or no such case
 */
export async function openCase(attemptId: string): Promise<boolean> {
  const attempt = await readAttempt(attemptId);
  const drillCase = attempt && caseOfAttempt(attempt);
  if (!attempt || !drillCase) return false;
  const shop = await knownShop().catch(() => undefined);
  const person = shop?.people.find((p) => p.id === attempt.personId);
  localStorage.setItem(keptUnder('person'), PUPIL);
  server = new DrillServer(
    drillCase,
    attempt,
    { rules: inCase(drillCase, shop?.rules ?? DEFAULT_RULES) },
    { name: person?.name ?? 'You', initials: person?.initials ?? 'You' },
    async (done) => {
      await keepAttempt(done);
      changed();
    },
  );
  serveInPage(server);
  await benchClock.sync();
  return true;
}

/** How a shop writes and measures. What it has decided is as usual in a case, so that two people can be compared on it. */
const KEEPS = [
  'shopName',
  'temperatureUnit',
  'volumeUnit',
  'sgReferenceC',
  'clock',
  'dateOrder',
  'paper',
] as const;

const inCase = (drillCase: DrillCase, rules: Shop['rules']): Shop['rules'] => ({
  ...DEFAULT_RULES,
  hours: workingHoursOf(drillCase),
  ...Object.fromEntries(KEEPS.map((key) => [key, rules[key]])),
  timeZone: 'UTC',
});

/** Something was done: clock, job and hands are drawn anew. */
function changed(): void {
  if (!server) return;
  version += 1;
  void benchClock.sync();
  keepJob({ job: server.job(), procedure: server.bench.job.procedure });
  for (const listener of listeners) listener();
}

/** The case, drawn anew after every act. */
export function useCase(): DrillServer {
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => version,
  );
  if (!server) throw new Error('No case is open.');
  return server;
}

/** Does an act of hands or of time; the pages follow. @throws ProblemError where it cannot be done */
export async function doAct(act: DrillAct): Promise<void> {
  if (!server) throw new Error('No case is open.');
  await server.act(act);
}

/** The case is ended, or given up: kept so, and looked back on in the pages of the shop. */
export async function endCase(): Promise<void> {
  if (!server) return;
  const { attempt } = server;
  await endAttempt(attempt);
  location.assign(`/drill/back/${attempt.id}`);
}
