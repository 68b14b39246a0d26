import { useCallback, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { notice } from './notices.ts';
import type { BenchWire, JobWire, Problem } from '../../contract/wire.ts';
import type { JobCommand } from '../../core/job/commands.ts';
import { ProblemError, Unreachable, pathTo } from './api.ts';
import { device } from './device.ts';
import { keptUnder } from './drillPlace.ts';
import { newId } from './newId.ts';
import { type Entry, isJudged, Outbox } from './outbox.ts';
import { benchQuery, type JobAnswer, keepJob, queryClient } from './queries.ts';
import { benchClock } from './benchClock.ts';
import { settle } from '../../core/steps/settle.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import { useSigning } from './signing.tsx';
import { awaited } from './underWay.ts';

export const outbox = new Outbox(device, { key: keptUnder('outbox') });

let shown: { text: string; entries: Entry[] } = { text: '', entries: [] };

/** Entries this page keeps: those it still owes the server, and those turned away that nobody has seen. */
export function useKeptEntries(): Entry[] {
  const kept = () => {
    const entries = outbox.kept();
    const text = JSON.stringify(entries);
    if (text !== shown.text) shown = { text, entries };
    return shown.entries;
  };
  return useSyncExternalStore(outbox.subscribe, kept, kept);
}

/** What became of an entry that did not get through, in words for whoever typed it; null where it was judged. */
export function keptBecause(error: unknown): string | null {
  if (isJudged(error)) return null;
  if (error instanceof Unreachable)
    return 'No connection. It is kept here and sent as soon as the server answers.';
  if (error instanceof ProblemError && error.status === 401)
    return 'You were signed out meanwhile. It is kept here and sent when you have signed in.';
  if (error instanceof ProblemError)
    return 'The server cannot take it now. It is kept here and tried again.';
  return null;
}

export interface JobSender {
  /**
   * Sends a command. True when it was carried out; otherwise `problem` says why not.
   *
   * @param id of the command, and of the reading it makes, where that is to be known beforehand
   */
  send(command: JobCommand, id?: string): Promise<boolean>;
  problem: Problem | null;
  clear(): void;
  busy: boolean;
}

interface Seen {
  battery: { tag: string };
  plan: JobWire['plan'];
  state: JobWire['state'];
  procedure: Procedure;
}

/** A command on its way to a job, with the step its sender saw in hand: a page that is behind acts on no other. */
function jobEntry(
  jobId: string,
  by: string,
  command: JobCommand,
  seen: Seen | undefined,
  id: string = newId(),
): Entry {
  const current = seen && settle(seen, benchClock.now()).state.current;
  return {
    path: pathTo('sendCommand', { params: { id: jobId } }),
    body: {
      commandId: id,
      by,
      command,
      ...(current && 'stepId' in command ? { seenRun: current.startedAt } : {}),
    },
    what: `${seen ? `${seen.battery.tag}: ` : ''}${commandWords(command)}`,
  };
}

/** A job as its page shows it, or the Bench where that was not opened. */
function seenAt(jobId: string): Seen | undefined {
  const known = queryClient.getQueryData<JobAnswer>(['job', jobId]);
  if (known) return { ...known.job, procedure: known.procedure };
  const bench = queryClient.getQueryData<BenchWire>(benchQuery.queryKey);
  const wire = bench?.jobs.find((j) => j.id === jobId);
  const procedure = wire && bench?.procedures[wire.procedureId];
  return wire && procedure ? { ...wire, procedure } : undefined;
}

/** What was asked for, in a few words. */
function commandWords(command: JobCommand): string {
  if (command.type === 'read' || command.type === 'correct') {
    const { voltageV, currentA, temperatureC, specificGravity } = command.values;
    const said = [
      voltageV && `${voltageV} V`,
      currentA && `${currentA} A`,
      temperatureC && `${temperatureC} °C`,
      specificGravity && `SG ${specificGravity}`,
    ];
    return `${command.type === 'read' ? 'reading' : 'correction'} ${said.filter(Boolean).join(', ')}`;
  }
  if (command.type === 'note') return `note “${command.text.slice(0, 40)}”`;
  return 'stepId' in command ? `step “${command.stepId}”` : command.type;
}

/** Sends a command and keeps what the answer says: how its job stands with it. @throws as the outbox does */
export async function sendToJob(
  ...[jobId, by, command, seen, id]: Parameters<typeof jobEntry>
): Promise<void> {
  const sent = outbox.send<{ job: JobWire }>(jobEntry(jobId, by, command, seen, id));
  const kept = sent.then(({ job }) => seen && keepJob({ job, procedure: seen.procedure }));
  await awaited(jobId, kept);
}

/** Sends commands to one job, signed, kept until answered for. */
export function useJobSender(jobId: string): JobSender {
  const { sign } = useSigning();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  /** What the last question was about: sent again as it is, it is meant so. */
  const asked = useRef<string | null>(null);
  const clear = useCallback(() => {
    asked.current = null;
    setProblem(null);
  }, []);

  const send = useCallback(
    async (given: JobCommand, id?: string) => {
      const text = JSON.stringify(given);
      const command =
        asked.current === text && given.type !== 'read' && given.type !== 'correct'
          ? ({ ...given, sure: true } as JobCommand)
          : given;
      asked.current = null;
      const by = await sign();
      if (!by) return false;
      setBusy(true);
      setProblem(null);
      try {
        await sendToJob(jobId, by, command, seenAt(jobId), id);
        return true;
      } catch (error) {
        const kept = keptBecause(error);
        if (kept) {
          notice.warning(kept);
          if (error instanceof ProblemError && error.status === 401)
            void queryClient.invalidateQueries({ queryKey: ['sign-in'] });
          return true;
        }
        if (!(error instanceof ProblemError)) throw error;
        if (error.problem.code === 'ask') asked.current = text;
        setProblem(error.problem);
        return false;
      } finally {
        setBusy(false);
      }
    },
    [jobId, sign],
  );
  return useMemo(() => ({ send, problem, clear, busy }), [send, problem, clear, busy]);
}
