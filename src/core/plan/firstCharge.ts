import { c20Input } from '../batteries/c20Input.ts';
import { type Chemistry, forCells } from '../batteries/chemistry.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { choose, type Figure } from '../quantities/figure.ts';
import { type FirstCharge, type SchoolChoices, schoolOf } from '../house/schools.ts';
import { MOST_C, SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from '../charging/limits.ts';

/** Current of the first charge: maker's, else the chosen school's, capped for small sizes. */
export function firstChargeCurrent(model: BatteryModel, choices: SchoolChoices): Figure {
  const { school, origin } = schoolOf('firstCharge', choices);
  const { amps: wanted, said } = ruledCurrent(school.values, model.c20Ah);
  const small = model.c20Ah <= SMALL_SIZE_AH;
  return choose({ key: 'chargeA', label: 'Charge current', unit: 'A' }, model.chargeA, {
    value: small ? Math.min(wanted, SMALL_SIZE_CAP_A) : wanted,
    origin,
    formula: small ? `${said}; at most ${SMALL_SIZE_CAP_A} A up to ${SMALL_SIZE_AH} Ah` : said,
    inputs: [c20Input(model)],
    source: `School “${school.name}” for the initial charge`,
  });
}

/** Current a rule gives a battery of this size, A, and the rule in words. */
function ruledCurrent(rule: FirstCharge, c20Ah: number): { amps: number; said: string } {
  switch (rule.rule) {
    case 'c-rate':
      return { amps: Math.round(rule.cRate * c20Ah * 1e6) / 1e6, said: `C20 × ${rule.cRate}` };
    case 'by-size':
      return {
        amps: c20Ah <= rule.splitAh ? rule.smallA : rule.largeA,
        said: `${rule.smallA} A to ${rule.splitAh} Ah, ${rule.largeA} A above`,
      };
    case 'fixed':
      return {
        amps: Math.min(rule.fixedA, MOST_C * c20Ah),
        said: `${rule.fixedA} A, and never above ${MOST_C} × C20`,
      };
  }
}

/** Ceiling of the first charge at 25 °C: maker's, else the top of the family's band. */
export function firstChargeCeiling(model: BatteryModel, chemistry: Chemistry): Figure {
  const per12V = chemistry.absorptionV[1];
  return choose({ key: 'ceilingV', label: 'Charge ceiling at 25 °C', unit: 'V' }, model.ceilingV, {
    value: forCells(per12V, model.cells),
    origin: 'default',
    formula: `${per12V.toFixed(1)} V per 12 V × cells ÷ 6; falls 3 mV per cell and °C`,
    inputs: [{ label: 'Cells', value: String(model.cells), origin: 'maker' }],
    source: `${chemistry.sources.charging}: ${chemistry.name} ${chemistry.absorptionV.map((v) => v.toFixed(1)).join('–')} V`,
  });
}
