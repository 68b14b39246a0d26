import { believableRestV } from '../capacity/stateOfCharge.ts';
import { chargeStatus } from '../job/chargeStatus.ts';
import { type JobCommand, Refused } from '../job/commands.ts';
import type { DecisionContext } from '../job/context.ts';
import type { JobEvent } from '../job/events.ts';
import { evolve } from './evolve.ts';
import type { Reading, ReadingMark, ReadingRole, ReadingValues } from '../job/reading.ts';
import { chargeStartedAt, type ChargeState } from '../job/chargeState.ts';
import { everCharged, type Job, standingReadings } from '../job/job.ts';
import { type Step, stepById, hasRole } from '../plan/procedure.ts';
import { moduleOf } from './registry.ts';
import { done } from './step.ts';
import { jobChemistry } from '../job/verdict.ts';
import { standsStill } from '../chargers/showing.ts';
import { findingAt } from '../job/chargeShowing.ts';
import type { Trip } from '../charging/trips.ts';
import type { HandTrip } from '../charging/guards.ts';
import { checkReading, markOrAsk } from './readingChecks.ts';
import { VALUE_FIELDS } from './readingFields.ts';

/** A job by hand that lasts three months with a reading each hour; every page that shows the job carries them all. */
const MOST_READINGS = 2200;

/** A page's clock may differ from the server's by this much without anybody being wrong. */
const CLOCK_SLACK_MS = 2 * 60_000;

/** A reading typed at the bench: kept always, marked when it is early, acted on when it is dangerous. */
export function takeReading(
  job: Job,
  command: Extract<JobCommand, { type: 'read' }>,
  context: DecisionContext,
): JobEvent[] {
  const { state } = job;
  if (state.readings.length >= MOST_READINGS)
    throw new Refused(
      `This job holds ${MOST_READINGS} readings. End it, and go on in another.`,
      'out-of-order',
      'role',
    );
  const said = command.takenAt ?? context.now;
  if (said > context.now + CLOCK_SLACK_MS)
    throw new Refused('That time is still to come.', 'invalid', 'takenAt');
  let at = Math.min(said, context.now);
  if (at < state.openedAt)
    throw new Refused('That time is before the job was opened.', 'invalid', 'takenAt');
  checkReading(job, command, stepInHand(job)?.kind ?? null);
  if (command.role === 'charge' || command.role === 'light') {
    if (!state.charge || state.charge.mode === 'ended')
      throw new Refused('No charge is running. Start it first.', 'out-of-order', 'role');
    if (at < chargeStartedAt(state.charge) - CLOCK_SLACK_MS)
      throw new Refused('That time is before the charge began.', 'invalid', 'takenAt');
    at = Math.max(at, chargeStartedAt(state.charge));
  }
  if (command.role === 'rest' && !charged(job)) {
    throw new Refused(
      'A rest voltage comes after the charge. Keep this one as a spot reading.',
      'out-of-order',
      'role',
    );
  }
  const wanted = ONLY_WHERE_WANTED[command.role];
  if (wanted && !isWanted(job, command.role)) throw new Refused(wanted, 'out-of-order', 'role');
  if (command.role === 'arrival' && everCharged(state))
    throw new Refused(
      'It has been charged since it came. Keep this one as a spot reading.',
      'out-of-order',
      'role',
    );
  const marks = markOrAsk(job, command);
  const reading: Reading = {
    id: context.commandId,
    at,
    enteredAt: context.now,
    by: context.by.id,
    role: command.role,
    stepId: state.current?.stepId ?? null,
    attempt: state.attempt,
    values: command.values,
    ...(command.cells ? { cells: command.cells } : {}),
    ...(command.standard ? { standard: command.standard } : {}),
    ...(command.showing ? { showing: command.showing } : {}),
    marks: [
      ...(command.fresh ? (['fresh'] as const) : []),
      ...restMarks(job, command.role, command.values, at, state.attempt),
      ...marks,
    ],
    supersedes: null,
    supersededBy: null,
  };
  return follow(job, reading, context);
}

/** A correction: a new reading in the old one's place and moment. The old one stays on the record. */
export function correctReading(
  job: Job,
  command: Extract<JobCommand, { type: 'correct' }>,
  context: DecisionContext,
): JobEvent[] {
  const old = job.state.readings.find((r) => r.id === command.readingId);
  if (!old) throw new Refused('This job has no such reading.', 'invalid', 'readingId');
  if (old.supersededBy)
    throw new Refused(
      'That reading was corrected already. Correct the newer one.',
      'out-of-order',
      'readingId',
    );
  if (old.role === 'shelf')
    throw new Refused(
      'A reading of a shelf round is corrected on the shelf.',
      'invalid',
      'readingId',
    );
  const cells = old.cells ? (command.cells ?? undefined) : undefined;
  const standard = command.standard ?? old.standard ?? undefined;
  const showing = command.showing ?? old.showing ?? undefined;
  const readAt = old.stepId === null ? null : stepById(job.procedure, old.stepId).kind;
  checkReading(job, { role: old.role, values: command.values, cells, standard, showing }, readAt);
  const over = job.state.status === 'closed' || job.state.status === 'refused';
  if (over && !command.reason)
    throw new Refused(
      'It was handed over with that reading. Say why it is corrected now; that is printed.',
      'invalid',
      'reason',
    );
  const marks = markOrAsk(job, { ...command, role: old.role });
  const reading: Reading = {
    ...old,
    id: context.commandId,
    enteredAt: context.now,
    by: context.by.id,
    values: command.values,
    ...(cells ? { cells } : {}),
    ...(standard ? { standard } : {}),
    ...(showing ? { showing } : {}),
    supersedes: old.id,
    marks: [
      ...old.marks.filter((m) => m === 'fresh'),
      ...restMarks(job, old.role, command.values, old.at, old.attempt),
      ...marks,
    ],
  };
  if (!over) return follow(job, reading, context);
  // What it was judged by stays as it was; the sheet says that a reading was corrected since.
  const late: JobEvent = {
    type: 'deviation',
    stepId: old.stepId ?? (job.procedure.steps.at(-1)?.id as string),
    what: { kind: 'corrected-late', label: labelOf(old) },
    reason: command.reason as string,
  };
  return [{ type: 'reading.taken', reading }, late];
}

/** What a reading is mostly of, in a word. */
function labelOf({ values, cells, showing }: Reading): string {
  const [field] = Object.keys(values) as (keyof ReadingValues)[];
  return showing
    ? 'What the charger shows'
    : cells
      ? 'Cells'
      : field
        ? VALUE_FIELDS[field].label
        : 'Reading';
}

function stepInHand({ state, procedure }: Job): Step | null {
  return state.current ? stepById(procedure, state.current.stepId) : null;
}

/** Has the charge of this attempt been ended? */
function charged(job: Job): boolean {
  return job.state.runs.some(
    (r) =>
      r.attempt === job.state.attempt &&
      stepById(job.procedure, r.stepId).kind === 'charge' &&
      r.end !== 'reopened',
  );
}

/** Marks of a rest voltage: read before its rest was over, or too high to have rested. */
function restMarks(
  job: Job,
  role: ReadingRole,
  values: ReadingValues,
  at: number,
  attempt: number,
): ReadingMark[] {
  if (role !== 'rest') return [];
  const { state, plan } = job;
  const rest = [...state.runs, ...(state.current ? [state.current] : [])].findLast(
    (r) => r.attempt === attempt && hasRole(job.procedure, r.stepId, 'rest-before-verdict'),
  );
  const marks: ReadingMark[] = [];
  const early = !rest || rest.dueAt === null || at < rest.dueAt;
  if (early) marks.push('early');
  if (
    !again(job, early, at) &&
    (values.voltageV ?? 0) >
      believableRestV(plan.model.cells, jobChemistry(job), plan.figures.fillSg.value)
  )
    marks.push('surface');
  return marks;
}

/**
 * Has it read too high before, after its whole rest? On a recovery that is then what it reads: one that has lost water has
 * stronger acid than its kind, and no further rest takes that away.
 */
function again({ state, procedure }: Job, early: boolean, at: number): boolean {
  if (early || procedure.purpose !== 'recover') return false;
  return standingReadings(state, 'rest').some(
    (r) =>
      r.attempt === state.attempt &&
      r.at < at &&
      r.marks.includes('surface') &&
      !r.marks.includes('early'),
  );
}

/** Readings that mean something only in the step that asks for them, and what to say elsewhere. */
const ONLY_WHERE_WANTED: Readonly<Partial<Record<ReadingRole, string>>> = {
  hold: 'The hold is not over yet. Keep this one as a spot reading.',
  load: 'The load test is not the step in hand.',
};

/** Does the step in hand ask for such a reading? */
function isWanted(job: Job, role: ReadingRole): boolean {
  const step = stepInHand(job);
  const { ends, also } = step ? moduleOf(step) : {};
  return (ends?.by.includes(role) || also?.includes(role)) ?? false;
}

/** What the worst of the guards does to a charge by hand; a correction lets go of one that was stopped by a slip of the pen. */
function guarded(
  mode: ChargeState['mode'],
  worst: HandTrip | undefined,
  corrects: boolean,
): JobEvent[] {
  const { action = null, ...tripped } = worst ?? {};
  const why = { by: 'guard', trip: tripped as Trip } as const;
  if (action === 'stop') return mode === 'halted' ? [] : [{ type: 'charge.halted', why }];
  if (mode === 'halted')
    return corrects ? [{ type: 'charge.paused', why: { by: 'correction' } }] : [];
  if (mode !== 'running' || action === null) return [];
  return [{ type: action === 'pause' ? 'charge.paused' : 'charge.warned', why }];
}

/** What a kept reading sets off: a guard, the end of a measuring step, a halted charge that was only a slip of the pen. */
function follow(job: Job, reading: Reading, context: DecisionContext): JobEvent[] {
  const taken: JobEvent = { type: 'reading.taken', reading };
  const events: JobEvent[] = [taken];
  const { state } = job;
  if (
    reading.role === 'charge' &&
    state.charge &&
    state.charge.mode !== 'ended' &&
    reading.attempt === state.attempt
  ) {
    const after = evolve(job, { at: context.now, by: context.by.id, event: taken });
    events.push(
      ...guarded(
        state.charge.mode,
        chargeStatus(after, context.now).trips[0],
        reading.supersedes !== null,
      ),
    );
  }
  const { showing } = reading;
  if (showing && state.charge?.mode === 'running' && standsStill(showing.means)) {
    const finding = findingAt(job, showing, reading.at);
    if (finding) events.push({ type: 'charge.paused', why: { by: 'charger', finding } });
  }
  const judged = reading.marks.every((m) => m === 'confirmed');
  const step = stepInHand(job);
  const ends = step && moduleOf(step).ends;
  if (step && ends?.by.includes(reading.role) && judged && (ends.whole?.(reading) ?? true))
    events.push(done(step));
  return events;
}
