/** What one ampere-hour spent on gassing takes from each cell (Faraday; water 18.015 g/mol, 2 F per mol). */
export const PER_CELL_AND_AH = { waterG: 0.336, hydrogenL: 0.418, oxygenL: 0.209 } as const;

/**
 * Water lost and gas made by overcharge.
 *
 * @param ampereHours that went into gassing
 * @param cells in series
 * @returns grams of water, litres of gas at 0 °C and 1 atm
 */
export function gassing(
  ampereHours: number,
  cells: number,
): { waterG: number; hydrogenL: number; oxygenL: number } {
  const each = ampereHours * cells;
  return {
    waterG: PER_CELL_AND_AH.waterG * each,
    hydrogenL: PER_CELL_AND_AH.hydrogenL * each,
    oxygenL: PER_CELL_AND_AH.oxygenL * each,
  };
}
