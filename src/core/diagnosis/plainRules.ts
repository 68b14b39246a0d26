import { forCells } from '../batteries/chemistry.ts';
import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import { TEMPERATURE_LIMITS } from '../charging/limits.ts';
import { LOAD_TEST_S, loadTestA, loadTestMinimumV } from '../capacity/loadTest.ts';
import type { CauseKey } from './causes.ts';
import type { Evidence } from './evidence.ts';
import type { Subject } from './subject.ts';
import { FAILING_CELL_SG, lowCell, CELL_SUM_V } from '../batteries/cells.ts';
import { mean } from '../quantities/mean.ts';

/** `never`: no route is offered · `first`: to be put right before current flows · `says`: what a reading means by itself. */
export interface RuleFinding {
  weight: 'never' | 'first' | 'says';
  /** It decides by itself what the matter is, whatever the odds. */
  binds?: true;
  /** It speaks against this one for sure: a battery that fails its load test is not sound. */
  denies?: CauseKey;
  cause: CauseKey | null;
  sentence: string;
}

/** What was read after a full charge and a rest: V, and how long it had rested, h; what else was read then. */
export interface AfterCharge {
  voltageV: number;
  restedH: number;
  /** SG of its cells at 25 °C, from plus to minus; null where one was not read. */
  sg?: readonly (number | null)[];
  /** CCA as a share of its rating. */
  ccaShare?: number;
  load?: { underV: number; currentA: number; seconds: number };
  milliohm?: number;
  /** By a capacity test, share of C20. */
  capacity?: number;
}

/** Below this a cell, or the battery, is the wrong way round and not just empty, V. */
const REVERSED_V = -0.3;
/** After a full charge: a dead cell takes about its whole 2.1 V away; 12.45–12.5 V instead of 12.65 is sulfation. Usual shop experience. */
const DEAD_CELL_V = 2.1;
const DEAD_CELL_OFF_V = 0.5;
const SULFATED_12V = [12.3, 12.56] as const;
const FULL_12V = 12.65;
/** Volts and acid of the same battery may differ by this at rest (surface charge, layers, meters), V per cell. */
const VOLTS_AGAINST_SG = 0.06;

/** A load test speaks of a battery that is at least three quarters charged; volts per 12 V. */
const LOAD_FROM_12V = 12.45;
/** The load may be off by this share of three times C20; cells within this SG are even; and so much above the line is room, V per 12 V. */
const LOAD_CURRENT_OFF = 0.15;
const EVEN_SG = 0.03;
const LOAD_ROOM_12V = 0.6;

const allRead = <T>(values: readonly (T | null)[]): T[] | null =>
  values.every((v) => v !== null) ? (values as T[]) : null;
const firstOf = <K extends Evidence['of']>(
  evidence: readonly Evidence[],
  kind: K,
): Extract<Evidence, { of: K }> | undefined =>
  evidence.findLast((e): e is Extract<Evidence, { of: K }> => e.of === kind);

/** What the plain rules of the trade say. They come before the odds, and no odds outvote them. */
export function plainRules(
  subject: Pick<Subject, 'cells' | 'c20Ah' | 'temperatureC'>,
  evidence: readonly Evidence[],
  after: AfterCharge | null,
): RuleFinding[] {
  const found: RuleFinding[] = [];
  const rest = firstOf(evidence, 'rest-volts');
  const volts = firstOf(evidence, 'cell-volts');
  const levels = firstOf(evidence, 'levels');
  if (rest && rest.voltageV < REVERSED_V)
    found.push({
      weight: 'never',
      cause: 'reversed',
      sentence: `${rest.voltageV.toFixed(2)} V: it is the wrong way round. Check the leads of the meter once; if it stands, stop. A charger on it would meet a short circuit.`,
    });
  const wrong = volts?.volts.findIndex((v) => v !== null && v < REVERSED_V) ?? -1;
  if (volts && wrong >= 0 && !(rest && rest.voltageV < REVERSED_V))
    found.push({
      weight: 'never',
      cause: 'reversed',
      sentence: `Cell ${wrong + 1} reads ${(volts.volts[wrong] as number).toFixed(2)} V: it is reversed. Stop.`,
    });
  if (subject.temperatureC > TEMPERATURE_LIMITS.stopC)
    found.push({
      weight: 'first',
      cause: null,
      sentence: `It is at ${subject.temperatureC.toFixed(0)} °C. Nothing is connected to it until it has cooled.`,
    });
  if (subject.temperatureC < 0)
    found.push({
      weight: 'first',
      cause: null,
      sentence: `It is at ${subject.temperatureC.toFixed(0)} °C, and an empty one freezes. Let it stand in the warm for a day before anything is connected.`,
    });
  const dry = levels?.levels.flatMap((level, k) => (level === 'dry' ? [k + 1] : [])) ?? [];
  if (dry.length > 0)
    found.push({
      weight: 'first',
      cause: 'dry',
      sentence: `Plates stand bare in cell ${dry.join(', ')}. Cover them with distilled water before current flows; to the mark only after the charge.`,
    });
  const load = firstOf(evidence, 'load');
  const sgs = firstOf(evidence, 'cell-sg');
  const charged = rest && rest.voltageV >= forCells(LOAD_FROM_12V, subject.cells);
  // The line is drawn for this load; a lighter one proves nothing when it holds, a heavier one nothing when it does not.
  const asDrawn =
    load &&
    Math.abs(load.currentA / loadTestA(subject.c20Ah) - 1) <= LOAD_CURRENT_OFF &&
    Math.abs(load.seconds - LOAD_TEST_S) <= 3;
  if (rest && load && charged && asDrawn) {
    const least = loadTestMinimumV(subject.temperatureC, subject.cells);
    const read = sgs ? allRead(sgs.sg) : null;
    const evenCells = read === null || Math.max(...read) - Math.min(...read) < EVEN_SG;
    if (load.underV < least)
      found.push({
        weight: 'says',
        cause: null,
        denies: 'sound',
        sentence: `Charged, at ${rest.voltageV.toFixed(2)} V, it fell to ${load.underV.toFixed(2)} V under load; ${least.toFixed(2)} V is the least at ${subject.temperatureC.toFixed(0)} °C. It fails its load test.`,
      });
    else if (evenCells && load.underV >= least + forCells(LOAD_ROOM_12V, subject.cells))
      found.push({
        weight: 'says',
        cause: 'sound',
        sentence: `Charged, at ${rest.voltageV.toFixed(2)} V${read ? ', its cells even,' : ''} it held ${load.underV.toFixed(2)} V under load; ${least.toFixed(2)} V is the least. It passes its load test with room.`,
      });
  }
  if (after) {
    const full = forCells(FULL_12V, subject.cells);
    const short = full - after.voltageV;
    const cell = short / DEAD_CELL_V;
    if (short > DEAD_CELL_V - DEAD_CELL_OFF_V)
      found.push({
        weight: 'never',
        cause: 'shorted',
        sentence: `${after.voltageV.toFixed(2)} V after a full charge is ${short.toFixed(1)} V short: ${cell < 1.5 ? 'one dead cell' : `${Math.round(cell)} dead cells`}. No route helps.`,
      });
    else if (
      after.voltageV >= forCells(SULFATED_12V[0], subject.cells) &&
      after.voltageV <= forCells(SULFATED_12V[1], subject.cells)
    )
      found.push({
        weight: 'says',
        cause: 'light',
        sentence: `A full charge that settles at ${after.voltageV.toFixed(2)} V instead of ${full.toFixed(2)} V or more: part of its plates is sulfated.`,
      });
    // What was read after the charge; a cell that was low on arrival may only have been emptied further.
    const low = after.sg ? lowCell(after.sg) : null;
    if (low && low.below >= FAILING_CELL_SG)
      found.push({
        weight: 'says',
        binds: true,
        cause: 'weak',
        sentence: `Cell ${low.cell} is ${low.below.toFixed(3)} SG below the others after a charge: it is failing.`,
      });
  }
  return found;
}

/** Readings that cannot all be right, in sentences. */
export function contradictions(subject: Subject, evidence: readonly Evidence[]): string[] {
  const said: string[] = [];
  const rest = firstOf(evidence, 'rest-volts');
  const sg = firstOf(evidence, 'cell-sg');
  const volts = firstOf(evidence, 'cell-volts');
  const sgs = sg && allRead(sg.sg);
  if (rest && sgs && rest.voltageV > 0 && sgs.every((v) => v >= 1.05 && v <= 1.35)) {
    const bySg = sgs.reduce((sum, v) => sum + restVoltageFromSg(v), 0);
    const off = rest.voltageV - bySg;
    if (Math.abs(off) > VOLTS_AGAINST_SG * subject.cells)
      said.push(
        `Its acid (SG ${mean(sgs).toFixed(3)} on average) stands for ${bySg.toFixed(2)} V, the posts read ${rest.voltageV.toFixed(2)} V. ` +
          (off > 0
            ? 'It was charged lately, the acid lies in layers, or one of the two is wrong.'
            : 'A cell is short-circuited, or one of the two is wrong.'),
      );
  }
  const each = volts && allRead(volts.volts);
  if (rest && each) {
    const sum = each.reduce((a, b) => a + b, 0);
    if (Math.abs(sum - rest.voltageV) > CELL_SUM_V)
      said.push(
        `Its cells add up to ${sum.toFixed(2)} V, the posts read ${rest.voltageV.toFixed(2)} V. Read the cells again.`,
      );
  }
  const load = firstOf(evidence, 'load');
  if (load && rest && load.underV > rest.voltageV + 0.05)
    said.push(
      `Under load it read ${load.underV.toFixed(2)} V, more than the ${rest.voltageV.toFixed(2)} V at rest. Was the load on?`,
    );
  return said;
}
