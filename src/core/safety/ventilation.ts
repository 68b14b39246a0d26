/**
 * Air that keeps hydrogen from charging safe. EN IEC 62485-2/-3: Q = 0.05 · n · I_gas · C · 10⁻³ m³/h,
 * with I_gas in mA per Ah for boost charging.
 */
const BOOST_GASSING_MA_PER_AH = { vented: 20, valveRegulated: 8 } as const;

export interface ChargingBattery {
  cells: number;
  c20Ah: number;
  vented: boolean;
  /** Gassing current of a plan that gasses on purpose, mA/Ah: all of its set current; absent for the others. */
  gassesMaPerAh?: number;
}

/** Air needed for these batteries charging together, m³/h. */
export function ventilationNeed(charging: readonly ChargingBattery[]): number {
  return charging.reduce((sum, b) => {
    const usual = b.vented
      ? BOOST_GASSING_MA_PER_AH.vented
      : BOOST_GASSING_MA_PER_AH.valveRegulated;
    return sum + 0.05 * b.cells * Math.max(usual, b.gassesMaPerAh ?? 0) * b.c20Ah * 1e-3;
  }, 0);
}

/** A charge expected on the bench: from when to when, ms. */
export interface ExpectedCharge extends ChargingBattery {
  from: number;
  to: number;
}

/**
 * The most air that charges expected on the bench will need at one moment, and when that is.
 *
 * @returns m³/h and the first moment it is needed; null where nothing is to charge
 */
export function ventilationPeak(
  charges: readonly ExpectedCharge[],
): { need: number; at: number } | null {
  let peak: { need: number; at: number } | null = null;
  for (const { from } of charges) {
    const need = ventilationNeed(charges.filter((c) => c.from <= from && c.to > from));
    if (!peak || need > peak.need + 1e-9 || (Math.abs(need - peak.need) <= 1e-9 && from < peak.at))
      peak = { need, at: from };
  }
  return peak;
}

/**
 * How often an hour the air of a room is to change for this need.
 *
 * @param need m³/h
 * @param roomM3 of the room
 */
export function airChanges(need: number, roomM3: number): number {
  return need / roomM3;
}

/** Free area that lets a cubic metre an hour through by itself, cm²: EN IEC 62485-2, A = 28 · Q, air at 0.1 m/s. */
const CM2_PER_M3H = 28;

/**
 * Air that moves through a room by itself, where one opening is low and one high on another wall.
 *
 * @param cm2 free area of the smaller of the two
 * @returns m³/h
 */
export const airThroughOpenings = (cm2: number): number => cm2 / CM2_PER_M3H;
