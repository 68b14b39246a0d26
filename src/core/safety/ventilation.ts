/**
 * Air that keeps hydrogen from charging safe. EN IEC 62485-2/-3: Q = 0.05 · n · I_gas · C · 10⁻³ m³/h,
 * with I_gas in mA per Ah for boost charging.
 */
const BOOST_GASSING_MA_PER_AH = { vented: 20, valveRegulated: 8 } as const;

export interface ChargingBattery {
  cells: number;
  c20Ah: number;
  vented: boolean;
}

/** Air needed for these batteries charging together, m³/h. */
export function ventilationNeed(charging: readonly ChargingBattery[]): number {
  return charging.reduce((sum, b) => {
    const gassing = b.vented ? BOOST_GASSING_MA_PER_AH.vented : BOOST_GASSING_MA_PER_AH.valveRegulated;
    return sum + 0.05 * b.cells * gassing * b.c20Ah * 1e-3;
  }, 0);
}
