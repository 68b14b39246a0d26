import type { ChargerInUse } from '../chargers/charger.ts';
import type { OnStretch } from '../charging/progress.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Why } from './why.ts';

/** A charge that an instrument runs: which one, by which plan, in sentences. */
export interface LiveStart {
  chargeId: string;
  planName: string;
  sentences: string[];
  /** How long current is expected to flow, s: by its twin at the start. */
  expectedS: number;
}

export interface ChargeState {
  mode: 'running' | 'paused' | 'halted' | 'ended';
  place: number;
  setA: number;
  setV: number;
  /** When current flowed; the last stretch is open while it flows. */
  on: OnStretch[];
  why: Why | null;
  /** Paused, and goes on by itself when it has cooled. */
  resumesItself: boolean;
  /** The shop's charger it runs on, where that was said. */
  charger?: ChargerInUse;
  /** The live charge on an instrument, or null where it is run by hand. */
  live: LiveStart | null;
}

/** The moment a charge's current was first switched on. */
export function chargeStartedAt(charge: ChargeState): Moment {
  return charge.on[0]?.from ?? 0;
}

/** Since when it is off, or null while it flows. */
export function chargeOffSince(charge: ChargeState): Moment | null {
  return charge.on.at(-1)?.to ?? null;
}

/** Stretches of current, the last of them over at `at`. */
export function switchedOff(on: readonly OnStretch[], at: Moment): OnStretch[] {
  return on.map((stretch) => (stretch.to === null ? { ...stretch, to: at } : stretch));
}
