import { leadAcidKind } from '../batteries/kinds.ts';
import type { CcaStandard } from '../batteries/model.ts';
import { believableRestV } from '../capacity/stateOfCharge.ts';
import { labelMilliohm } from '../batteries/labelResistance.ts';
import { askAbout, type ReadingContext } from '../quantities/plausibility.ts';
import { QUANTITIES, type QuantityKey } from '../quantities/quantity.ts';
import { chargeStatus } from '../job/chargeStatus.ts';
import { type JobCommand, Refused } from '../job/commands.ts';
import type { DecisionContext } from '../job/context.ts';
import type { JobEvent } from '../job/events.ts';
import { evolve } from './evolve.ts';
import type {
  CellValues,
  Reading,
  ReadingMark,
  ReadingRole,
  ReadingValues,
} from '../job/reading.ts';
import { chargeStartedAt, type ChargeState } from '../job/chargeState.ts';
import { everCharged, type Job, standingReadings } from '../job/job.ts';
import { type Step, stepById, type StepKind, hasRole } from '../plan/procedure.ts';
import { moduleOf } from './registry.ts';
import { done } from './step.ts';
import { jobChemistry } from '../job/verdict.ts';
import type { Trip } from '../charging/trips.ts';
import type { HandTrip } from '../charging/guards.ts';
import { CELL_SUM_V } from '../batteries/cells.ts';

/** Which value is which quantity, and its word. */
export const VALUE_FIELDS: Readonly<
  Record<keyof ReadingValues, { quantity: QuantityKey; label: string }>
> = {
  voltageV: { quantity: 'voltage', label: 'Volts' },
  currentA: { quantity: 'current', label: 'Amps' },
  temperatureC: { quantity: 'temperature', label: 'Temperature' },
  specificGravity: { quantity: 'specificGravity', label: 'SG' },
  resistanceMilliohm: { quantity: 'resistance', label: 'Resistance' },
  ccaA: { quantity: 'crankingCurrent', label: 'CCA' },
  massG: { quantity: 'mass', label: 'Mass' },
  beforeV: { quantity: 'voltage', label: 'Volts before' },
  afterV: { quantity: 'voltage', label: 'Volts after' },
};

/** What each kind of reading must hold, and may. */
export const ROLE_FIELDS: Readonly<
  Record<
    Exclude<ReadingRole, 'shelf'>,
    { must: readonly (keyof ReadingValues)[]; may: readonly (keyof ReadingValues)[] }
  >
> = {
  arrival: { must: ['voltageV'], may: ['temperatureC'] },
  charge: { must: ['voltageV', 'currentA', 'temperatureC'], may: ['specificGravity'] },
  rest: { must: ['voltageV'], may: ['temperatureC'] },
  load: { must: ['voltageV', 'temperatureC'], may: ['beforeV', 'afterV'] },
  analyser: { must: ['ccaA'], may: ['resistanceMilliohm', 'voltageV', 'temperatureC'] },
  cells: { must: [], may: ['temperatureC'] },
  hold: { must: ['voltageV'], may: ['temperatureC'] },
  spot: {
    must: [],
    may: [
      'voltageV',
      'currentA',
      'temperatureC',
      'specificGravity',
      'resistanceMilliohm',
      'ccaA',
      'massG',
    ],
  },
};

/** Questions to ask once before these values are kept. */
function questionsAbout(
  job: Job,
  role: ReadingRole,
  values: ReadingValues,
): { field: keyof ReadingValues; question: string }[] {
  const { model, figures } = job.plan;
  const context: ReadingContext = {
    cells: model.cells,
    c20Ah: model.c20Ah,
    soundMilliohm: labelMilliohm(model),
    ratedCca: model.cca,
  };
  if (role === 'charge') context.chargeA = job.state.charge?.setA ?? figures.chargeA.value;
  return Object.entries(values).flatMap(([name, value]) => {
    const field = name as keyof ReadingValues;
    const underLoad = role === 'load' && field === 'voltageV';
    const question = askAbout(VALUE_FIELDS[field].quantity, value as number, {
      ...context,
      underLoad,
    });
    return question ? [{ field, question }] : [];
  });
}

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
  if (command.role === 'charge') {
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
  const marks = ask(job, command);
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
    marks: [...restMarks(job, command.role, command.values, at, state.attempt), ...marks],
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
  const readAt = old.stepId === null ? null : stepById(job.procedure, old.stepId).kind;
  checkReading(job, { role: old.role, values: command.values, cells, standard }, readAt);
  const over = job.state.status === 'closed' || job.state.status === 'refused';
  if (over && !command.reason)
    throw new Refused(
      'It was handed over with that reading. Say why it is corrected now; that is printed.',
      'invalid',
      'reason',
    );
  const marks = ask(job, { ...command, role: old.role });
  const reading: Reading = {
    ...old,
    id: context.commandId,
    enteredAt: context.now,
    by: context.by.id,
    values: command.values,
    ...(cells ? { cells } : {}),
    ...(standard ? { standard } : {}),
    supersedes: old.id,
    marks: [...restMarks(job, old.role, command.values, old.at, old.attempt), ...marks],
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
function labelOf({ values, cells }: Reading): string {
  const [field] = Object.keys(values) as (keyof ReadingValues)[];
  return cells ? 'Cells' : field ? VALUE_FIELDS[field].label : 'Reading';
}

/** The rules every reading obeys, typed the first time or corrected. */
function checkReading(
  job: Job,
  {
    role,
    values,
    cells,
    standard,
  }: {
    role: ReadingRole;
    values: ReadingValues;
    cells?: readonly CellValues[] | undefined;
    standard?: CcaStandard | undefined;
  },
  at: StepKind | null,
): void {
  checkFields(role, values);
  checkCells(job, role, cells);
  checkStandard(job, role, standard, at);
  const { ports } = leadAcidKind(job.plan.model.kind);
  // Opened once, to be filled: whoever reads its acid then does so outside a charge.
  const closed = role === 'charge' ? ports !== 'serviceable' : ports === 'never';
  if (values.specificGravity !== undefined && closed)
    throw new Refused(
      'Its cells are closed: no hydrometer reaches them.',
      'invalid',
      'specificGravity',
    );
}

function checkFields(role: ReadingRole, values: ReadingValues): void {
  if (role === 'shelf')
    throw new Refused('A shelf reading belongs to a round of the shelf.', 'invalid', 'role');
  const { must, may } = ROLE_FIELDS[role];
  const missing = must.find((field) => values[field] === undefined);
  if (missing)
    throw new Refused(`Type the ${VALUE_FIELDS[missing].label.toLowerCase()}.`, 'invalid', missing);
  const given = Object.keys(values) as (keyof ReadingValues)[];
  if (given.length === 0 && role !== 'cells')
    throw new Refused('Type at least one value.', 'invalid', 'values');
  for (const field of given) {
    const { quantity, label } = VALUE_FIELDS[field];
    if (!must.includes(field) && !may.includes(field))
      throw new Refused(`${label} does not belong to this reading.`, 'invalid', field);
    const [low, high] = QUANTITIES[quantity].possible;
    const value = values[field] as number;
    if (!(value >= low && value <= high))
      throw new Refused(
        `${label} must lie between ${low} and ${high} ${QUANTITIES[quantity].unit}.`.replace(
          ' .',
          '.',
        ),
        'invalid',
        field,
      );
  }
}

/** Every cell answered, each value possible; levels alone will do. */
function checkCells(job: Job, role: ReadingRole, cells: readonly CellValues[] | undefined): void {
  if (role !== 'cells') {
    if (cells) throw new Refused('Cells belong to a reading of the cells.', 'invalid', 'cells');
    return;
  }
  const count = job.plan.model.cells;
  if (
    leadAcidKind(job.plan.model.kind).ports === 'never' &&
    cells?.some((c) => c.specificGravity !== undefined)
  )
    throw new Refused('Its cells are closed: no hydrometer reaches them.', 'invalid', 'cells');
  if (cells?.length !== count)
    throw new Refused(`Answer for all ${count} cells.`, 'invalid', 'cells');
  const empty = cells.findIndex((c) => Object.keys(c).length === 0);
  if (empty >= 0) throw new Refused(`Cell ${empty + 1} is missing.`, 'invalid', `cells.${empty}`);
  cells.forEach((cell, i) => {
    for (const [value, [low, high], name] of [
      [cell.specificGravity, QUANTITIES.specificGravity.possible, 'SG'],
      [cell.voltageV, POSSIBLE_CELL_V, 'Volts'],
    ] as const)
      if (value !== undefined && !(value >= low && value <= high))
        throw new Refused(
          `${name} of cell ${i + 1} must lie between ${low} and ${high}.`,
          'invalid',
          `cells.${i}`,
        );
  });
}
/** A reversed cell reads below zero; nothing else is outside this, V. */
const POSSIBLE_CELL_V = [-3, 3] as const;

/** An analyser's CCA needs its standard, and no other reading has one. */
function checkStandard(
  job: Job,
  role: ReadingRole,
  standard: CcaStandard | undefined,
  at: StepKind | null,
): void {
  if (role !== 'analyser') {
    if (standard)
      throw new Refused('A standard belongs to an analyser’s CCA.', 'invalid', 'standard');
    return;
  }
  if (!standard)
    throw new Refused('Say by which standard the analyser was set.', 'invalid', 'standard');
  const { ccaStandard } = job.plan.model;
  if (at === 'load' && standard !== ccaStandard)
    throw new Refused(
      ccaStandard
        ? `The rating is by ${ccaStandard}. ${standard} is another test and is never converted: set the analyser to ${ccaStandard}.`
        : 'The maker prints no CCA for this model, so an analyser cannot judge it. Make the load test.',
      'invalid',
      'standard',
    );
}

/** Cells whose readings cannot belong together: asked about once. */
function questionAboutCells(job: Job, { cells, values }: Measurement): string | null {
  if (!cells) return null;
  const context: ReadingContext = { cells: 1, c20Ah: job.plan.model.c20Ah };
  for (const [i, cell] of cells.entries()) {
    const odd =
      cell.specificGravity === undefined
        ? null
        : askAbout('specificGravity', cell.specificGravity, context);
    if (odd) return `Cell ${i + 1}: ${odd}`;
  }
  const volts = cells.map((c) => c.voltageV);
  if (values.voltageV !== undefined && volts.every((v) => v !== undefined)) {
    const sum = volts.reduce((total, v) => total + v, 0);
    if (Math.abs(sum - values.voltageV) > CELL_SUM_V)
      return `The cells add up to ${sum.toFixed(2)} V, the posts read ${values.voltageV.toFixed(2)} V. Is every cell right?`;
  }
  return null;
}

type Measurement = Pick<
  Extract<JobCommand, { type: 'read' }>,
  'role' | 'values' | 'cells' | 'sure'
>;

function ask(job: Job, measurement: Measurement): ReadingMark[] {
  const { role, values, sure } = measurement;
  const inCells = questionAboutCells(job, measurement);
  const [first] = [
    ...questionsAbout(job, role, values),
    ...(inCells ? [{ field: 'cells', question: inCells }] : []),
  ];
  if (!first) return [];
  if (!sure) throw new Refused(first.question, 'ask', first.field);
  return ['confirmed'];
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
  const judged = reading.marks.every((m) => m === 'confirmed');
  const step = stepInHand(job);
  const ends = step && moduleOf(step).ends;
  if (step && ends?.by.includes(reading.role) && judged && (ends.whole?.(reading) ?? true))
    events.push(done(step));
  return events;
}
