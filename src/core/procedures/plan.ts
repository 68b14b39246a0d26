import { CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import { kindOf } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { LOAD_TEST_C_RATE, LOAD_TEST_MINIMUM, LOAD_TEST_S, loadTestA, loadTestMinimumV } from '../capacity/loadTest.ts';
import { firstChargeCeiling, firstChargeCurrent, firstChargeDuration } from '../charging/firstCharge.ts';
import { SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from '../charging/limits.ts';
import type { HouseRules } from '../house/rules.ts';
import { schoolOf, type SchoolChoices } from '../house/schools.ts';
import { neutraliser } from '../electrolyte/neutralising.ts';
import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import { choose, type Figure, type FigureInput } from '../quantities/figure.ts';

export const FIGURE_KEYS = [
  'fillMl',
  'fillMlPerCell',
  'fillSg',
  'dwellS',
  'soakS',
  'sodaKg',
  'fullV',
  'chargeA',
  'ceilingV',
  'chargeS',
  'clearS',
  'restS',
  'passV',
  'loadA',
  'loadS',
  'loadMinV',
] as const;
export type FigureKey = (typeof FIGURE_KEYS)[number];

/** Everything a job computes before it starts; kept with the job as it was that day. */
export interface CommissioningPlan {
  model: BatteryModel;
  figures: Record<FigureKey, Figure>;
  schools: SchoolChoices;
  /** Usual temperature of the bench when the job began, °C. */
  roomC: number;
  /** Words the chosen schools put into the steps. */
  words: { strip: string; tubeHelp: string };
  /** Things to know that are not numbers. */
  notices: string[];
}

/** SG of filling acid at 25 °C where the maker prints none. */
const DEFAULT_FILL_SG = 1.265;
/** Gas clears for this long after the charger is off. */
const CLEAR_S = 5 * 60;
/** Least load volts are printed for this temperature; the test uses the measured one. */
const LOAD_REFERENCE_C = 21;

const maker = (label: string, value: string): FigureInput => ({ label, value, origin: 'maker' });

/**
 * The plan of a first commissioning, every number with its origin.
 *
 * @param model what the maker prints
 * @param rules the house rules of today
 * @throws Error for a kind that is refused
 */
export function commissioningPlan(model: BatteryModel, rules: HouseRules): CommissioningPlan {
  const kind = kindOf(model.kind);
  if ('refusal' in kind) throw new Error(kind.refusal);
  const chemistry = CHEMISTRIES[kind.chemistry];
  const stand = schoolOf('tubeFillStand', rules.schools);
  const rest = schoolOf('restNew', rules.schools);
  const pass = schoolOf('passLine', rules.schools);
  const cells = maker('Cells', String(model.cells));
  const c20 = maker('C20', `${model.c20Ah} Ah`);
  const standSource = `School “${stand.school.name}” for the stand after a tube-pack fill`;
  const { packSmallS, packLargeS, splitAh, soakS } = stand.school.values;
  const chargeA = firstChargeCurrent(model, rules.schools);
  const per12V = pass.school.values.per12V;

  const fillSg = choose({ key: 'fillSg', label: 'Fill acid at 25 °C', unit: 'SG' }, model.fillSg, {
    value: DEFAULT_FILL_SG,
    origin: 'default',
    formula: 'Usual filling acid',
    source: 'Usual filling acid where the maker prints none',
  });

  const figures: CommissioningPlan['figures'] = {
    fillMl: choose({ key: 'fillMl', label: 'Electrolyte in all', unit: 'mL' }, model.electrolyteMl, {
      value: model.electrolyteMl,
      origin: 'default',
      formula: '',
      source: '',
    }),
    fillMlPerCell: {
      key: 'fillMlPerCell',
      label: 'Electrolyte per cell',
      unit: 'mL',
      value: model.electrolyteMl / model.cells,
      origin: 'computed',
      formula: 'Pack volume ÷ cells',
      inputs: [maker('Pack', `${model.electrolyteMl} mL`), cells],
      source: 'Equal tubes, one to each cell',
    },
    fillSg,
    dwellS: choose({ key: 'dwellS', label: 'Pack stays on', unit: 's' }, model.dwellS, {
      value: model.c20Ah <= splitAh ? packSmallS : packLargeS,
      origin: stand.origin,
      formula: `${packSmallS / 60} min to ${splitAh} Ah, ${packLargeS / 60} min above`,
      inputs: [c20],
      source: standSource,
    }),
    soakS: choose({ key: 'soakS', label: 'Soak', unit: 's' }, model.soakS, {
      value: soakS,
      origin: stand.origin,
      formula: 'A fixed time after the pack is lifted',
      source: standSource,
    }),
    sodaKg: neutralisingFigure(model, fillSg),
    fullV: {
      key: 'fullV',
      label: 'Rest voltage of this acid',
      unit: 'V',
      value: restVoltageFromSg(fillSg.value) * model.cells,
      origin: 'computed',
      formula: 'Rest voltage of a cell at the molality of its acid, fully charged, × cells',
      inputs: [{ label: 'Fill acid', value: `SG ${fillSg.value.toFixed(3)}`, origin: fillSg.origin }, cells],
      source: 'Bode, Lead-Acid Batteries, 1977; 25 °C',
    },
    chargeA,
    ceilingV: firstChargeCeiling(model, chemistry),
    chargeS: firstChargeDuration(model, chemistry, chargeA),
    clearS: {
      key: 'clearS',
      label: 'Gas clears',
      unit: 's',
      value: CLEAR_S,
      origin: 'default',
      formula: '5 min after switching off',
      inputs: [],
      source: 'Shop practice: hydrogen leaves before clips move',
    },
    restS: {
      key: 'restS',
      label: 'Rest',
      unit: 's',
      value: rest.school.values.restS,
      origin: rest.origin,
      formula: 'A fixed time with the leads off',
      inputs: [],
      source: `School “${rest.school.name}” for the rest of a new battery`,
    },
    passV: choose({ key: 'passV', label: 'Pass line at rest', unit: 'V' }, model.passV, {
      value: forCells(per12V, model.cells),
      origin: pass.origin,
      formula: `${per12V.toFixed(2)} V per 12 V × cells ÷ 6`,
      inputs: [cells],
      source: `School “${pass.school.name}” for the pass voltage`,
    }),
    loadA: {
      key: 'loadA',
      label: 'Load test',
      unit: 'A',
      value: loadTestA(model.c20Ah),
      origin: 'default',
      formula: `${LOAD_TEST_C_RATE} × C20 in amperes`,
      inputs: [c20],
      source: LOAD_TEST_MINIMUM.source,
    },
    loadS: {
      key: 'loadS',
      label: 'Load lasts',
      unit: 's',
      value: LOAD_TEST_S,
      origin: 'default',
      formula: 'Fixed',
      inputs: [],
      source: LOAD_TEST_MINIMUM.source,
    },
    loadMinV: {
      key: 'loadMinV',
      label: `Least volts under load at ${LOAD_REFERENCE_C} °C`,
      unit: 'V',
      value: loadTestMinimumV(LOAD_REFERENCE_C, model.cells),
      origin: 'default',
      formula: 'Table by temperature × cells ÷ 6; the test uses the measured temperature',
      inputs: [cells],
      source: LOAD_TEST_MINIMUM.source,
    },
  };

  const notices: string[] = [];
  if (model.chargeA !== null && model.chargeA > SMALL_SIZE_CAP_A && model.c20Ah <= SMALL_SIZE_AH) {
    notices.push(`The maker prints ${model.chargeA} A; the shop would stay at ${SMALL_SIZE_CAP_A} A for this size. The maker's word stands.`);
  }
  return {
    model,
    figures,
    schools: rules.schools,
    roomC: rules.roomC,
    words: { strip: schoolOf('capStrip', rules.schools).school.values.words, tubeHelp: schoolOf('tubeHelp', rules.schools).school.values.words },
    notices,
  };
}

/** Bicarbonate to have at hand, should the whole pack be spilt. */
function neutralisingFigure(model: BatteryModel, fillSg: Figure): Figure {
  const { bicarbonateKg, carbonDioxideL } = neutraliser(model.electrolyteMl / 1000, fillSg.value);
  return {
    key: 'sodaKg',
    label: 'Bicarbonate for a spill',
    unit: 'kg',
    value: bicarbonateKg,
    origin: 'computed',
    formula: `1.713 g to a gram of acid; the foam is ${carbonDioxideL.toFixed(0)} L of carbon dioxide`,
    inputs: [maker('Pack', `${model.electrolyteMl} mL`), { label: 'Fill acid', value: `SG ${fillSg.value.toFixed(3)}`, origin: fillSg.origin }],
    source: 'H₂SO₄ + 2 NaHCO₃ → Na₂SO₄ + 2 H₂O + 2 CO₂',
  };
}
