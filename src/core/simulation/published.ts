/**
 * A healthy cell's volts while discharging: Copetti, Lorenzo and Chenlo, “A general battery model for PV
 * system simulation” (1993). A cross-check of ours, not a part of it.
 *
 * @param charge state of charge 0–1, counted against the charge the cell gives at vanishing current
 * @param currentA discharging, positive
 * @param c10Ah ten-hour capacity
 * @returns V per cell
 */
export function copettiDischargeV(charge: number, currentA: number, c10Ah: number, temperatureC: number): number {
  const away = temperatureC - 25;
  const polarisation = 4 / (1 + currentA ** 1.3) + 0.27 / charge ** 1.5 + 0.02;
  return 2.085 - 0.12 * (1 - charge) - (currentA / c10Ah) * polarisation * (1 - 0.007 * away);
}

/** The same while charging, good until the source's own gassing voltage. */
export function copettiChargeV(charge: number, currentA: number, c10Ah: number, temperatureC: number): number {
  const away = temperatureC - 25;
  const polarisation = 6 / (1 + currentA ** 0.86) + 0.48 / (1 - charge) ** 1.2 + 0.036;
  return 2 + 0.16 * charge + (currentA / c10Ah) * polarisation * (1 - 0.025 * away);
}

/** Where gassing takes over and the charge formula ends, V per cell (the same source). */
export function copettiGassingV(currentA: number, c10Ah: number, temperatureC: number): number {
  return (2.24 + 1.97 * Math.log(1 + currentA / c10Ah)) * (1 - 0.002 * (temperatureC - 25));
}

/** Capacity against current, in C10 (the same source): 1.67 C10 at vanishing current. */
export function copettiCapacity(currentA: number, i10A: number, temperatureC: number): number {
  return (1.67 / (1 + 0.67 * (currentA / i10A) ** 0.9)) * (1 + 0.005 * (temperatureC - 25));
}

/** Charge the cell gives at vanishing current, in C10. */
export const COPETTI_FULL = 1.67;
