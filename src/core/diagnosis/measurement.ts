import { forCells } from '../batteries/chemistry.ts';
import { viewCell } from '../simulation/view.ts';
import type { Evidence } from './evidence.ts';
import { type Showing, soundOhms } from './showing.ts';
import type { Subject } from './suspect.ts';

/**
 * What a reading would be if a suspect were the battery, and how far a real one may be off: the meter, the
 * hand, and the model itself. Errors are Gaussian, some of them shared by all cells; one reading in fifty
 * is taken to be a slip, so that no reading alone rules anything out.
 */

/** One deviation each. */
export const OFF = {
  /** Rest voltage: shared by the cells (acid of this maker, temperature), V per cell. */
  restPerCellV: 0.011,
  /** Volts of plates past empty wander from minute to minute, V per cell. */
  emptyPerCellV: 0.12,
  sgEach: 0.006,
  sgShared: 0.009,
  cellV: 0.012,
  cellSharedV: 0.012,
  /** Under load: V per cell, and share of the drop. */
  loadPerCellV: 0.02,
  loadShare: 0.1,
  reboundPerCellV: 0.03,
  /** Cranking current is known to this share of it. */
  crankShare: 0.3,
  /** CCA and resistance by an analyser: its own method against the model's, logarithm. */
  ccaLog: 0.12,
  resistanceLog: 0.16,
  /** Mass when new varies: share of it, and g. */
  massShare: 0.012,
  massG: 15,
  capacityShare: 0.08,
  chargingPerCellV: 0.025,
  /** After a cycle: what the test says of this twin, and SG that the model mixes more evenly than a charge does. */
  cycledShare: 0.07,
  cycledSg: 0.012,
  weekShare: 0.04,
} as const;
const SLIP = 0.02;

const SQRT_TWO_PI = Math.sqrt(2 * Math.PI);
const normal = (off: number, sigma: number): number =>
  -0.5 * (off / sigma) ** 2 - Math.log(sigma * SQRT_TWO_PI);

/** Log density of residuals that share one error and have one each (covariance e²I + s²11ᵀ). */
function together(residuals: readonly number[], each: number, shared: number): number {
  const n = residuals.length;
  const sum = residuals.reduce((a, b) => a + b, 0);
  const squares = residuals.reduce((a, b) => a + b * b, 0);
  const e2 = each * each;
  const all = e2 + n * shared * shared;
  const quad = (squares - (sum * sum * shared * shared) / all) / e2;
  return -0.5 * quad - n * Math.log(SQRT_TWO_PI) - (n - 1) * Math.log(each) - 0.5 * Math.log(all);
}

/** Log likelihood of one piece of evidence if a suspect were the battery; never minus infinity. */
export function likelihood(showing: Showing, evidence: Evidence): number {
  const { fits, flat } = compared(showing, evidence);
  const a = fits + Math.log(1 - SLIP);
  const b = flat + Math.log(SLIP);
  return a > b ? a + Math.log1p(Math.exp(b - a)) : b + Math.log1p(Math.exp(a - b));
}

/** How likely it is that a reading was a slip, if this suspect were the battery, 0–1. */
export function slipChance(showing: Showing, evidence: Evidence): number {
  const { fits, flat } = compared(showing, evidence);
  return 1 / (1 + ((1 - SLIP) / SLIP) * Math.exp(Math.min(50, fits - flat)));
}

/** Log density by the measurement model, and of a reading that could be anything. */
function compared(showing: Showing, evidence: Evidence): { fits: number; flat: number } {
  const { suspect, subject } = showing;
  const { cells } = suspect.battery;
  const volt = forCells(1, cells);
  switch (evidence.of) {
    case 'rest-volts': {
      // Below nought even a slip is rare: somebody would have had to swap the leads of the meter.
      const sigma = Math.hypot(OFF.restPerCellV * cells, OFF.emptyPerCellV * showing.fallen, 0.01);
      return {
        fits: normal(evidence.voltageV - showing.restV, sigma),
        flat: -Math.log((evidence.voltageV < 0 ? 10 : 1) * 16 * volt),
      };
    }
    case 'cell-sg':
      return eachCell(evidence.sg, (k, sg) => sg - showing.sg(k), OFF.sgEach, OFF.sgShared, 0.25);
    case 'cell-volts': {
      const read = evidence.volts.flatMap((v, k) => (v === null ? [] : [{ v, k }]));
      const held = read
        .filter(({ k }) => !showing.collapsed(k))
        .map(({ v, k }) => v - showing.cellV(k));
      const fallen = read
        .filter(({ k }) => showing.collapsed(k))
        .map(({ v, k }) => v - showing.cellV(k));
      return {
        fits:
          (held.length > 0 ? together(held, OFF.cellV, OFF.cellSharedV) : 0) +
          fallen.reduce((sum, r) => sum + normal(r, OFF.emptyPerCellV), 0),
        flat: -read.length * Math.log(3),
      };
    }
    case 'levels': {
      let fits = 0;
      let n = 0;
      evidence.levels.forEach((level, k) => {
        if (level === null) return;
        n++;
        fits += Math.log(levelChances(showing.water(k), suspect.battery.design.dryBegins)[level]);
      });
      return { fits, flat: -n * Math.log(4) };
    }
    case 'load': {
      const { underV, afterV } = showing.load(evidence.currentA, evidence.seconds);
      const drop = Math.max(0, showing.restV - underV);
      let fits = normal(
        evidence.underV - underV,
        Math.hypot(OFF.loadPerCellV * cells, OFF.loadShare * drop),
      );
      let flat = -Math.log(14 * volt);
      if (evidence.afterV !== undefined) {
        fits += normal(
          evidence.afterV - afterV,
          Math.hypot(OFF.reboundPerCellV * cells, OFF.emptyPerCellV * showing.fallen),
        );
        flat -= Math.log(8 * volt);
      }
      return { fits, flat };
    }
    case 'cranking': {
      const drop = Math.max(0, showing.restV - showing.crankV);
      return {
        fits: normal(
          evidence.dipV - showing.crankV,
          Math.hypot(0.03 * cells, OFF.crankShare * drop),
        ),
        flat: -Math.log(14 * volt),
      };
    }
    case 'cca': {
      const ratio =
        Math.log(Math.max(1e-3, evidence.ccaA) / evidence.ratedA) -
        Math.log(soundOhmsOf(subject) / showing.ohms);
      return { fits: normal(ratio, OFF.ccaLog), flat: -Math.log(5) };
    }
    case 'resistance':
      return {
        fits: normal(
          Math.log(Math.max(0.01, evidence.milliohm) / (1000 * showing.ohms)),
          OFF.resistanceLog,
        ),
        flat: -Math.log(6),
      };
    case 'mass': {
      const missing = evidence.wetMassG - evidence.massG;
      return {
        fits: normal(
          missing - showing.missingG,
          Math.hypot(OFF.massG, OFF.massShare * evidence.wetMassG),
        ),
        flat: -Math.log(0.4 * evidence.wetMassG),
      };
    }
    case 'terminals': {
      const white = suspect.causes.has('undercharged')
        ? 0.6
        : suspect.causes.has('hard') || suspect.causes.has('light')
          ? 0.2
          : 0.07;
      return { fits: Math.log(evidence.white ? white : 1 - white), flat: Math.log(0.5) };
    }
    case 'eye': {
      const chances = eyeChances(showing);
      return { fits: Math.log(chances[evidence.shows]), flat: -Math.log(3) };
    }
    case 'earlier-capacity': {
      // What it held then it cannot hold more of now, apart from what has hardened since and comes back.
      const perYear = 0.05 * evidence.yearsAgo;
      const then = Math.min(1, suspect.active + perYear);
      return {
        fits: normal(evidence.share - then, Math.hypot(OFF.capacityShare, 0.5 * perYear)),
        flat: -Math.log(1.2),
      };
    }
    case 'charging': {
      const volts = showing.charging(evidence);
      const residuals = evidence.volts.map((v, i) => v - (volts[i] ?? v));
      // Errors of the model do not average out: the whole trace counts as three readings of their mean square.
      const n = Math.max(1, residuals.length);
      const sigma = OFF.chargingPerCellV * cells;
      const quad = residuals.reduce((sum, r) => sum + Math.min(25, (r / sigma) ** 2), 0) / n;
      return {
        fits: -0.5 * 3 * quad - 3 * Math.log(sigma * SQRT_TWO_PI),
        flat: -3 * Math.log(6 * volt),
      };
    }
    case 'cycled': {
      const came = showing.after(evidence.done);
      if (!came) return { fits: 0, flat: 0 };
      const { outcome, battery } = came;
      const terms = [
        evidence.capacity === null
          ? null
          : { fits: normal(evidence.capacity - outcome.capacity, OFF.cycledShare), range: 1.2 },
        evidence.restV === null
          ? null
          : {
              fits: normal(evidence.restV - outcome.restV, OFF.restPerCellV * cells),
              range: 8 * volt,
            },
        evidence.weekLoss === null
          ? null
          : { fits: normal(evidence.weekLoss - outcome.weekLoss, OFF.weekShare), range: 1 },
      ].filter((t) => t !== null);
      const sg = eachCell(
        evidence.sg,
        (k, read) => read - viewCell(battery, k).sgMixed,
        OFF.cycledSg,
        OFF.sgShared,
        0.25,
      );
      return {
        fits: terms.reduce((sum, t) => sum + t.fits, sg.fits),
        flat: terms.reduce((sum, t) => sum - Math.log(t.range), sg.flat),
      };
    }
  }
}

function eachCell(
  values: readonly (number | null)[],
  off: (k: number, value: number) => number,
  each: number,
  shared: number,
  range: number,
): { fits: number; flat: number } {
  const residuals = values.flatMap((value, k) => (value === null ? [] : [off(k, value)]));
  if (residuals.length === 0) return { fits: 0, flat: 0 };
  return { fits: together(residuals, each, shared), flat: -residuals.length * Math.log(range) };
}

/** Chances of what a look into a cell finds, by the water it has: dry once its plates show. */
export function levelChances(
  water: number,
  dryBegins: number,
): { dry: number; low: number; mark: number; over: number } {
  const step = (at: number): number => 1 / (1 + Math.exp((water - at) / 0.02));
  const dry = step(dryBegins);
  const low = Math.max(0, step(0.95) - dry);
  const over = 0.04;
  const sum = dry + low + Math.max(0, 1 - dry - low) + 0.08 + over;
  return {
    dry: (dry + 0.02) / sum,
    low: (low + 0.04) / sum,
    mark: (Math.max(0, 1 - dry - low) + 0.02) / sum,
    over: over / sum,
  };
}

/** The eye sits over one cell; which one nobody knows, so the third from plus speaks. */
export function eyeChances(showing: Showing): { full: number; low: number; 'no-acid': number } {
  const k = Math.min(showing.suspect.battery.cells - 1, 2);
  const dry = 1 / (1 + Math.exp((showing.water(k) - 0.85) / 0.02));
  const full = (1 - dry) / (1 + Math.exp(-(showing.sg(k) - 1.225) / 0.008));
  const low = Math.max(0, 1 - dry - full);
  return { full: 0.03 + 0.91 * full, low: 0.03 + 0.91 * low, 'no-acid': 0.03 + 0.91 * dry };
}

let soundFor = '';
let sound = 0;
export function soundOhmsOf(subject: Subject): number {
  const key = JSON.stringify([
    subject.chemistry,
    subject.cells,
    subject.c20Ah,
    subject.milliohm,
    subject.labelFactors,
    subject.temperatureC,
  ]);
  if (key !== soundFor) {
    sound = soundOhms(subject);
    soundFor = key;
  }
  return sound;
}
