import { leadAcidKind } from '../batteries/kinds.ts';
import type { CcaStandard } from '../batteries/model.ts';
import { labelMilliohm } from '../batteries/labelResistance.ts';
import { askAbout, type ReadingContext } from '../quantities/plausibility.ts';
import { QUANTITIES } from '../quantities/quantity.ts';
import { type JobCommand, Refused } from '../job/commands.ts';
import type { CellValues, ReadingMark, ReadingRole, ReadingValues } from '../job/reading.ts';
import type { Showing } from '../chargers/showing.ts';
import { type Job } from '../job/job.ts';
import { type StepKind } from '../plan/procedure.ts';
import { CELL_SUM_V } from '../batteries/cells.ts';
import { fieldsFor, VALUE_FIELDS } from './readingFields.ts';

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

/** The rules every reading obeys, typed the first time or corrected. */
export function checkReading(
  job: Job,
  {
    role,
    values,
    cells,
    standard,
    showing,
  }: {
    role: ReadingRole;
    values: ReadingValues;
    cells?: readonly CellValues[] | undefined;
    standard?: CcaStandard | undefined;
    showing?: Showing | undefined;
  },
  at: StepKind | null,
): void {
  checkFields(job, role, values, showing);
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

function checkFields(
  job: Job,
  role: ReadingRole,
  values: ReadingValues,
  showing: Showing | undefined,
): void {
  if (role === 'shelf')
    throw new Refused('A shelf reading belongs to a round of the shelf.', 'invalid', 'role');
  if (role === 'light' && !showing)
    throw new Refused('Tap what the charger shows.', 'invalid', 'showing');
  if (role !== 'light' && role !== 'charge' && showing)
    throw new Refused('Lights belong to a reading on charge.', 'invalid', 'showing');
  const { must, may } = fieldsFor(role, job.state.charge);
  const missing = must.find((field) => values[field] === undefined);
  if (missing)
    throw new Refused(`Type the ${VALUE_FIELDS[missing].label.toLowerCase()}.`, 'invalid', missing);
  const given = Object.keys(values) as (keyof ReadingValues)[];
  if (given.length === 0 && role !== 'cells' && !showing)
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

export function markOrAsk(job: Job, measurement: Measurement): ReadingMark[] {
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
