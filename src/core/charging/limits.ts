/** Temperatures of the battery that pause or stop a charge, °C. */
export interface TemperatureLimits {
  /** A charge pauses above this, or this far above the room. */
  pauseC: number;
  pauseAboveAmbientC: number;
  stopC: number;
  /** It stops on a rise faster than `stopRiseC` within `stopRiseS`. */
  stopRiseC: number;
  stopRiseS: number;
}

/** Shop practice for new lead-acid stock. */
export const TEMPERATURE_LIMITS: Readonly<TemperatureLimits> = {
  pauseC: 45,
  pauseAboveAmbientC: 10,
  stopC: 50,
  stopRiseC: 5,
  stopRiseS: 30 * 60,
};

/** Change of ceiling per cell and °C away from 25 °C (usual range −2 to −5 mV). */
const CEILING_V_PER_CELL_AND_C = -0.003;
/** Compensation is capped this far from 25 °C. */
const COMPENSATION_SPAN_C = 15;

/**
 * Charge ceiling at a battery temperature.
 *
 * @param ceilingV at 25 °C, V per battery
 * @returns V per battery
 */
export function compensatedCeilingV(ceilingV: number, cells: number, temperatureC: number): number {
  const away = Math.max(-COMPENSATION_SPAN_C, Math.min(COMPENSATION_SPAN_C, temperatureC - 25));
  return ceilingV + CEILING_V_PER_CELL_AND_C * cells * away;
}

/** Up to this size a battery counts as small powersport stock. */
export const SMALL_SIZE_AH = 30;
/** Small powersport sizes never see more than this on their first charge. */
export const SMALL_SIZE_CAP_A = 3;
/** Nothing is charged faster than this share of C20. Usual care for restore and first charges. */
export const MOST_C = 0.2;

/** Volts per cell above the compensated ceiling before it counts: a charger overshoots, and a meter errs. */
export const CEILING_SLACK_V = 0.05;
