import type { ChargerInUse } from '../chargers/charger.ts';
import type { WakeKey } from '../diagnosis/wakes.ts';
import type { StepKind } from '../plan/procedure.ts';
import type { Moment } from '../quantities/moment.ts';
import type { CellFeel } from './recoveryState.ts';
import type { Sediment } from './sediment.ts';
import type { StageEnd } from '../charging/stageEnd.ts';

/** What a run of a step brought, told by the kind of its step. What ends with nothing to keep, or is kept elsewhere in the job, brings none. */
export type StepResult =
  | { kind: 'checks'; answers: { [check: string]: boolean } }
  | { kind: 'pack'; code: string; lot: string }
  /** SG as read and at 25 °C, °C. */
  | {
      kind: 'acid';
      lot: string;
      specificGravity: number;
      sg25: number;
      temperatureC: number;
      batteryC?: number;
    }
  | { kind: 'do'; temperatureC?: number; amountMl?: number }
  | { kind: 'ports'; ports: string[] }
  /** What was left of it when it was cut, s. */
  | { kind: 'wait'; remainingS: number }
  | ChargeResult
  | { kind: 'wake'; way: WakeKey; chargerA: number; charger?: string; donor?: WakeDonor }
  | { kind: 'wake-check'; voltageV: number; feel: CellFeel[] }
  | { kind: 'rinse'; sediment: Sediment; drainedMl: number }
  /** Who made the discharge; what came of it is kept with the tests. */
  | { kind: 'capacity'; by: 'hand' | 'instrument' };

/** A charge that is over: Ah that went in, h with current on. */
export interface ChargeResult {
  kind: 'charge';
  /** Its readings, or its plan, had said that it was finished. */
  agrees: boolean;
  ampereHours: number;
  /** Nothing showed a current: between which values it probably lies. */
  estimatedAh?: { low: number; high: number };
  chargeStartedAt: Moment;
  hours: number;
  /** The shop's charger it ran on, where that was said. */
  charger?: ChargerInUse;
  /** What ended its plan, where an instrument ran it to the end. */
  ended: StageEnd | null;
  /** The live charge, and the plan it followed in sentences; null where it was run by hand. */
  live: { chargeId: string; planName: string; sentences: string[] } | null;
}

/** A donor as it was before the clips went on, and the leads between: V, Ah, m, mm², A. */
export interface WakeDonor {
  voltageV: number;
  c20Ah: number;
  leadM: number;
  leadMm2: number;
  inrushA: number;
  tag?: string;
}

export type ResultOf<K extends StepKind> = Extract<StepResult, { kind: K }>;
