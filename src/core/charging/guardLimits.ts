import { type TemperatureLimits, TEMPERATURE_LIMITS } from './limits.ts';

/** What the guards of a charge compare with. It is kept with the fitted plan, so that a running charge is watched to its end by the limits it began with. */
export interface GuardLimits {
  temperature: TemperatureLimits;
  /** No rise: this much charge (share of C20) without this much rise (V per cell), below this voltage. */
  noRise: { share: number; perCell: number; belowPerCell: number };
  /** Gassing early: above this voltage at more than this current (C) before this share of what was missing is back. */
  gassingEarly: { perCell: number; cRate: number; share: number };
  /** Low by a cell: so long without rise, between so many volts short of the ceiling, at more than this current (C), with this share of what was missing back in. */
  plateau: { s: number; leastShortV: number; mostShortV: number; cRate: number; missing: number };
}

export const GUARD_LIMITS: Readonly<GuardLimits> = {
  temperature: TEMPERATURE_LIMITS,
  noRise: { share: 0.12, perCell: 0.003, belowPerCell: 2.25 },
  gassingEarly: { perCell: 2.38, cRate: 0.04, share: 0.15 },
  plateau: { s: 75 * 60, leastShortV: 1.0, mostShortV: 2.9, cRate: 0.02, missing: 0.8 },
};

/** The limits a plan was fitted with; today's where it kept none. */
export const guardLimitsOf = ({ limits }: { limits?: Partial<GuardLimits> }): GuardLimits => ({ ...GUARD_LIMITS, ...limits });
