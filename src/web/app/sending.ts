import { useCallback, useState, useSyncExternalStore } from 'react';
import { notice } from './notices.ts';
import type { JobWire, Problem } from '../../contract/wire.ts';
import type { JobCommand } from '../../core/procedures/commands.ts';
import { ProblemError, Unreachable } from './api.ts';
import { newId } from './newId.ts';
import { Outbox } from './outbox.ts';
import { type JobAnswer, keepJob, queryClient } from './queries.ts';
import { useSigning } from './signing.tsx';

export const outbox = new Outbox(localStorage);

/** How many entries this page still owes the server. */
export function useWaitingEntries(): number {
  return useSyncExternalStore(outbox.subscribe, () => outbox.waiting().length);
}

export interface JobSender {
  /** Sends a command. True when it was carried out; otherwise `problem` says why not. */
  send(command: JobCommand): Promise<boolean>;
  problem: Problem | null;
  clear(): void;
  busy: boolean;
}

/** Sends commands to one job, signed, kept until answered for. */
export function useJobSender(jobId: string): JobSender {
  const { sign } = useSigning();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const clear = useCallback(() => setProblem(null), []);

  const send = useCallback(
    async (command: JobCommand) => {
      const by = await sign();
      if (!by) return false;
      setBusy(true);
      setProblem(null);
      try {
        const { job } = await outbox.send<{ job: JobWire }>({ path: `/api/jobs/${jobId}/commands`, body: { commandId: newId(), by, command } });
        const known = queryClient.getQueryData<JobAnswer>(['job', jobId]);
        if (known) keepJob({ job, procedure: known.procedure });
        return true;
      } catch (error) {
        if (error instanceof ProblemError) setProblem(error.problem);
        else if (error instanceof Unreachable) {
          notice.warning('No connection. It is kept here and sent as soon as the server answers.');
          return true;
        } else throw error;
        return false;
      } finally {
        setBusy(false);
      }
    },
    [jobId, sign],
  );
  return { send, problem, clear, busy };
}
