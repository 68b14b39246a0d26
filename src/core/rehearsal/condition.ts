import { type Chemistry } from '../batteries/chemistry.ts';
import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import type { CellCondition } from '../simulation/battery.ts';
import type { UncertainCondition } from '../simulation/twins.ts';

/** How hard its sulfate is taken to be: share of C20 held back by crystals, and how far that may be off. Assumed. */
export const SULFATION = {
  none: { name: 'None', hard: 0, off: 0.01 },
  light: { name: 'Light', hard: 0.08, off: 0.04 },
  heavy: { name: 'Heavy', hard: 0.28, off: 0.08 },
  unknown: { name: 'Not known', hard: 0.06, off: 0.07 },
} as const;
export type Sulfation = keyof typeof SULFATION;

/** What may be wrong with one of its cells: 15 % behind the others, worn to 60 %, or shorted inside. */
export const CELL_FAULTS: Readonly<
  Record<'none' | 'behind' | 'weak' | 'short', { name: string; cell: CellCondition }>
> = {
  none: { name: 'None', cell: {} },
  behind: { name: 'One behind', cell: { behind: 0.15 } },
  weak: { name: 'One worn', cell: { active: 0.6 } },
  short: { name: 'One shorted', cell: { shortOhm: 0.02 } },
};
export type CellFault = keyof typeof CELL_FAULTS;

/** How its charge is known. */
export type ChargeEvidence =
  | { by: 'volts'; restV: number }
  | { by: 'sg'; sg: number }
  | { by: 'percent'; percent: number }
  | { by: 'nothing' };

/** A battery's condition as it was measured, or described. Temperatures in °C. */
export interface DescribedCondition {
  charge: ChargeEvidence;
  sulfation: Sulfation;
  fault: CellFault;
  temperatureC: number;
}

/** A rest voltage is good for about ±10 mV a cell, which is this much of the charge; a hydrometer for about the same. One deviation. */
const MEASURED_OFF = 0.05;
const TYPED_OFF = 0.05;
const NOTHING_KNOWN = { charge: 0.5, off: 0.25 };

/** Share of its charge that is there by the evidence, 0–1, or null where there is none. */
export function chargeByEvidence(
  evidence: ChargeEvidence,
  cells: number,
  chemistry: Chemistry,
): number | null {
  switch (evidence.by) {
    case 'volts':
      return stateOfChargePercent(evidence.restV, cells, chemistry) / 100;
    case 'sg':
      return stateOfChargePercent(restVoltageFromSg(evidence.sg) * cells, cells, chemistry) / 100;
    case 'percent':
      return Math.min(1, Math.max(0, evidence.percent / 100));
    case 'nothing':
      return null;
  }
}

/**
 * The condition twins are drawn from. Volts and SG tell what acid is left, which hard sulfate lowers
 * like a discharge does; so the sound part of a sulfated battery is fuller than its acid says.
 *
 * @param cells in series
 * @returns the middle and the spread of what is known
 */
export function conditionOf(
  described: DescribedCondition,
  cells: number,
  chemistry: Chemistry,
): UncertainCondition {
  const { hard, off } = SULFATION[described.sulfation];
  const known = chargeByEvidence(described.charge, cells, chemistry);
  const byAcid = described.charge.by === 'volts' || described.charge.by === 'sg';
  const charge = known ?? NOTHING_KNOWN.charge;
  const faulty = Math.floor(cells / 2);
  return {
    charge: Math.min(1, byAcid ? charge / (1 - hard) : charge),
    temperatureC: described.temperatureC,
    cells: Array.from({ length: cells }, (_, k): CellCondition => ({
      hard,
      ...(k === faulty ? CELL_FAULTS[described.fault].cell : {}),
    })),
    spread: {
      charge: known === null ? NOTHING_KNOWN.off : byAcid ? MEASURED_OFF : TYPED_OFF,
      hard: off,
      temperatureC: 1,
    },
  };
}

/** Charge taken for missing by the guards, Ah; null where nothing is known of it. */
export function missingAh(
  condition: DescribedCondition,
  battery: { cells: number; c20Ah: number },
  chemistry: Chemistry,
): number | null {
  const known = chargeByEvidence(condition.charge, battery.cells, chemistry);
  return known === null ? null : (1 - known) * battery.c20Ah;
}
