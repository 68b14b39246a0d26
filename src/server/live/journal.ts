import { randomUUID } from 'node:crypto';
import type { LiveSample } from '../../contract/chargeWire.ts';
import type { JobEvent } from '../../core/job/events.ts';
import { type Job, chargeResult } from '../../core/job/job.ts';
import type { Reading } from '../../core/job/reading.ts';
import { restedFull } from '../../core/recovery/recovery.ts';
import { INSTRUMENT } from '../../core/job/signers.ts';
import type { Context } from '../context.ts';
import { recordInJobs } from '../resources/jobs/jobs.ts';
import type { Happening, LiveCharge } from './liveCharge.ts';

interface Entry {
  charge: LiveCharge;
  happening: Happening;
  at: number;
  newest: LiveSample | null;
  ahIn: number;
}

/**
 * Writes what happened on an instrument into the jobs, signed by the instrument, in order. What
 * cannot be written now is owed and written with the next look.
 */
export class Journal {
  #owed: Entry[] = [];

  constructor(private readonly context: Context) {}

  note(charge: LiveCharge, happening: Happening, at: number): void {
    this.#owed.push({ charge, happening, at, newest: charge.newest, ahIn: charge.run.ahIn });
  }

  owes(charge: LiveCharge): boolean {
    return this.#owed.some((entry) => entry.charge === charge);
  }

  /** Writes what is owed, oldest first, all or nothing. @throws whatever the store throws; then it stays owed */
  async settle(): Promise<void> {
    const owed = [...this.#owed];
    await recordInJobs(
      this.context,
      owed.map((entry) => ({
        jobId: entry.charge.jobId,
        at: entry.at,
        make: (job) =>
          job.state.charge?.live?.chargeId === entry.charge.id ? eventsOf(entry, job) : [],
      })),
    );
    this.#owed.splice(0, owed.length);
  }
}

/** What a happening means for a job as it stands. */
function eventsOf({ happening, at, newest, ahIn }: Entry, job: Job): JobEvent[] {
  const { charge, current } = job.state;
  const reading = (): JobEvent[] =>
    newest ? [{ type: 'reading.taken', reading: readingOf(newest, job) }] : [];
  switch (happening.type) {
    case 'hour':
      return reading();
    case 'stage':
      return [
        { type: 'charge.stage', stage: happening.stage, end: happening.end },
        ...capacityOf(happening, job, at),
      ];
    case 'still-on':
      return [{ type: 'charge.warned', why: { by: 'guard', trip: happening.trip } }];
    case 'cooled':
      return charge?.mode === 'paused'
        ? [{ type: 'charge.resumed', temperatureC: happening.temperatureC }]
        : [];
    case 'trip': {
      if (charge?.mode !== 'running') return [];
      const { action, ...tripped } = happening.trip;
      const why = { by: 'guard', trip: tripped } as const;
      if (action === 'stop') return [...reading(), { type: 'charge.halted', why }];
      return [
        ...reading(),
        {
          type: 'charge.paused',
          why,
          ...(action === 'pause' ? { resumesItself: true as const } : {}),
        },
      ];
    }
    case 'finished': {
      if (!charge || !current || charge.mode === 'ended') return [];
      const result = chargeResult(charge, {
        agrees: true,
        ampereHours: ahIn,
        now: at,
        ended: happening.end,
      });
      return [...reading(), { type: 'step.done', stepId: current.stepId, result }];
    }
  }
}

/** A discharge that an instrument made and stopped is a capacity test, in a job that recovers. */
function capacityOf(
  { discharged }: Extract<Happening, { type: 'stage' }>,
  job: Job,
  at: number,
): JobEvent[] {
  if (
    !discharged ||
    discharged.ah <= 0 ||
    discharged.hours <= 0 ||
    job.procedure.purpose !== 'recover'
  )
    return [];
  const { ah, hours, endV, temperatureC } = discharged;
  const test = {
    id: randomUUID(),
    at,
    by: INSTRUMENT,
    attempt: job.state.attempt,
    rested: restedFull(job),
    currentA: ah / hours,
    minutes: 60 * hours,
    cutoffV: endV,
    temperatureC,
    method: 'instrument' as const,
  };
  return [{ type: 'capacity.tested', test }];
}

function readingOf(sample: LiveSample, job: Job): Reading {
  const { voltageV, currentA, temperatureC } = sample;
  return {
    id: randomUUID(),
    at: sample.at,
    enteredAt: sample.at,
    by: INSTRUMENT,
    role: 'charge',
    stepId: job.state.current?.stepId ?? null,
    attempt: job.state.attempt,
    values: {
      voltageV,
      currentA: Math.max(0, Math.round(currentA * 100) / 100),
      temperatureC: Math.round(temperatureC * 10) / 10,
    },
    marks: [],
    supersedes: null,
    supersededBy: null,
  };
}
