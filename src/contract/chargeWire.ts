import type { FittedPlan, FittedStage } from '../core/charging/fitPlan.ts';
import type { OnStretch } from '../core/charging/progress.ts';
import type { PlanRun } from '../core/charging/runPlan.ts';
import type { Band } from '../core/rehearsal/outlook.ts';
import type { Trip } from '../core/charging/trips.ts';
import type { Waveform } from '../core/charging/waveform.ts';
import type { ReadingValues } from '../core/job/reading.ts';

/** What the server answers of charges on instruments, and of instruments. */

/** A record of pulses, with the stage that ordered them. */
export interface PulseRecord extends Waveform {
  stage: FittedStage;
}

/** Newest of a live charge. `at` in ms of bench time. */
export interface LiveSample {
  at: number;
  voltageV: number;
  currentA: number;
  temperatureC: number;
  ahIn: number;
  stage: number;
}

/** Samples in columns, thinned to what a screen can draw; low and high keep the peaks. */
export interface SampleColumns {
  hours: number[];
  voltageV: number[];
  voltageLowV: number[];
  voltageHighV: number[];
  currentA: number[];
  temperatureC: number[];
}

/** What a charge was expected to do when it began: hours with current on, V, A. */
export interface Expectation {
  totalH: number;
  hours: number[];
  voltageV: number[];
  currentA: number[];
}

export interface ChargeWire {
  id: string;
  jobId: string;
  place: number;
  instrument: string;
  startedAt: number;
  endedAt: number | null;
  mode: 'running' | 'paused' | 'asking' | 'ended';
  plan: FittedPlan;
  run: PlanRun;
  /** The guard that last switched it off, or what interrupted it. */
  trip: Trip | null;
  samples: SampleColumns;
  /** When its current was on; the last stretch is open while it is. */
  stretches: OnStretch[];
  sampleCount: number;
  expected: Expectation;
  /** Hours left by the twins that agree with the samples. */
  left: Band | null;
}

export interface TriedInstrument {
  ok: boolean;
  /** Who it says it is, and what was found, one line each. */
  lines: string[];
}

/** What a bench instrument reads now, in the units readings are kept in. */
export type Measured = ReadingValues;
