import { c20Input } from '../batteries/c20Input.ts';
import type { LeadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { neutraliser } from '../electrolyte/neutralising.ts';
import type { HouseRules } from '../house/rules.ts';
import { schoolOf } from '../house/schools.ts';
import { choose, type Figure } from '../quantities/figure.ts';
import type { Figures } from './figures.ts';
import { BULK_ML_PER_CELL_AND_AH, maker } from './planInputs.ts';

/** What goes in, and how long it stands: by tubes, by hose, or nothing. */
export function fillFigures(
  model: BatteryModel,
  kind: LeadAcidKind,
  rules: HouseRules,
  fillSg: Figure,
): Partial<Figures> {
  if (kind.fill === null) return {};
  const cells = maker('Cells', String(model.cells));
  const c20 = c20Input(model);
  const fillMl = choose(
    {
      key: 'fillMl',
      label: kind.fill === 'tubes' ? 'Electrolyte in all' : 'Acid in all, about',
      unit: 'mL',
    },
    model.electrolyteMl,
    {
      value: BULK_ML_PER_CELL_AND_AH * model.cells * model.c20Ah,
      origin: 'default',
      formula: `${BULK_ML_PER_CELL_AND_AH} mL × cells × C20; the marks decide, not this`,
      inputs: [cells, c20],
      source: 'Usual small conventional batteries, 10–14 mL per cell and Ah',
    },
  );
  const common = {
    fillMl,
    fillMlPerCell: {
      key: 'fillMlPerCell',
      label: kind.fill === 'tubes' ? 'Electrolyte per cell' : 'Acid per cell, about',
      unit: 'mL' as const,
      value: fillMl.value / model.cells,
      origin: 'computed' as const,
      formula: 'Volume ÷ cells',
      inputs: [
        { label: fillMl.label, value: `${fillMl.value.toFixed(0)} mL`, origin: fillMl.origin },
        cells,
      ],
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
        formula:
          threeCellS === null
            ? 'A fixed time after each pass'
            : `${threeCellS / 60} min for three cells, ${standS / 60} min for more`,
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
    formula: `1.713 to 1 of acid, by mass; the foam is ${carbonDioxideL.toFixed(0)} L of carbon dioxide`,
    inputs: [
      { label: fillMl.label, value: `${fillMl.value.toFixed(0)} mL`, origin: fillMl.origin },
      { label: fillSg.label, value: `SG ${fillSg.value.toFixed(3)}`, origin: fillSg.origin },
    ],
    source: 'H₂SO₄ + 2 NaHCO₃ → Na₂SO₄ + 2 H₂O + 2 CO₂',
  };
}
