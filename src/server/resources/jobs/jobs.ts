import { createHash, randomUUID } from 'node:crypto';
import { type Transaction } from 'sequelize';
import type { Person } from '../../../contract/wire.ts';
import type { SendCommand } from '../../../contract/asks.ts';
import { decide } from '../../../core/steps/decide.ts';
import type { JobCommand } from '../../../core/job/commands.ts';
import type { JobEvent, Signed } from '../../../core/job/events.ts';
import type { LiveStart } from '../../../core/job/chargeState.ts';
import { evolve } from '../../../core/steps/evolve.ts';
import { openJob } from '../../../core/steps/openJob.ts';
import type { Job, JobState } from '../../../core/job/job.ts';
import { lotUses } from '../../../core/steps/lotUse.ts';
import type { JobPlan } from '../../../core/plan/jobPlan.ts';
import { type Procedure, stepById } from '../../../core/plan/procedure.ts';
import { fillText } from '../../../core/plan/words.ts';
import { clockEvents } from '../../../core/steps/settle.ts';
import { INSTRUMENT } from '../../../core/job/signers.ts';
import { type Context, once, parsed, readRules } from '../../context.ts';
import { conflict, notFound } from '../../http/problem.ts';
import { keepSheet } from '../documents/sheets.ts';
import { summarise } from '../recoveries/recoveries.ts';
import { moveOnShelf } from '../shelf/moves.ts';
import { stockedLot, takeFromLots } from '../wetroom/lots.ts';
import type { Store } from '../../store/store.ts';
import type { JobRow } from '../../store/rows.ts';
import { procedureNow } from '../../../core/job/stored.ts';
import { chargersInUse, takenPlaces } from './openJobs.ts';
import { shopChargers } from '../chargers/chargers.ts';
import { jobPlan } from '../../../core/plan/plan.ts';
import { knowSize } from '../models/models.ts';
import { estimateAfterTests } from '../../../core/recovery/sizeByTests.ts';

/** A new job row for a battery, its procedure kept once by content. */
export async function createJob(
  store: Store,
  batteryId: string,
  procedure: Procedure,
  plan: JobPlan,
  at: number,
  by: string,
  transaction: Transaction,
): Promise<string> {
  const hash = `${procedure.id}-${createHash('sha256').update(JSON.stringify(procedure)).digest('base64url').slice(0, 16)}`;
  await store.tables.procedures.findOrCreate({
    where: { hash },
    defaults: { hash, body: procedure },
    transaction,
  });
  const { state } = openJob(procedure, plan, at, by);
  const id = randomUUID();
  await store.tables.jobs.create(
    {
      id,
      batteryId,
      procedureHash: hash,
      plan,
      state,
      status: state.status,
      purpose: procedure.purpose,
      openedAt: at,
      closedAt: null,
      seq: 0,
    },
    { transaction },
  );
  await store.tables.stock.update({ jobId: id }, { where: { batteryId }, transaction });
  return id;
}

interface Loaded {
  row: JobRow;
  job: Job;
}

async function loadJob(store: Store, id: string, transaction?: Transaction): Promise<Loaded> {
  const row = await store.tables.jobs.findByPk(id, {
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  if (!row) throw notFound('That job');
  const procedure = await procedureOf(store, row.procedureHash);
  const state = parsed(row.state) as JobState;
  return {
    row,
    job: { procedure, plan: state.replanned ?? (parsed(row.plan) as JobPlan), state },
  };
}

const proceduresByStore = new WeakMap<Store, Map<string, Procedure>>();

/** Procedures are kept by content and never change, so once read they are known. */
export async function procedureOf(store: Store, hash: string): Promise<Procedure> {
  const known = proceduresByStore.get(store) ?? new Map<string, Procedure>();
  proceduresByStore.set(store, known);
  let procedure = known.get(hash);
  if (!procedure) {
    const row = await store.tables.procedures.findByPk(hash, { raw: true });
    if (!row) throw notFound('That procedure');
    procedure = procedureNow(parsed(row.body) as Procedure);
    known.set(hash, procedure);
  }
  return procedure;
}

/** Does one command in a job: decides, appends the events, and folds them into the state, all or nothing. */
export async function sendCommand(
  context: Context,
  jobId: string,
  body: SendCommand,
): Promise<{ jobId: string } & Touched> {
  const { store } = context;
  const live = (await context.live?.before(jobId, body.command)) ?? undefined;
  const answer = await once(context, body, async ({ by, now, transaction }) => {
    const { row, job } = await loadJob(store, jobId, transaction);
    const fromClock = clockEvents(job, now);
    const settled = fromClock.reduce(evolve, job);
    if (body.seenRun !== undefined && settled.state.current?.startedAt !== body.seenRun)
      throw conflict(await whatHappened(store, settled, row));
    const rules = await readRules(store, transaction);
    const { places } = rules;
    // Only a charge that begins asks which places are free; the other jobs are not read for less.
    const taken =
      body.command.type === 'startCharge' ? await takenPlaces(store, jobId, transaction) : [];
    const wall =
      body.command.type === 'startCharge' && body.command.charger
        ? {
            chargers: await shopChargers(store, transaction),
            chargersInUse: await chargersInUse(store, jobId, transaction),
          }
        : {};
    const named =
      'lot' in body.command && body.command.lot
        ? await stockedLot(store, body.command.lot.trim(), now, transaction)
        : undefined;
    const lotsCounted =
      'lot' in body.command && body.command.lot
        ? (await store.tables.lots.count({ transaction })) > 0
        : false;
    const events = decide(settled, body.command, {
      now,
      by,
      commandId: body.commandId,
      places,
      takenPlaces: taken,
      ...wall,
      replan: (c20Ah) => ({
        ...settled.plan,
        ...jobPlan(
          { ...settled.plan.model, c20Ah, estimate: null },
          rules,
          settled.procedure.purpose,
        ),
      }),
      live,
      lot: named,
      lotsCounted,
    });
    const signed: Signed<JobEvent>[] = [
      ...fromClock,
      ...events.map((event) => ({ at: now, by: by.id, event })),
    ];
    const touched = await append(store, row, job, signed, body.commandId, transaction);
    if (body.command.type === 'tellSize')
      await knowSize(
        store,
        row.batteryId,
        { c20Ah: body.command.c20Ah, estimate: null },
        transaction,
      );
    return { jobId, ...touched };
  });
  await context.live?.sync(jobId);
  context.changes.announce({ topic: 'bench', jobId, seq: answer.seq });
  if (answer.lots) context.changes.announce({ topic: 'lots' });
  if (answer.shelf) context.changes.announce({ topic: 'shelf' });
  return answer;
}

/** Somebody was quicker: who, and what is in hand now. */
async function whatHappened(
  store: Store,
  { procedure, plan, state }: Job,
  row: JobRow,
): Promise<string> {
  const last = state.runs.at(-1);
  const person = last?.by ? await store.tables.people.findByPk(last.by, { raw: true }) : null;
  const title = (stepId: string) => `“${fillText(stepById(procedure, stepId).title, plan)}”`;
  const done = last
    ? `${person ? `${person.name} has ended` : 'Meanwhile it is past'} ${title(last.stepId)}.`
    : '';
  const now = state.current
    ? ` In hand now: ${title(state.current.stepId)}.`
    : ` This job is ${row.status === 'with-lead' ? 'with the lead' : row.status} by now.`;
  return `${done}${now} Look again before you go on.`.trim();
}

/** What an instrument, a guard or the clock brought about in a job. */
export interface Happened {
  jobId: string;
  at: number;
  /** Sees the job as it stands; nothing is written where it makes nothing. */
  make: (job: Job) => JobEvent[];
  /** Who signs; the instrument unless somebody else does. */
  by?: string;
}

/** Appends what was brought about, in order and all of it together: the disk is waited for once, however much it is. */
export async function recordInJobs(context: Context, happened: readonly Happened[]): Promise<void> {
  if (happened.length === 0) return;
  const { store } = context;
  await store.write(async (transaction) => {
    for (const { jobId, at, make, by = INSTRUMENT } of happened) {
      const { row, job } = await loadJob(store, jobId, transaction);
      const fromClock = clockEvents(job, at);
      const events = make(fromClock.reduce(evolve, job));
      if (events.length > 0)
        await append(
          store,
          row,
          job,
          [...fromClock, ...events.map((event) => ({ at, by, event }))],
          randomUUID(),
          transaction,
        );
    }
  });
  for (const jobId of new Set(happened.map((h) => h.jobId)))
    context.changes.announce({ topic: 'bench', jobId });
}

export const recordInJob = (
  context: Context,
  jobId: string,
  at: number,
  make: Happened['make'],
  by?: string,
): Promise<void> =>
  recordInJobs(context, [{ jobId, at, make, ...(by === undefined ? {} : { by }) }]);

export async function readJob(
  store: Store,
  jobId: string,
  transaction?: Transaction,
): Promise<Job & { batteryId: string }> {
  const { row, job } = await loadJob(store, jobId, transaction);
  return { ...job, batteryId: row.batteryId };
}

/**
 * The start of a charge on an instrument: decided like one by hand, with the live charge noted in it.
 * Runs inside the caller's transaction.
 */
export async function startChargeInJob(
  store: Store,
  jobId: string,
  command: Extract<JobCommand, { type: 'startCharge' }>,
  live: LiveStart,
  signed: { by: Person; now: number; transaction: Transaction; commandId: string },
): Promise<void> {
  const { by, now, transaction, commandId } = signed;
  const { row, job } = await loadJob(store, jobId, transaction);
  const fromClock = clockEvents(job, now);
  const { places } = await readRules(store, transaction);
  const takenNow = await takenPlaces(store, jobId, transaction);
  const events = decide(fromClock.reduce(evolve, job), command, {
    now,
    by,
    commandId,
    places,
    takenPlaces: takenNow,
  });
  const marked = events.map((event) =>
    event.type === 'charge.started' ? { ...event, live } : event,
  );
  await append(
    store,
    row,
    job,
    [...fromClock, ...marked.map((event) => ({ at: now, by: by.id, event }))],
    commandId,
    transaction,
  );
}

async function append(
  store: Store,
  row: JobRow,
  job: Job,
  signed: Signed<JobEvent>[],
  commandId: string,
  transaction: Transaction,
): Promise<Touched> {
  const { events, readings, jobs } = store.tables;
  let seq = row.seq;
  for (const { at, by, event } of signed) {
    const logged = await events.create(
      { at, by, batteryId: row.batteryId, jobId: row.id, commandId, type: event.type, data: event },
      { transaction },
    );
    seq = logged.seq as number;
    if (event.type === 'reading.taken') {
      const { supersededBy: _, ...reading } = event.reading;
      await readings.create(
        { ...reading, batteryId: row.batteryId, jobId: row.id },
        { transaction },
      );
    }
  }
  const after = signed.reduce(evolve, job);
  const { state } = after;
  await summarise(store, row.id, row.batteryId, after, transaction);
  if (state.closedAt !== null && job.state.closedAt === null)
    await keepSheet(store, row.id, after, state.closedAt, transaction);
  await jobs.update(
    { state, status: state.status, closedAt: state.closedAt, seq },
    { where: { id: row.id }, transaction },
  );
  const measured = state.closedAt === null ? null : estimateAfterTests(after);
  if (measured) await knowSize(store, row.batteryId, measured, transaction);
  const last = signed.at(-1);
  const uses = lotUses(
    job,
    signed.map((s) => s.event),
  );
  return {
    seq,
    lots:
      last !== undefined &&
      uses.length > 0 &&
      (await takeFromLots(store, uses, { at: last.at, by: last.by, jobId: row.id }, transaction)),
    shelf:
      last !== undefined &&
      (await moveOnShelf(
        store,
        row,
        job.state,
        state,
        { at: last.at, by: last.by, commandId },
        transaction,
      )),
  };
}

/** What of the rest of the shop a job has touched. */
interface Touched {
  /** Number of the job's last event. */
  seq: number;
  lots: boolean;
  shelf: boolean;
}
