import { type TemperatureLimits, TEMPERATURE_LIMITS } from './limits.ts';

/** What the guards of a charge compare with. It is kept with the fitted plan, so that a running charge is watched to its end by the limits it began with. */
export interface GuardLimits {
  temperature: TemperatureLimits;
  /**
   * No rise: after this much charge (share of C20) volts that lie within this of each other and never were higher (V per cell),
   * below this voltage; or below the second voltage, where no sound cell stands with current in it, after the second share.
   */
  noRise: {
    share: number;
    withinPerCell: number;
    belowPerCell: number;
    missingPerCell: number;
    missingShare: number;
  };
  /** Gassing early: at this voltage for so long while less than this share of what was missing is back, where at least so much was (share of C20). */
  gassingEarly: { perCell: number; overS: number; share: number; missing: number };
  /** The emptier it came, the more must be back by then: that share grows from where so much was missing to this share where so much was (share of C20). */
  gassingDeep: { from: number; share: number; missing: number };
  /** Low by a cell: so long without rise, between so many volts short of the ceiling, at more than this current (C), with this share of what was missing back in. */
  plateau: { s: number; leastShortV: number; mostShortV: number; cRate: number; missing: number };
}

export const GUARD_LIMITS: Readonly<GuardLimits> = {
  temperature: TEMPERATURE_LIMITS,
  noRise: {
    share: 0.12,
    withinPerCell: 0.006,
    belowPerCell: 2.25,
    missingPerCell: 1.985,
    missingShare: 0.03,
  },
  gassingEarly: { perCell: 2.38, overS: 3600, share: 0.12, missing: 0.35 },
  gassingDeep: { from: 0.5, share: 0.5, missing: 0.85 },
  plateau: { s: 75 * 60, leastShortV: 0.4, mostShortV: 2.9, cRate: 0.03, missing: 0.8 },
};

/** The limits a plan was fitted with; today's where it kept none. */
export const guardLimitsOf = ({ limits }: { limits?: Partial<GuardLimits> }): GuardLimits => ({
  ...GUARD_LIMITS,
  ...limits,
});
