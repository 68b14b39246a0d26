/** What the lead-acid families have in common and where they differ, as data. Voltages per 12 V battery at 25 °C. */
export type ChemistryKey = 'flooded' | 'agm' | 'gel';

export interface Chemistry {
  key: ChemistryKey;
  name: string;
  /** Rest voltage against state of charge, fullest first: [%, V per 12 V]. */
  stateOfCharge: readonly (readonly [number, number])[];
  /** Charge ceiling, low and high end, and float, V per 12 V. */
  absorptionV: readonly [number, number];
  floatV: number;
  /** Ah in over Ah out for a full recharge. */
  rechargeFactor: number;
  /** Peukert's exponent from C/20 to a rate, where the model prints no two rated points: [rate in C, exponent], slowest first. */
  exponents: readonly (readonly [number, number])[];
  /** Water in a full cell, g per Ah of C20: puts the usual table on Bode's polynomial. */
  waterGPerAh: number;
  /** Share of charge lost per month at 20 °C. */
  selfDischargePerMonth: number;
  sources: { stateOfCharge: string; charging: string; exponents: string };
}

const USUAL_TABLE = 'Usual 12 V rest-voltage tables, 25 °C';
const USUAL_CEILINGS = 'Usual ceilings for the family, 25 °C';
const USUAL_EXPONENTS = 'Usual capacities at C/10, C/5 and 1 C of data sheets, 4–200 Ah';

const STARTER_EXPONENTS: Chemistry['exponents'] = [
  [0.1, 1.08],
  [0.2, 1.115],
  [1, 1.195],
];
/** Gel loses a little less at higher rates. */
const GEL_EXPONENTS: Chemistry['exponents'] = [
  [0.1, 1.07],
  [0.2, 1.1],
  [1, 1.17],
];

/** Gel has no table of its own in common use; the AGM one serves both valve-regulated families. */
const VALVE_REGULATED_TABLE: Chemistry['stateOfCharge'] = [
  [100, 12.85],
  [75, 12.6],
  [50, 12.3],
  [25, 12.0],
  [0, 11.75],
];

export const CHEMISTRIES: Readonly<Record<ChemistryKey, Chemistry>> = {
  flooded: {
    key: 'flooded',
    name: 'Flooded',
    stateOfCharge: [
      [100, 12.65],
      [75, 12.45],
      [50, 12.24],
      [25, 12.06],
      [0, 11.89],
    ],
    absorptionV: [14.4, 14.8],
    floatV: 13.4,
    rechargeFactor: 1.15,
    waterGPerAh: 11.3,
    exponents: STARTER_EXPONENTS,
    selfDischargePerMonth: 0.08,
    sources: { stateOfCharge: USUAL_TABLE, charging: USUAL_CEILINGS, exponents: USUAL_EXPONENTS },
  },
  agm: {
    key: 'agm',
    name: 'AGM',
    stateOfCharge: VALVE_REGULATED_TABLE,
    absorptionV: [14.4, 14.7],
    floatV: 13.6,
    rechargeFactor: 1.05,
    waterGPerAh: 7.82,
    exponents: STARTER_EXPONENTS,
    selfDischargePerMonth: 0.03,
    sources: { stateOfCharge: USUAL_TABLE, charging: USUAL_CEILINGS, exponents: USUAL_EXPONENTS },
  },
  gel: {
    key: 'gel',
    name: 'Gel',
    stateOfCharge: VALVE_REGULATED_TABLE,
    absorptionV: [14.1, 14.2],
    floatV: 13.5,
    rechargeFactor: 1.1,
    waterGPerAh: 7.82,
    exponents: GEL_EXPONENTS,
    selfDischargePerMonth: 0.02,
    sources: {
      stateOfCharge: `${USUAL_TABLE} (AGM, used for gel)`,
      charging: USUAL_CEILINGS,
      exponents: USUAL_EXPONENTS,
    },
  },
};

/** End of a capacity test where nothing else is agreed, V per cell: 10.5 V of 12. */
export const CUT_OFF_PER_CELL = 1.75;

/** Cells behind the tables above. */
export const TABLE_CELLS = 6;

/**
 * A voltage from a 12 V table for a battery of so many cells, to the microvolt: a reading typed
 * exactly on a line must stand on it, whatever binary fractions do.
 */
export function forCells(per12V: number, cells: number): number {
  return Math.round((per12V * cells * 1e6) / TABLE_CELLS) / 1e6;
}
