import { useMemo, useState } from 'react';
import type { JobWire } from '../../contract/wire.ts';
import { instrumentAt } from '../../core/house/instruments.ts';
import type { JobCommand } from '../../core/job/commands.ts';
import type { Job } from '../../core/job/job.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import { stepById } from '../../core/plan/procedure.ts';
import { isForAll, keptFrom, trayWords } from '../../core/steps/tray.ts';
import { useNow } from './benchClock.ts';
import { jobOf, queryClient, useBench, useRules } from './queries.ts';
import { type JobSender, keptBecause, sendToJob } from './sending.ts';
import { useSigning } from './signing.tsx';

export interface TrayMate {
  wire: JobWire;
  job: Job;
  /** At the same step and attempt, with nothing in its way. */
  alike: boolean;
  /** Where it stands, in a word. */
  word: string;
}

/** What came of a command for one battery of the tray. */
export interface TrayResult {
  tag: string;
  done: boolean;
  text: string;
}

/** A charge by hand that is about to begin on several places: which battery goes where. */
export interface TrayPlaces {
  rows: { tag: string; place: number | null }[];
  /** Places charged by hand that nobody uses. */
  free: number[];
  answer: (places: (number | null)[] | null) => void;
}

export interface Together {
  mates: TrayMate[];
  on: boolean;
  setOn: (on: boolean) => void;
  /** What goes to all and what does not, said beforehand. */
  words: string;
  /** Battery by battery, of the last command that went to all. */
  results: TrayResult[];
  forget: () => void;
  /** Asked before charges begin. */
  places: TrayPlaces | null;
  /** Sends to this job, and then to those alike while it is on. */
  sender: JobSender;
}

/** A tray's other batteries, and a sender that steps those that stand alike together; each is decided by itself. */
export function useTogether(wire: JobWire, job: Job, sender: JobSender): Together {
  const { trayId } = wire.battery;
  const now = useNow();
  const rules = useRules();
  const { sign } = useSigning();
  const { data } = useBench(trayId !== null);
  const [on, setOn] = useState(false);
  const [spreading, setSpreading] = useState(false);
  const [results, setResults] = useState<TrayResult[]>([]);
  const [places, setPlaces] = useState<TrayPlaces | null>(null);
  const mates = useMemo<TrayMate[]>(() => {
    if (!data || trayId === null) return [];
    return data.jobs
      .filter((j) => j.battery.trayId === trayId && j.id !== wire.id)
      .map((mate) => {
        const other = jobOf(mate, data.procedures[mate.procedureId] as Procedure, now);
        const { current, status, attempt, paused } = other.state;
        const alike =
          status === 'running' &&
          job.state.status === 'running' &&
          current?.stepId === job.state.current?.stepId &&
          attempt === job.state.attempt &&
          (paused === null) === (job.state.paused === null) &&
          mate.procedureId === wire.procedureId &&
          mate.plan.model.code === wire.plan.model.code;
        const word = current
          ? stepById(other.procedure, current.stepId).act.toLowerCase()
          : (other.state.outcome ?? status);
        return { wire: mate, job: other, alike, word };
      })
      .sort((a, b) => a.wire.battery.tag.localeCompare(b.wire.battery.tag));
  }, [data, trayId, wire.id, wire.procedureId, wire.plan.model.code, job.state, now]);

  const alike = mates.filter((m) => m.alike);

  /** Where each battery of the tray is charged by hand; null when the person turns away. */
  const askPlaces = (mine: number): Promise<(number | null)[] | null> => {
    const taken = new Set(
      (data?.jobs ?? []).flatMap((j) =>
        j.state.charge && j.state.charge.mode !== 'ended' ? [j.state.charge.place] : [],
      ),
    );
    taken.add(mine);
    const free = Array.from({ length: rules.places }, (_, i) => i + 1).filter(
      (p) => !taken.has(p) && instrumentAt(rules.instruments, 'charger', p) === null,
    );
    return new Promise((resolve) =>
      setPlaces({
        rows: alike.map((m, i) => ({ tag: m.wire.battery.tag, place: free[i] ?? null })),
        free,
        answer: (chosen) => {
          setPlaces(null);
          resolve(chosen);
        },
      }),
    );
  };

  const both: JobSender = {
    ...sender,
    // The next step is offered once the whole tray has come to it; else the slower ones would fall behind.
    busy: sender.busy || spreading,
    send: async (command, id) => {
      const forAll = on && alike.length > 0 && isForAll(command);
      const chosen =
        forAll && command.type === 'startCharge' ? await askPlaces(command.place) : undefined;
      if (chosen === null) return false;
      const mine = await sender.send(command, id);
      if (!mine || !forAll) return mine;
      const by = await sign();
      if (!by) return mine;
      const came: TrayResult[] = [{ tag: wire.battery.tag, done: true, text: 'Done.' }];
      setSpreading(true);
      for (const [i, mate] of alike.entries())
        came.push(await sendToMate(command, by, mate, chosen?.[i]));
      await queryClient.invalidateQueries({ queryKey: ['bench'] });
      setSpreading(false);
      setResults(came);
      return mine;
    },
  };

  async function sendToMate(
    command: JobCommand,
    by: string,
    mate: TrayMate,
    place: number | null | undefined,
  ): Promise<TrayResult> {
    const { tag } = mate.wire.battery;
    const kept = keptFrom(command, job, mate.job);
    if (kept) return { tag, done: false, text: kept };
    if (place === null)
      return { tag, done: false, text: 'Left as it is: no place was chosen for it.' };
    const meant =
      command.type === 'startCharge' && place !== undefined ? { ...command, place } : command;
    try {
      const seen = { ...mate.wire, procedure: mate.job.procedure };
      await sendToJob(mate.wire.id, by, meant, seen);
      return {
        tag,
        done: true,
        text: meant.type === 'startCharge' ? `Done, at place ${meant.place}.` : 'Done.',
      };
    } catch (error) {
      return { tag, done: false, text: keptBecause(error) ?? (error as Error).message };
    }
  }

  return {
    mates,
    on: on && alike.length > 0,
    setOn,
    words: trayWords(job),
    results,
    forget: () => setResults([]),
    places,
    sender: trayId === null ? sender : both,
  };
}
