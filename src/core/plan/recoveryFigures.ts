import { c20Input } from '../batteries/c20Input.ts';
import { forCells } from '../batteries/chemistry.ts';
import type { LeadAcidKind } from '../batteries/kinds.ts';
import { type BatteryModel, RESERVE_A } from '../batteries/model.ts';
import { CUT_OFF_12V, TEST_C, usualTestA } from '../capacity/capacityTest.ts';
import { MAGNESIUM_WATER_PARTS, SULFATE_G_PER_L, sulfateNeeds } from '../diagnosis/additives.ts';
import type { HouseRules } from '../house/rules.ts';
import { schoolOf } from '../house/schools.ts';
import { choose, type Figure } from '../quantities/figure.ts';
import type { FigureKey, Figures } from './figures.ts';
import { BULK_ML_PER_CELL_AND_AH, maker } from './planInputs.ts';

const HOUR_S = 3600;
/** A week on the shelf. */
const HOLD_S = 7 * 24 * HOUR_S;
/** An opened AGM gets at most this share of the acid a battery of its size holds. */
const MOST_WATER_SHARE = 0.1;

/** Times, currents and amounts that only a recovery counts on. */
export function recoveryFigures(model: BatteryModel, fillSg: Figure): Partial<Figures> {
  const cells = maker('Cells', String(model.cells));
  const c20 = c20Input(model);
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
  const acidMl = choose(
    { key: 'acidL', label: 'Acid in it, about', unit: 'mL' },
    model.electrolyteMl,
    {
      value: BULK_ML_PER_CELL_AND_AH * model.cells * model.c20Ah,
      origin: 'default',
      formula: `${BULK_ML_PER_CELL_AND_AH} mL × cells × C20`,
      inputs: [cells, c20],
      source: 'Usual small conventional batteries, 10–14 mL per cell and Ah',
    },
  );
  const needs = sulfateNeeds(acidMl.value / 1000, fillSg.value);
  return {
    wakeS: fixed('wakeS', 'One go at waking', HOUR_S, 'An hour, twice at most'),
    burstS: fixed('burstS', 'A burst', 15 * 60, '15 min at a time'),
    burstMoreS: fixed('burstMoreS', 'Once all are active', 12 * 60, '10–15 min more'),
    holdS: fixed('holdS', 'Hold', HOLD_S, 'A week with nothing connected'),
    testA: {
      key: 'testA',
      label: 'Capacity test',
      unit: 'A',
      value: usualTestA(model.c20Ah),
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
      inputs: [
        { label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin },
      ],
      source: 'As practitioners print it; contested',
    },
    magnesiumMl: {
      key: 'magnesiumMl',
      label: 'Magnesium sulfate for a solution, by volume',
      unit: 'mL',
      value: acidMl.value / MAGNESIUM_WATER_PARTS,
      origin: 'computed',
      formula: `Water, as much as the acid drawn off, ÷ ${MAGNESIUM_WATER_PARTS}`,
      inputs: [
        { label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin },
      ],
      source: 'As practitioners tell it; contested',
    },
    wasteSodaKg: {
      key: 'wasteSodaKg',
      label: 'Bicarbonate for the acid in it',
      unit: 'kg',
      value: needs.bicarbonateKg,
      origin: 'computed',
      formula: '1.713 to 1 of acid, by mass',
      inputs: [
        { label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin },
      ],
      source: 'H₂SO₄ + 2 NaHCO₃ → Na₂SO₄ + 2 H₂O + 2 CO₂',
    },
    waterMl: {
      key: 'waterMl',
      label: 'Water into an opened AGM, at most',
      unit: 'mL',
      value: MOST_WATER_SHARE * acidMl.value,
      origin: 'default',
      formula: `${MOST_WATER_SHARE * 100} % of the acid a battery of its size holds; a missing gram is a missing millilitre`,
      inputs: [
        { label: acidMl.label, value: `${acidMl.value.toFixed(0)} mL`, origin: acidMl.origin },
      ],
      source: 'Assumed; experimental',
    },
  };
}

/** How far, and at how little current, this shop takes an opened flooded battery that stays hard; nothing where it does not. */
export function stubbornFigures(
  model: BatteryModel,
  kind: LeadAcidKind,
  rules: HouseRules,
): Partial<Figures> {
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
      inputs: [c20Input(model)],
      source,
    },
  };
}
