import type { JobCommand } from '../job/commands.ts';
import type { CellFeel } from '../job/recoveryState.ts';
import type { CellValues, ReadingValues } from '../job/reading.ts';
import type { Showing } from '../chargers/showing.ts';
import type { Moment } from '../quantities/moment.ts';
import type { LookKind } from './case.ts';

/** Instruments, and what one reading with each costs of a person's time, min. */
export const TAKES = {
  volts: { name: 'Voltage', tool: 'Voltmeter', minutes: 1, open: false },
  temperature: { name: 'Temperature', tool: 'Thermometer', minutes: 1, open: false },
  charger: { name: 'The charger', tool: 'Lights and needles', minutes: 0.5, open: false },
  amps: { name: 'Current', tool: 'Clamp meter', minutes: 1, open: false },
  sg: { name: 'SG of every cell', tool: 'Hydrometer', minutes: 6, open: true },
  'cell-volts': { name: 'Volts of every cell', tool: 'Probe', minutes: 5, open: true },
  load: { name: 'Load test', tool: 'Load tester', minutes: 4, open: false },
  analyser: { name: 'CCA and resistance', tool: 'Analyser', minutes: 2, open: false },
  mass: { name: 'Mass', tool: 'Scale', minutes: 2, open: false },
  feel: { name: 'Every cell by hand', tool: 'Hand', minutes: 1, open: false },
  acid: { name: 'The acid container', tool: 'Hydrometer and thermometer', minutes: 3, open: false },
} as const;
export type TakeKind = keyof typeof TAKES;
export const TAKE_KEYS = Object.keys(TAKES) as TakeKind[];

/** A look costs so much, min. */
export const LOOK_MIN = 0.5;

/** What somebody does in a case. Acts and nothing else make what happens: the same acts make the same case again. */
export type DrillAct =
  /** Something in the job's own pages. */
  | { do: 'command'; id: string; command: JobCommand }
  | { do: 'take'; take: TakeKind }
  | { do: 'look'; what: LookKind }
  /** Two or three taps at a tube that stands still, from 0. */
  | { do: 'tap'; tube: number }
  /** Time goes by; with `alert` only until something happens that a person nearby would notice. */
  | { do: 'wait'; seconds: number; alert: boolean };

/** What an act showed. */
export type Shown =
  /** `cells`: which ports it was found at, from 0, where that was seen. */
  | { of: 'look'; what: LookKind; good: boolean; says: string; cells?: readonly number[] }
  | {
      of: 'reading';
      take: TakeKind;
      values: ReadingValues;
      cells?: CellValues[];
      feel?: CellFeel[];
      showing?: Showing;
      /** What the hand notices beside the number. */
      says?: string;
    };

/** A thing that was shown, and when. */
export interface ShownAt {
  at: Moment;
  shown: Shown;
}

/** What happens by itself, and a person nearby would notice. */
export type Happening =
  | 'light'
  | 'error'
  | 'warm'
  | 'hot'
  | 'smell'
  | 'gassing'
  | 'cut-off'
  | 'level-gone';

export const HAPPENS: Readonly<Record<Happening, string>> = {
  light: 'The charger shows full.',
  error: 'The charger shows an error: it has given up.',
  warm: 'The case feels warm.',
  hot: 'The case is hot.',
  smell: 'It smells of gas.',
  gassing: 'Every cell bubbles.',
  'cut-off': 'The voltage has fallen to the cut-off.',
  'level-gone': 'Plates stand bare.',
};

export interface HappenedAt {
  at: Moment;
  what: Happening;
}
