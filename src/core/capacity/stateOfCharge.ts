import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import { type Chemistry, forCells, TABLE_CELLS } from '../batteries/chemistry.ts';

/**
 * State of charge from a rested open-circuit voltage, linear between the table's points, 25 °C.
 *
 * @param restV V per battery, after the rest
 * @param cells in series
 * @returns %, 0–100; a voltage off either end of the table gives the end
 */
export function stateOfChargePercent(restV: number, cells: number, chemistry: Chemistry): number {
  const volts = (restV * TABLE_CELLS) / cells;
  const table = chemistry.stateOfCharge;
  const [full] = table;
  if (full && volts >= full[1]) return full[0];
  for (let i = 1; i < table.length; i++) {
    const [highPercent, highV] = table[i - 1] as readonly [number, number];
    const [lowPercent, lowV] = table[i] as readonly [number, number];
    if (volts >= lowV) return lowPercent + ((highPercent - lowPercent) * (volts - lowV)) / (highV - lowV);
  }
  return 0;
}

/**
 * The inverse of {@link stateOfChargePercent}: rest voltage at a state of charge, 25 °C.
 *
 * @param percent 0–100; beyond either end gives the end
 * @returns V per battery
 */
export function restVoltageAtCharge(percent: number, cells: number, chemistry: Chemistry): number {
  const table = chemistry.stateOfCharge;
  for (let i = 1; i < table.length; i++) {
    const [highPercent, highV] = table[i - 1] as readonly [number, number];
    const [lowPercent, lowV] = table[i] as readonly [number, number];
    if (percent >= highPercent) return forCells(highV, cells);
    if (percent >= lowPercent) return forCells(lowV + ((highV - lowV) * (percent - lowPercent)) / (highPercent - lowPercent), cells);
  }
  return forCells(table.at(-1)?.[1] ?? 0, cells);
}

/** Above full-charge rest voltage by this much (per 12 V), a reading still carries surface charge. */
const SURFACE_CHARGE_MARGIN_V = 0.15;

/**
 * The highest rest voltage that can be believed: full charge by the table, or by the acid it was
 * filled with where that stands higher, plus the margin.
 *
 * @param fillSg SG of the filling acid at 25 °C
 * @returns V per battery
 */
export function believableRestV(cells: number, chemistry: Chemistry, fillSg: number): number {
  const byTable = forCells(chemistry.stateOfCharge[0]?.[1] ?? 0, cells);
  return Math.max(byTable, restVoltageFromSg(fillSg) * cells) + forCells(SURFACE_CHARGE_MARGIN_V, cells);
}
