import { type Chemistry, forCells } from '../batteries/chemistry.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { choose, type Figure } from '../quantities/figure.ts';
import type { SchoolChoices } from '../house/schools.ts';
import { type FirstCharge, schoolOf } from '../house/schools.ts';
import { SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from './limits.ts';
import { PROGRESS_RULES } from './progress.ts';

/** A freshly filled dry-charged battery stands at about this state of charge. */
const FRESH_FILL_SHARE = 0.8;

/** Current of the first charge: maker's, else the chosen school's, capped for small sizes. */
export function firstChargeCurrent(model: BatteryModel, choices: SchoolChoices): Figure {
  const { school, origin } = schoolOf('firstCharge', choices);
  const rule: FirstCharge = school.values;
  const wanted = rule.rule === 'c-rate' ? Math.round(rule.cRate * model.c20Ah * 1e6) / 1e6 : model.c20Ah <= rule.splitAh ? rule.smallA : rule.largeA;
  const small = model.c20Ah <= SMALL_SIZE_AH;
  const said = rule.rule === 'c-rate' ? `C20 × ${rule.cRate}` : `${rule.smallA} A to ${rule.splitAh} Ah, ${rule.largeA} A above`;
  return choose({ key: 'chargeA', label: 'Charge current', unit: 'A' }, model.chargeA, {
    value: small ? Math.min(wanted, SMALL_SIZE_CAP_A) : wanted,
    origin,
    formula: small ? `${said}; at most ${SMALL_SIZE_CAP_A} A up to ${SMALL_SIZE_AH} Ah` : said,
    inputs: [{ label: 'C20', value: `${model.c20Ah} Ah`, origin: 'maker' }],
    source: `School “${school.name}” for the initial charge`,
  });
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

/**
 * Expected length of the first charge: what is missing after the fill at the set current, then the
 * two hours in which three readings an hour apart show that the volts no longer rise.
 */
export function firstChargeDuration(model: BatteryModel, chemistry: Chemistry, current: Figure): Figure {
  const missingAh = (1 - FRESH_FILL_SHARE) * model.c20Ah * chemistry.rechargeFactor;
  const proofS = (PROGRESS_RULES.readings - 1) * PROGRESS_RULES.apartS;
  return {
    key: 'chargeS',
    label: 'Expected charge',
    unit: 's',
    value: Math.round((missingAh / current.value) * 3600) + proofS,
    origin: 'computed',
    formula: 'C20 × missing share × recharge factor ÷ current + 2 h of proof',
    inputs: [
      { label: 'C20', value: `${model.c20Ah} Ah`, origin: 'maker' },
      { label: 'Missing after the fill', value: `${Math.round((1 - FRESH_FILL_SHARE) * 100)} %`, origin: 'default' },
      { label: 'Recharge factor', value: chemistry.rechargeFactor.toFixed(2), origin: 'default' },
      { label: 'Current', value: `${current.value.toFixed(1)} A`, origin: current.origin },
    ],
    source: 'Freshly filled stock stands at about 80 %; the end is judged by readings, not by this estimate',
  };
}
