import type { CellLevel } from '../batteries/cellLevel.ts';
import type { RouteKey } from './routes.ts';

/**
 * One thing known of a battery. Volts per battery, A, °C, SG at 25 °C, mΩ, g; lists run cell by cell from
 * plus to minus, with null where a cell was not read. Any subset, in any order.
 */
export type Evidence =
  | { of: 'rest-volts'; voltageV: number }
  | { of: 'cell-sg'; sg: readonly (number | null)[] }
  | { of: 'cell-volts'; volts: readonly (number | null)[] }
  | { of: 'levels'; levels: readonly (CellLevel | null)[] }
  /** Volts at the end of a load of `seconds`; before it, and after it came off, where they were read. */
  | {
      of: 'load';
      underV: number;
      currentA: number;
      seconds: number;
      beforeV?: number;
      afterV?: number;
    }
  /** Least volts while cranking its machine; the current is only guessed. */
  | { of: 'cranking'; dipV: number }
  /** An analyser's CCA against the rating by the same standard. */
  | { of: 'cca'; ccaA: number; ratedA: number }
  | { of: 'resistance'; milliohm: number }
  /** Mass against what it weighs wet and new. */
  | { of: 'mass'; massG: number; wetMassG: number }
  /** White growth on the positive post: it stood undercharged. */
  | { of: 'terminals'; white: boolean }
  /** A charge indicator eye, which speaks for one cell only. */
  | { of: 'eye'; shows: EyeColour }
  /** A capacity measured on an earlier visit, share of C20. */
  | { of: 'earlier-capacity'; share: number; yearsAgo: number }
  /** What happened on charge so far: moments, oldest first; mean A since the moment before, negative out of it. After the cycles named, or as it came. */
  | {
      of: 'charging';
      hours: readonly number[];
      volts: readonly number[];
      amps: readonly number[];
      done?: CyclesDone;
    }
  /** What the last of some cycles of work brought: capacity by its test (share of C20), V after its rest, SG after the charge, loss in a week. */
  | {
      of: 'cycled';
      done: CyclesDone;
      capacity: number | null;
      restV: number | null;
      sg: readonly (number | null)[];
      weekLoss: number | null;
    };

/** Routes that a battery has been through, in order, and whether its cells could be topped up. */
export interface CyclesDone {
  routes: readonly RouteKey[];
  open: boolean;
}

export type EyeColour = 'full' | 'low' | 'no-acid';

export type EvidenceKind = Evidence['of'];

/** What each kind of evidence costs at the bench and what it needs. */
export const EVIDENCE: Readonly<
  Record<EvidenceKind, { name: string; minutes: number; ports: boolean; ask: string }>
> = {
  'rest-volts': {
    name: 'Rest voltage',
    minutes: 1,
    ports: false,
    ask: 'Read the rest voltage, nothing connected but the meter',
  },
  levels: {
    name: 'Levels',
    minutes: 2,
    ports: true,
    ask: 'Look into every cell: are the plates covered?',
  },
  'cell-sg': { name: 'SG of the cells', minutes: 6, ports: true, ask: 'Hydrometer in every cell' },
  'cell-volts': {
    name: 'Volts of the cells',
    minutes: 5,
    ports: true,
    ask: 'Probe the volts of every cell',
  },
  load: {
    name: 'Load test',
    minutes: 4,
    ports: false,
    ask: 'Load it for 15 s: volts before, under load, and after',
  },
  cca: {
    name: 'CCA',
    minutes: 2,
    ports: false,
    ask: 'Put the analyser on: CCA by the standard of its rating',
  },
  resistance: {
    name: 'Resistance',
    minutes: 2,
    ports: false,
    ask: 'Put the analyser on: internal resistance',
  },
  mass: {
    name: 'Mass',
    minutes: 2,
    ports: false,
    ask: 'Weigh it: a missing gram is a missing millilitre of water',
  },
  terminals: {
    name: 'Positive post',
    minutes: 0.5,
    ports: false,
    ask: 'Look at the positive post: white growth?',
  },
  eye: { name: 'Charge eye', minutes: 0.5, ports: false, ask: 'Look at its charge eye' },
  cranking: {
    name: 'Cranking dip',
    minutes: 6,
    ports: false,
    ask: 'Crank its machine and read the minimum voltage',
  },
  'earlier-capacity': { name: 'Earlier capacity', minutes: 0, ports: false, ask: '' },
  charging: { name: 'On charge', minutes: 0, ports: false, ask: '' },
  cycled: { name: 'The last cycle', minutes: 0, ports: false, ask: '' },
};
