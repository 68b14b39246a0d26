import { useMemo, useState } from 'react';
import { notice } from './notices.ts';
import type { JobWire } from '../../contract/wire.ts';
import type { JobCommand, JobCommandType } from '../../core/procedures/commands.ts';
import type { Job } from '../../core/procedures/job.ts';
import { stepById } from '../../core/procedures/procedure.ts';
import { useNow } from './benchClock.ts';
import { ProblemError } from './api.ts';
import { newId } from './newId.ts';
import { jobOf, queryClient, useBench, useRules } from './queries.ts';
import { type JobSender, outbox } from './sending.ts';
import { useSigning } from './signing.tsx';

/** Commands that mean the same for every battery of a tray. Readings never do: each battery has its own. */
const ALIKE: readonly JobCommandType[] = [
  'acknowledge',
  'answerChecks',
  'matchPack',
  'matchAcid',
  'confirmDone',
  'answerPorts',
  'cutWait',
  'startCharge',
  'pauseCharge',
  'giveVerdict',
  'handOver',
  'pause',
  'resume',
];

export interface TrayMate {
  wire: JobWire;
  /** At the same step and attempt, with nothing in its way. */
  alike: boolean;
  /** Where it stands, in a word. */
  word: string;
}

export interface Together {
  mates: TrayMate[];
  on: boolean;
  setOn: (on: boolean) => void;
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
  const mates = useMemo<TrayMate[]>(() => {
    if (!data || trayId === null) return [];
    return data.jobs
      .filter((j) => j.battery.trayId === trayId && j.id !== wire.id)
      .map((mate) => {
        const other = jobOf(mate, data.procedures[mate.procedureId] as never, now);
        const { current, status, attempt, paused } = other.state;
        const alike =
          status === 'running' &&
          job.state.status === 'running' &&
          current?.stepId === job.state.current?.stepId &&
          attempt === job.state.attempt &&
          (paused === null) === (job.state.paused === null) &&
          mate.procedureId === wire.procedureId;
        const word = current ? stepById(other.procedure, current.stepId).act.toLowerCase() : (other.state.outcome ?? status);
        return { wire: mate, alike, word };
      })
      .sort((a, b) => a.wire.battery.tag.localeCompare(b.wire.battery.tag));
  }, [data, trayId, wire.id, wire.procedureId, job.state, now]);

  const alike = mates.filter((m) => m.alike);
  const both: JobSender = {
    ...sender,
    // The next step is offered once the whole tray has come to it; else the slower ones would fall behind.
    busy: sender.busy || spreading,
    send: async (command) => {
      const mine = await sender.send(command);
      if (!mine || !on || !ALIKE.includes(command.type)) return mine;
      const by = await sign();
      if (!by) return mine;
      const taken = new Set((data?.jobs ?? []).flatMap((j) => (j.state.charge && j.state.charge.mode !== 'ended' ? [j.state.charge.place] : [])));
      if (command.type === 'startCharge') taken.add(command.place);
      const apart: string[] = [];
      setSpreading(true);
      for (const mate of alike) {
        const own = ownCommand(command, taken, rules.places);
        if (!own) {
          apart.push(`${mate.wire.battery.tag}: no place is free`);
          continue;
        }
        try {
          await outbox.send({ path: `/api/jobs/${mate.wire.id}/commands`, body: { commandId: newId(), by, command: own } });
        } catch (error) {
          apart.push(`${mate.wire.battery.tag}: ${error instanceof ProblemError ? error.problem.message : 'kept here until the server answers'}`);
        }
      }
      await queryClient.invalidateQueries({ queryKey: ['bench'] });
      setSpreading(false);
      if (apart.length > 0) notice.warning(apart.join('  ·  '), { duration: 12_000 });
      else notice.success(`Done for ${alike.length + 1} batteries.`);
      return mine;
    },
  };
  return { mates, on: on && alike.length > 0, setOn, sender: both };
}

/** The command as another battery of the tray gets it: its own charging place, where it needs one. */
function ownCommand(command: JobCommand, taken: Set<number>, places: number): JobCommand | null {
  if (command.type !== 'startCharge') return command;
  for (let place = 1; place <= places; place++) {
    if (taken.has(place)) continue;
    taken.add(place);
    return { ...command, place };
  }
  return null;
}
