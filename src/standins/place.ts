import type { ChemistryKey } from '../core/batteries/chemistry.ts';
import type { BatterySize } from '../core/simulation/battery.ts';
import type { Stepper } from '../core/simulation/step.ts';

/** What a place of the rack can be told to do wrong. */
export const MISCHIEFS = {
  'lead-off': 'A lead comes off: no current, the charger sees an open clip',
  short: 'One cell shorts inside',
  hot: 'The case heats up from somewhere',
  silent: 'The instrument does not answer for this place',
  frozen: 'The instrument repeats its last reading',
  noisy: 'The reading jumps about by a fifth of a volt',
  'no-pulse': 'The charger says that it pulses, and gives a steady current',
  reversed: 'The clips are on the wrong way round',
} as const;
export type Mischief = keyof typeof MISCHIEFS;

export interface Clipped extends BatterySize {
  tag: string;
  chemistry: ChemistryKey;
  /** True charge and room temperature; drawn from the tag when absent. */
  charge?: number;
  temperatureC: number;
}

export interface Output {
  on: boolean;
  volts: number;
  amps: number;
  pulse: { widthS: number; periodS: number } | null;
  watchdogS: number | null;
  /** Machine time it was last spoken to, ms. */
  heardMs: number;
  /** Why it went off by itself. */
  tripped: string | null;
}

export interface Place {
  tag: string | null;
  stepper: Stepper | null;
  output: Output;
  load: { on: boolean; amps: number; cutV: number };
  mischief: Set<Mischief>;
  /** Bench ms up to which its battery has been simulated, and seconds into its pulses. */
  simulatedMs: number;
  pulseS: number;
  last: { voltageV: number; currentA: number; temperatureC: number };
}

export interface RackClock {
  /** Bench ms, which may run fast, and machine ms, which never does. */
  bench: () => number;
  machine: () => number;
}
