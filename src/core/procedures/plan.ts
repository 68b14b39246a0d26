import { CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import { type LeadAcidKind, leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { CUT_OFF_12V } from '../capacity/capacityTest.ts';
import { sulfateNeeds, SULFATE_G_PER_L } from '../diagnosis/additives.ts';
import { LOAD_TEST_C_RATE, LOAD_TEST_MINIMUM, LOAD_TEST_S, loadTestA, loadTestMinimumV } from '../capacity/loadTest.ts';
import { chargeDuration, firstChargeCeiling, firstChargeCurrent } from '../charging/firstCharge.ts';
import { SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from '../charging/limits.ts';
import type { HouseRules } from '../house/rules.ts';
import { schoolOf, type SchoolChoices } from '../house/schools.ts';
import { neutraliser } from '../electrolyte/neutralising.ts';
import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import { choose, type Figure, type FigureInput } from '../quantities/figure.ts';
import type { Purpose } from './procedure.ts';

/** Figures every plan has. */
const BASE_KEYS = ['fillSg', 'fullV', 'chargeA', 'ceilingV', 'chargeS', 'clearS', 'restS', 'passV', 'loadA', 'loadS', 'loadMinV'] as const;
/** Figures of a fill, and of a rating; present where the kind is filled in the shop, or the maker rates it. */
const SOME_KEYS = [
  'fillMl',
  'fillMlPerCell',
  'dwellS',
  'soakS',
  'standS',
  'sodaKg',
  'ccaLeastA',
  'wakeS',
  'burstS',
  'burstMoreS',
  'holdS',
  'testA',
  'cutoffV',
  'acidL',
  'saltG',
  'wasteSodaKg',
  'waterMl',
  'stubbornV',
  'stubbornA',
] as const;

export const FIGURE_KEYS = [...BASE_KEYS, ...SOME_KEYS] as const;
export type FigureKey = (typeof FIGURE_KEYS)[number];
export type Figures = Record<(typeof BASE_KEYS)[number], Figure> & Partial<Record<(typeof SOME_KEYS)[number], Figure>>;

/** Everything a job computes before it starts; kept with the job as it was that day. */
export interface JobPlan {
  model: BatteryModel;
  figures: Figures;
  schools: SchoolChoices;
  /** Usual temperature of the bench when the job began, °C. */
  roomC: number;
  /** Words the chosen schools, and the model, put into the steps. */
  words: { strip: string; tubeHelp: string; caps: string };
  /** A cell filled over the mark wants a reason, by the chosen school. */
  overNeedsReason: boolean;
  /** Capacity by the last test of an earlier visit, share of C20, where there was one. */
  earlier?: { share: number; at: number };
  /** Things to know that are not numbers. */
  notices: string[];
}

/**
 * A figure of a plan that its procedure counts on.
 *
 * @throws Error when the plan has no such figure
 */
export function figureOf(plan: JobPlan, key: FigureKey): Figure {
  const figure = plan.figures[key];
  if (!figure) throw new Error(`The plan for ${plan.model.code} has no figure “${key}”.`);
  return figure;
}

/** Acid a conventional battery takes where the maker prints no volume, mL per cell and Ah of C20. Usual small sizes take 10–14. */
const BULK_ML_PER_CELL_AND_AH = 12;
/** A serviced battery is charged at this share of C20: slow beats fast. */
const SERVICE_C = 0.05;
/** Gas clears for this long after the charger is off. */
const CLEAR_S = 5 * 60;
/** Least load volts are printed for this temperature; the test uses the measured one. */
const LOAD_REFERENCE_C = 21;

const maker = (label: string, value: string): FigureInput => ({ label, value, origin: 'maker' });

/**
 * The plan of a job, every number with its origin.
 *
 * @param model what the maker prints
 * @param rules the house rules of today
 * @throws Error for a kind that is refused
 */
export function jobPlan(model: BatteryModel, rules: HouseRules, purpose: Purpose = 'commission'): JobPlan {
  const kind = leadAcidKind(model.kind);
  const chemistry = CHEMISTRIES[kind.chemistry];
  const rest = purpose === 'recover' ? schoolOf('restRecovered', rules.schools) : schoolOf('restNew', rules.schools);
  const pass = schoolOf('passLine', rules.schools);
  const cells = maker('Cells', String(model.cells));
  const c20 = maker('C20', `${model.c20Ah} Ah`);
  const first = firstChargeCurrent(model, rules.schools);
  const chargeA = purpose === 'service' || purpose === 'recover' ? serviceCurrent(model, first) : first;
  const per12V = kind.chemistry === 'flooded' ? pass.school.values.conventional : pass.school.values.agm;

  const fillSg = choose({ key: 'fillSg', label: kind.fill ? 'Fill acid at 25 °C' : 'Its acid when full, 25 °C', unit: 'SG' }, model.fillSg, {
    value: kind.fullSg,
    origin: 'default',
    formula: kind.fill ? 'Usual filling acid' : `Usual acid of the kind: ${kind.name}`,
    source: 'Usual acid where the maker prints none',
  });

  const figures: Figures = {
    ...(purpose === 'commission' ? fillFigures(model, kind, rules, fillSg) : {}),
    ...(purpose === 'recover' ? { ...recoveryFigures(model, fillSg), ...stubbornFigures(model, kind, rules) } : {}),
    fillSg,
    fullV: {
      key: 'fullV',
      label: 'Rest voltage of this acid',
      unit: 'V',
      value: restVoltageFromSg(fillSg.value) * model.cells,
      origin: 'computed',
      formula: 'Rest voltage of a cell at the molality of its acid, fully charged, × cells',
      inputs: [{ label: fillSg.label, value: `SG ${fillSg.value.toFixed(3)}`, origin: fillSg.origin }, cells],
      source: 'Bode, Lead-Acid Batteries, 1977; 25 °C',
    },
    chargeA,
    ceilingV: firstChargeCeiling(model, chemistry),
    chargeS: chargeDuration(
      model,
      chemistry,
      chargeA,
      kind.arrivesShare,
      kind.fill ? 'Freshly filled stock stands at about 80 %' : `Such stock arrives at about ${Math.round(kind.arrivesShare * 100)} %`,
    ),
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
      source: `School “${rest.school.name}” for the rest of a ${purpose === 'recover' ? 'recovered' : 'new'} battery`,
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
    ...(model.cca === null
      ? {}
      : {
          ccaLeastA: {
            key: 'ccaLeastA',
            label: `Least CCA, ${model.ccaStandard ?? ''}`.trim(),
            unit: 'A' as const,
            value: model.cca,
            origin: 'maker' as const,
            formula: 'The rating itself, by the same standard; standards are never converted',
            inputs: [],
            source: "Maker's sheet for the model",
          },
        }),
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
    words: {
      strip: schoolOf('capStrip', rules.schools).school.values.words,
      tubeHelp: schoolOf('tubeHelp', rules.schools).school.values.words,
      caps: model.caps === 'pull' ? 'Pull the caps.' : 'Unscrew the caps.',
    },
    overNeedsReason: schoolOf('fillMark', rules.schools).school.values.overNeedsReason,
    notices,
  };
}

/** Slow charge of a service: C/20, or the first charge's current where that is lower. */
function serviceCurrent(model: BatteryModel, first: Figure): Figure {
  const slow = Math.round(SERVICE_C * model.c20Ah * 1e6) / 1e6;
  if (first.value <= slow) return first;
  return {
    ...first,
    value: slow,
    origin: 'default',
    formula: `C20 × ${SERVICE_C}`,
    inputs: [maker('C20', `${model.c20Ah} Ah`)],
    source: 'Shop practice: a service charge is slow',
  };
}

const HOUR_S = 3600;
/** A week on the shelf. */
const HOLD_S = 7 * 24 * HOUR_S;
/** Discharge of a capacity test: the 25 A of a reserve capacity, or a fifth of C20 where that is less. */
const RESERVE_A = 25;
const TEST_C = 0.2;
/** An opened AGM gets at most this share of the acid a battery of its size holds. */
const MOST_WATER_SHARE = 0.1;

/** Times, currents and amounts that only a recovery counts on. */
function recoveryFigures(model: BatteryModel, fillSg: Figure): Partial<Figures> {
  const cells = maker('Cells', String(model.cells));
  const c20 = maker('C20', `${model.c20Ah} Ah`);
  const fixed = (key: FigureKey, label: string, value: number, formula: string): Figure => ({
    key,
    label,
    unit: 's',
    value,
    origin: 'default',
    formula,
    inputs: [],
    source: 'Shop practice',
  });
  const acidMl = choose({ key: 'acidL', label: 'Acid in it, about', unit: 'mL' }, model.electrolyteMl, {
    value: BULK_ML_PER_CELL_AND_AH * model.cells * model.c20Ah,
    origin: 'default',
    formula: `${BULK_ML_PER_CELL_AND_AH} mL × cells × C20`,
    inputs: [cells, c20],
    source: 'Usual small conventional batteries, 10–14 mL per cell and Ah',
  });
  const needs = sulfateNeeds(acidMl.value / 1000, fillSg.value);
  const testA = Math.min(RESERVE_A, TEST_C * model.c20Ah);
  return {
    wakeS: fixed('wakeS', 'One go at waking', HOUR_S, 'An hour, twice at most'),
    burstS: fixed('burstS', 'A burst', 15 * 60, '15 min at a time'),
    burstMoreS: fixed('burstMoreS', 'Once all are active', 12 * 60, '10–15 min more'),
    holdS: fixed('holdS', 'Hold', HOLD_S, 'A week with nothing connected'),
    testA: {
      key: 'testA',
      label: 'Capacity test',
      unit: 'A',
      value: testA,
      origin: 'default',
      formula: `${RESERVE_A} A, or C20 × ${TEST_C} where that is less`,
      inputs: [c20],
      source: 'Reserve capacity is tested at 25 A to 10.5 V; small batteries in proportion',
    },
    cutoffV: {
      key: 'cutoffV',
      label: 'Discharge ends at',
      unit: 'V',
      value: forCells(CUT_OFF_12V, model.cells),
      origin: 'default',
      formula: `${CUT_OFF_12V} V per 12 V × cells ÷ 6`,
      inputs: [cells],
      source: 'Usual end of a capacity test, 1.75 V per cell',
    },
    acidL: acidMl,
    saltG: {
      key: 'saltG',
      label: 'Sodium sulfate for a solution',
      unit: 'kg',
      value: needs.saltG / 1000,
      origin: 'computed',
      formula: `${SULFATE_G_PER_L} g to a litre of distilled water, as much as the acid drawn off`,
      inputs: [{ label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin }],
      source: 'As practitioners print it; contested',
    },
    wasteSodaKg: {
      key: 'wasteSodaKg',
      label: 'Bicarbonate for the acid in it',
      unit: 'kg',
      value: needs.bicarbonateKg,
      origin: 'computed',
      formula: '1.713 g to a gram of acid',
      inputs: [{ label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin }],
      source: 'H₂SO₄ + 2 NaHCO₃ → Na₂SO₄ + 2 H₂O + 2 CO₂',
    },
    waterMl: {
      key: 'waterMl',
      label: 'Water into an opened AGM, at most',
      unit: 'mL',
      value: MOST_WATER_SHARE * acidMl.value,
      origin: 'default',
      formula: `${MOST_WATER_SHARE * 100} % of the acid a battery of its size holds; a missing gram is a missing millilitre`,
      inputs: [{ label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin }],
      source: 'Assumed; experimental',
    },
  };
}

/** How far, and at how little current, this shop takes an opened flooded battery that stays hard; nothing where it does not. */
function stubbornFigures(model: BatteryModel, kind: LeadAcidKind, rules: HouseRules): Partial<Figures> {
  const { school, origin } = schoolOf('stubborn', rules.schools);
  const { per12V, mostC } = school.values;
  if (per12V === null || kind.ports !== 'serviceable') return {};
  const source = `School “${school.name}” for a stubborn flooded battery; experts only`;
  return {
    stubbornV: {
      key: 'stubbornV',
      label: 'Highest ceiling, by hand',
      unit: 'V',
      value: forCells(per12V, model.cells),
      origin,
      formula: `${per12V} V per 12 V × cells ÷ 6`,
      inputs: [maker('Cells', String(model.cells))],
      source,
    },
    stubbornA: {
      key: 'stubbornA',
      label: 'At most, above the usual ceiling',
      unit: 'A',
      value: mostC * model.c20Ah,
      origin,
      formula: `C20 × ${mostC}`,
      inputs: [maker('C20', `${model.c20Ah} Ah`)],
      source,
    },
  };
}

/** What goes in, and how long it stands: by tubes, by hose, or nothing. */
function fillFigures(model: BatteryModel, kind: LeadAcidKind, rules: HouseRules, fillSg: Figure): Partial<Figures> {
  if (kind.fill === null) return {};
  const cells = maker('Cells', String(model.cells));
  const c20 = maker('C20', `${model.c20Ah} Ah`);
  const fillMl = choose({ key: 'fillMl', label: kind.fill === 'tubes' ? 'Electrolyte in all' : 'Acid in all, about', unit: 'mL' }, model.electrolyteMl, {
    value: BULK_ML_PER_CELL_AND_AH * model.cells * model.c20Ah,
    origin: 'default',
    formula: `${BULK_ML_PER_CELL_AND_AH} mL × cells × C20; the marks decide, not this`,
    inputs: [cells, c20],
    source: 'Usual small conventional batteries, 10–14 mL per cell and Ah',
  });
  const common = {
    fillMl,
    fillMlPerCell: {
      key: 'fillMlPerCell',
      label: kind.fill === 'tubes' ? 'Electrolyte per cell' : 'Acid per cell, about',
      unit: 'mL' as const,
      value: fillMl.value / model.cells,
      origin: 'computed' as const,
      formula: 'Volume ÷ cells',
      inputs: [{ label: fillMl.label, value: `${fillMl.value.toFixed(0)} mL`, origin: fillMl.origin }, cells],
      source: kind.fill === 'tubes' ? 'Equal tubes, one to each cell' : 'Equal cells',
    },
    sodaKg: neutralisingFigure(fillMl, fillSg),
  };
  if (kind.fill === 'bulk') {
    const stand = schoolOf('bulkFillStand', rules.schools);
    const { standS, threeCellS } = stand.school.values;
    const short = threeCellS !== null && model.cells <= 3;
    return {
      ...common,
      standS: {
        key: 'standS',
        label: 'Stands after each pass',
        unit: 's',
        value: short ? threeCellS : standS,
        origin: stand.origin,
        formula: threeCellS === null ? 'A fixed time after each pass' : `${threeCellS / 60} min for three cells, ${standS / 60} min for more`,
        inputs: [cells],
        source: `School “${stand.school.name}” for the stand after a bulk fill`,
      },
    };
  }
  const stand = schoolOf('tubeFillStand', rules.schools);
  const { packSmallS, packLargeS, splitAh, soakS } = stand.school.values;
  const source = `School “${stand.school.name}” for the stand after a tube-pack fill`;
  return {
    ...common,
    dwellS: choose({ key: 'dwellS', label: 'Pack stays on', unit: 's' }, model.dwellS, {
      value: model.c20Ah <= splitAh ? packSmallS : packLargeS,
      origin: stand.origin,
      formula: `${packSmallS / 60} min to ${splitAh} Ah, ${packLargeS / 60} min above`,
      inputs: [c20],
      source,
    }),
    soakS: choose({ key: 'soakS', label: 'Soak', unit: 's' }, model.soakS, {
      value: soakS,
      origin: stand.origin,
      formula: 'A fixed time after the pack is lifted',
      inputs: [],
      source,
    }),
  };
}

/** Bicarbonate to have at hand, should all of it be spilt. */
function neutralisingFigure(fillMl: Figure, fillSg: Figure): Figure {
  const { bicarbonateKg, carbonDioxideL } = neutraliser(fillMl.value / 1000, fillSg.value);
  return {
    key: 'sodaKg',
    label: 'Bicarbonate for a spill',
    unit: 'kg',
    value: bicarbonateKg,
    origin: 'computed',
    formula: `1.713 g to a gram of acid; the foam is ${carbonDioxideL.toFixed(0)} L of carbon dioxide`,
    inputs: [
      { label: fillMl.label, value: `${fillMl.value.toFixed(0)} mL`, origin: fillMl.origin },
      { label: fillSg.label, value: `SG ${fillSg.value.toFixed(3)}`, origin: fillSg.origin },
    ],
    source: 'H₂SO₄ + 2 NaHCO₃ → Na₂SO₄ + 2 H₂O + 2 CO₂',
  };
}
