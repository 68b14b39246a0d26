import { CHEMISTRIES, type Chemistry } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { type CapacityLaw, capacityLawOf } from '../capacity/capacityTest.ts';
import { LOAD_TEST_MINIMUM } from '../capacity/loadTest.ts';
import { type FinishRules, FINISH_RULES } from '../charging/progress.ts';
import { type TemperatureLimits, TEMPERATURE_LIMITS } from '../charging/limits.ts';
import { type GradeLines, GRADE_LINES } from '../diagnosis/grades.ts';
import { FAILING_CELL_SG } from '../batteries/cells.ts';

/**
 * The lines a job is judged by, with the values they had when it began. They are kept with its plan, so
 * that a later version of the program changes neither a running job nor an old verdict.
 */
export interface Lines {
  /** Rest voltage against state of charge of its family, fullest first: [%, V per 12 V]. */
  stateOfCharge: Chemistry['stateOfCharge'];
  /** How a capacity test at any current becomes C20. */
  capacity: CapacityLaw;
  /** Minimum voltage under load by temperature, 12 V: [°C, V]. */
  loadMinimum: readonly (readonly [number, number])[];
  /** When readings say that a charge is finished. */
  finish: FinishRules;
  /** Temperatures a charge pauses and stops at, °C. */
  temperature: TemperatureLimits;
  /** One cell this far below the mean of the others after a charge is failing, SG. */
  failingCellSg: number;
  /** Shares of C20, and of charge lost in a week, that grade a recovered battery. */
  grade: GradeLines;
  /** A cycle that gained less than this share of C20 is not followed by another, and none follows after so many. */
  worthAnother: number;
  mostCycles: number;
}

/** Today's lines for a model. */
export function linesNow(model: BatteryModel): Lines {
  const { chemistry } = leadAcidKind(model.kind);
  return {
    stateOfCharge: CHEMISTRIES[chemistry].stateOfCharge,
    capacity: capacityLawOf(model),
    loadMinimum: LOAD_TEST_MINIMUM.points,
    finish: FINISH_RULES,
    temperature: TEMPERATURE_LIMITS,
    failingCellSg: FAILING_CELL_SG,
    grade: GRADE_LINES,
    worthAnother: 0.05,
    mostCycles: 4,
  };
}

/** What a line is called on the sheet of a job that was begun before it was kept. */
const LINE_NAMES: Readonly<Record<keyof Lines, string>> = {
  stateOfCharge: 'State of charge by rest voltage',
  capacity: 'Capacity test to C20',
  loadMinimum: 'Minimum voltage under load',
  finish: 'When a charge is finished',
  temperature: 'Temperature limits',
  failingCellSg: 'SG of a failing cell',
  grade: 'Capacity and self-discharge for each verdict',
  worthAnother: 'Gain that earns another cycle',
  mostCycles: 'Most cycles',
};

/** A plan, as far as its lines go. */
interface KeepsLines {
  model: BatteryModel;
  lines?: Partial<Lines>;
}

/** The lines of a job; where its plan keeps none, or lacks one, today's stands. */
export const linesOf = ({ model, lines }: KeepsLines): Lines => ({ ...linesNow(model), ...lines });

/** Names of the lines a job's plan did not keep. */
export function linesNotKept({ lines = {} }: KeepsLines): string[] {
  return (Object.keys(LINE_NAMES) as (keyof Lines)[])
    .filter((key) => lines[key] === undefined)
    .map((key) => LINE_NAMES[key]);
}
