import type { CellLevel } from '../../batteries/cellLevel.ts';
import type { ChemistryKey } from '../../batteries/chemistry.ts';
import { loadTestA } from '../../capacity/loadTest.ts';
import type { Evidence } from '../evidence.ts';
import type { AfterCharge } from '../plainRules.ts';
import { restVoltageRule } from '../../electrolyte/restVoltage.ts';
import { mean } from '../../quantities/mean.ts';
import { AFTER_CHARGE, type FeatureKey } from './table.ts';

/** A reading, as practice compares it: for 12 V, or as a share of a sound battery of the model. */
export interface Feature {
  key: FeatureKey;
  value: number;
  /** Its place among the evidence; null where it was read after a charge. */
  from: number | null;
}

/** What a battery must be known by, for its readings to be compared. */
export interface Sound {
  chemistry: ChemistryKey;
  cells: number;
  c20Ah: number;
  /** SG of its acid when full, 25 °C; absent where nobody knows. */
  fullSg?: number;
  /** Resistance of a sound one of its kind, mΩ. */
  milliohm: number;
}

/** Rest volts of a full cell, V, and its SG: flooded at 1.28, absorbed and gelled acid stronger. Data sheets. */
export const FULL_CELL_V: Readonly<Record<ChemistryKey, number>> = {
  flooded: 2.113,
  agm: 2.15,
  gel: 2.142,
};
const FULL_SG: Readonly<Record<ChemistryKey, number>> = {
  flooded: 1.28,
  agm: 1.31,
  gel: 1.3,
};
/** What a full one reads: by its own acid where that is known, else as its kind usually does. SG, and V per cell. */
export const fullOf = ({
  chemistry,
  fullSg,
}: Pick<Sound, 'chemistry' | 'fullSg'>): { sg: number; cellV: number } =>
  fullSg === undefined
    ? { sg: FULL_SG[chemistry], cellV: FULL_CELL_V[chemistry] }
    : { sg: fullSg, cellV: restVoltageRule(fullSg) };

/** The line is drawn for three times C20 and 15 s; a load that is off by more than this share says another thing. */
const LOAD_OFF = 0.25;

/** Readings on arrival, and those after a charge, each as practice compares it. */
export function featuresOf(
  sound: Sound,
  evidence: readonly Evidence[],
  after: AfterCharge | null,
): Feature[] {
  return [...evidence.flatMap((e, from) => asCame(sound, e, from)), ...afterCharge(sound, after)];
}

/** Was something read once it had been charged? */
export const isCharged = (features: readonly Feature[]): boolean =>
  features.some((f) => AFTER_CHARGE.has(f.key));

const per12V = ({ cells }: Sound, volts: number): number => (volts * 6) / cells;

function asCame(sound: Sound, e: Evidence, from: number): Feature[] {
  const one = (key: FeatureKey, value: number): Feature[] => [{ key, value, from }];
  switch (e.of) {
    case 'rest-volts':
      return one('volts', per12V(sound, e.voltageV));
    case 'cell-sg':
      return ofCells(sound, e.sg, 'sgDrop', 'sgSpread', from);
    case 'cell-volts': {
      const read = e.volts.filter((v): v is number => v !== null);
      return read.length > 0 ? one('leastCell', Math.min(...read)) : [];
    }
    case 'levels':
      return one('bare', Number(e.levels.some(isBare)));
    case 'load':
      return isAsDrawn(sound, e) ? one('load', per12V(sound, e.underV)) : [];
    case 'cca':
      return one('cca', e.ccaA / e.ratedA);
    case 'resistance':
      return one('ohms', e.milliohm / sound.milliohm);
    case 'mass':
      return one('lostMass', 1 - e.massG / e.wetMassG);
    default:
      return [];
  }
}

const isBare = (level: CellLevel | null): boolean => level === 'dry';

const isAsDrawn = (
  { c20Ah }: Sound,
  { currentA, seconds }: { currentA: number; seconds: number },
): boolean => Math.abs(currentA / loadTestA(c20Ah) - 1) <= LOAD_OFF && Math.abs(seconds - 15) <= 6;

/** The mean of cells below full, and what lies between them, where enough of them were read. */
function ofCells(
  sound: Sound,
  sg: readonly (number | null)[],
  drop: FeatureKey,
  spread: FeatureKey,
  from: number | null,
): Feature[] {
  const read = sg.filter((v): v is number => v !== null);
  if (read.length === 0) return [];
  // One cell that is far below the others says nothing of how full they are.
  const others = read.toSorted((a, b) => b - a).slice(0, Math.max(1, read.length - 1));
  return [
    { key: drop, value: fullOf(sound).sg - mean(others), from },
    ...(read.length > 1
      ? [{ key: spread, value: Math.max(...read) - Math.min(...read), from }]
      : []),
  ];
}

function afterCharge(sound: Sound, after: AfterCharge | null): Feature[] {
  if (!after) return [];
  const { voltageV, sg, ccaShare, load, milliohm, capacity } = after;
  const one = (key: FeatureKey, value: number | null | undefined): Feature[] =>
    value === null || value === undefined ? [] : [{ key, value, from: null }];
  return [
    ...one('short', per12V(sound, fullOf(sound).cellV * sound.cells - voltageV)),
    ...(sg ? ofCells(sound, sg, 'sgShort', 'spreadAfter', null) : []),
    ...one('ccaAfter', ccaShare),
    ...one('loadAfter', load && isAsDrawn(sound, load) ? per12V(sound, load.underV) : null),
    ...one(
      'ohmsAfter',
      milliohm === undefined || milliohm === null ? null : milliohm / sound.milliohm,
    ),
    ...one('capacity', capacity),
  ];
}
