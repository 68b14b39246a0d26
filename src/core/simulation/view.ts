import { sgFromWeightPercent, weightPercentFromMolality } from '../electrolyte/concentration.ts';
import { freezingPointC } from '../electrolyte/freezing.ts';
import { PER_CELL_AND_AH } from '../electrolyte/gassing.ts';
import { MOLALITY_PER_AH_AND_G, REACTION_WATER_G } from '../electrolyte/faraday.ts';
import { wetShare } from './constants.ts';
import { CASE, CELL, CELL_SIZE, MAKE, MAKE_SIZE } from './layout.ts';
import type { SimBattery } from './battery.ts';

/** What one cell holds and would show to a hydrometer and a probe. */
export interface CellView {
  /** Charge it can still give, share of C20. */
  charge: number;
  hard: number;
  /** How closed the film of sulfate is, 0–4. */
  film: number;
  /** SG at 25 °C drawn from the top, as a hydrometer sees it, and well mixed. */
  sgTop: number;
  sgMixed: number;
  /** Volts across the plates, without ohmic drop; negative when reversed. */
  voltageV: number;
  /** Water there is, share of a full cell. */
  water: number;
  wet: number;
  gassedAh: number;
}

/** SG at 25 °C of acid (Ah/Ah) in water (g/Ah). */
const sgOf = (acid: number, water: number): number =>
  sgFromWeightPercent(
    Math.min(60, weightPercentFromMolality((MOLALITY_PER_AH_AND_G * Math.max(acid, 0)) / water)),
  );

/** Water of a cell, as much as there would be if it were charged, share of a full one. */
export const waterShare = (battery: SimBattery, k: number): number =>
  ((battery.state[k * CELL_SIZE + CELL.water] as number) -
    REACTION_WATER_G * dischargedOf(battery, k)) /
  battery.design.water;

/** Charge that lies in a cell as sulfate, share of C20. */
function dischargedOf({ state }: SimBattery, k: number): number {
  const s = k * CELL_SIZE;
  return (state[s + CELL.soft] as number) + (state[s + CELL.hard] as number);
}

/** Water of the upper half of a cell's free acid, g/Ah. */
const waterOnTop = ({ state, design }: SimBattery, k: number): number =>
  0.5 * (1 - design.poreShare) * (state[k * CELL_SIZE + CELL.water] as number);

/** As it is now; SG is worked out when somebody asks, which few of a charge's thousand looks do. */
export const viewCell = (battery: SimBattery, k: number): CellView => new Seen(battery, k);

class Seen implements CellView {
  readonly charge: number;
  readonly hard: number;
  readonly film: number;
  readonly voltageV: number;
  readonly water: number;
  readonly wet: number;
  readonly gassedAh: number;
  readonly #upper: number;
  readonly #upperWater: number;
  readonly #acid: number;
  readonly #allWater: number;

  constructor(battery: SimBattery, k: number) {
    const { state, design, c20Ah, make } = battery;
    const s = k * CELL_SIZE;
    const m = k * MAKE_SIZE;
    const water = state[s + CELL.water] as number;
    const upper = state[s + CELL.upper] as number;
    this.charge = chargeOf(battery, k);
    this.hard = state[s + CELL.hard] as number;
    this.film = state[s + CELL.film] as number;
    this.voltageV = (make[m + MAKE.polarity] as number) * (state[s + CELL.plates] as number);
    this.water = waterShare(battery, k);
    this.wet = wetShare(water, dischargedOf(battery, k), design);
    this.gassedAh = (state[s + CELL.gassed] as number) * c20Ah;
    this.#upper = upper;
    this.#upperWater = waterOnTop(battery, k);
    this.#acid = (state[s + CELL.pore] as number) + (state[s + CELL.lower] as number) + upper;
    this.#allWater = water;
  }

  get sgTop(): number {
    return sgOf(this.#upper, this.#upperWater);
  }
  get sgMixed(): number {
    return sgOf(this.#acid, this.#allWater);
  }
}

/** Charge that a cell can still give, share of C20. */
const chargeOf = (battery: SimBattery, k: number): number =>
  Math.min(1, battery.make[k * MAKE_SIZE + MAKE.active] as number) - dischargedOf(battery, k);

/** Water that has gone, all cells, g. */
export function missingWaterG(battery: SimBattery): number {
  let share = 0;
  for (let k = 0; k < battery.cells; k++) share += 1 - waterShare(battery, k);
  return share * battery.design.water * battery.c20Ah;
}

/** The battery as a whole. */
export interface BatteryView {
  /** Mean charge of its cells, share of C20, and that of the poorest. */
  charge: number;
  poorest: number;
  /** Terminal volts without current. */
  openV: number;
  temperatureC: number;
  chargeInAh: number;
  energyInWh: number;
  heatOutWh: number;
  chemistryWh: number;
  /** Since the beginning: water lost (g) and hydrogen vented (L at 0 °C and 1 atm), all cells. */
  waterLostG: number;
  hydrogenL: number;
  gassedAh: number;
  /** Acid would freeze at or above this, °C; null where the table says nothing (SG outside 1.10–1.28). */
  freezesAtC: number | null;
}

export function viewBattery(battery: SimBattery): BatteryView {
  const { state, make, cells, c20Ah } = battery;
  const base = cells * CELL_SIZE;
  const total = { charge: 0, openV: 0, vented: 0, gassedAh: 0 };
  let poorest = Infinity;
  // Acid and water on top of the cell whose acid is weakest.
  let [weakestAcid, weakestWater] = [Infinity, 1];
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    const charge = chargeOf(battery, k);
    total.charge += charge;
    poorest = Math.min(poorest, charge);
    total.openV +=
      (make[k * MAKE_SIZE + MAKE.polarity] as number) * (state[s + CELL.plates] as number);
    total.vented += (state[s + CELL.vented] as number) * c20Ah;
    total.gassedAh += (state[s + CELL.gassed] as number) * c20Ah;
    const acid = state[s + CELL.upper] as number;
    const water = waterOnTop(battery, k);
    if (acid * weakestWater < weakestAcid * water) [weakestAcid, weakestWater] = [acid, water];
  }
  return {
    charge: total.charge / cells,
    poorest,
    openV: total.openV,
    temperatureC: state[base + CASE.temperatureC] as number,
    chargeInAh: state[base + CASE.chargeIn] as number,
    energyInWh: state[base + CASE.energyIn] as number,
    heatOutWh: state[base + CASE.heatOut] as number,
    chemistryWh: state[base + CASE.chemistry] as number,
    waterLostG: total.vented * PER_CELL_AND_AH.waterG,
    hydrogenL: total.vented * PER_CELL_AND_AH.hydrogenL,
    gassedAh: total.gassedAh / cells,
    get freezesAtC() {
      return freezingPointC(sgOf(weakestAcid, weakestWater));
    },
  };
}

/** Is some of its acid frozen? Then no current may be put through it. SG below 1.10 is taken as −8 °C or warmer. */
export function isFrozen(battery: SimBattery): boolean {
  const view = viewBattery(battery);
  const weakest = Math.min(
    ...Array.from({ length: battery.cells }, (_, k) => viewCell(battery, k).sgTop),
  );
  return (
    view.temperatureC <= (view.freezesAtC ?? (weakest < 1.1 ? -8 * ((weakest - 1) / 0.1) : -70))
  );
}
