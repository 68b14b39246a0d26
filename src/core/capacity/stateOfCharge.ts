import { acidDensity } from '../electrolyte/density.ts';
import { molalityFromWeightPercent, weightPercentFromSg } from '../electrolyte/concentration.ts';
import { MOLALITY_PER_AH_AND_G, REACTION_WATER_G } from '../electrolyte/faraday.ts';
import {
  REST_V_PER_KELVIN,
  restVoltageFromMolality,
  restVoltageFromSg,
} from '../electrolyte/restVoltage.ts';
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
    if (volts >= lowV)
      return lowPercent + ((highPercent - lowPercent) * (volts - lowV)) / (highV - lowV);
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
    if (percent >= lowPercent)
      return forCells(
        lowV + ((highV - lowV) * (percent - lowPercent)) / (highPercent - lowPercent),
        cells,
      );
  }
  return forCells(table.at(-1)?.[1] ?? 0, cells);
}

/** Meter, rest and the maker's acid together, V per cell, one deviation. */
const REST_OFF_V = 0.008;

/** Share of its charge, 0–1: best guess and 8 of 10. */
export interface ChargeBand {
  low: number;
  mid: number;
  high: number;
}

/**
 * State of charge from a rested voltage by the acid the battery was filled with: what its discharge takes from the
 * acid, and the water it makes (Faraday), on Bode's rest voltage. A battery filled with stronger acid than the
 * usual table knows reads 100 % there long before it is full.
 *
 * @param restV V per battery, after the rest
 * @param fill SG of its acid when full, 25 °C, and how much of it, mL per cell and Ah of C20, where that is known
 */
export function chargeByAcid(
  restV: number,
  cells: number,
  chemistry: Chemistry,
  fill: { sg: number; mlPerAh?: number },
  temperatureC = 25,
): ChargeBand {
  const perCell = restV / cells - REST_V_PER_KELVIN * (temperatureC - 25);
  const strength = weightPercentFromSg(fill.sg);
  const water =
    fill.mlPerAh === undefined
      ? chemistry.waterGPerAh
      : fill.mlPerAh * acidDensity(strength, 25) * (1 - strength / 100);
  const acid = (molalityFromWeightPercent(strength) * water) / MOLALITY_PER_AH_AND_G;
  const restAt = (share: number): number => {
    const out = 1 - share;
    return restVoltageFromMolality(
      (MOLALITY_PER_AH_AND_G * Math.max(acid - out, 0.02)) / (water + REACTION_WATER_G * out),
    );
  };
  const shareAt = (volts: number): number => {
    let [low, high] = [0, 1];
    if (volts >= restAt(high)) return high;
    for (let i = 0; i < 40; i++) {
      const middle = (low + high) / 2;
      if (restAt(middle) < volts) low = middle;
      else high = middle;
    }
    return low;
  };
  return {
    low: shareAt(perCell - 1.28 * REST_OFF_V),
    mid: shareAt(perCell),
    high: shareAt(perCell + 1.28 * REST_OFF_V),
  };
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
  return (
    Math.max(byTable, restVoltageFromSg(fillSg) * cells) + forCells(SURFACE_CHARGE_MARGIN_V, cells)
  );
}
