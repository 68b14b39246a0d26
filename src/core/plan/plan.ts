import { c20Input } from '../batteries/c20Input.ts';
import { CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import {
  LOAD_TEST_C_RATE,
  LOAD_TEST_MINIMUM,
  LOAD_TEST_S,
  loadTestA,
  loadTestMinimumV,
} from '../capacity/loadTest.ts';
import { firstChargeCeiling, firstChargeCurrent } from './firstCharge.ts';
import { chargeDuration } from '../rehearsal/chargeDuration.ts';
import { SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from '../charging/limits.ts';
import type { HouseRules } from '../house/rules.ts';
import { schoolOf } from '../house/schools.ts';
import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import { choose, type Figure } from '../quantities/figure.ts';
import { fillFigures } from './fillFigures.ts';
import { linesNow } from './lines.ts';
import { maker } from './planInputs.ts';
import type { Purpose } from './procedure.ts';
import { recoveryFigures, stubbornFigures } from './recoveryFigures.ts';
import type { JobPlan } from './jobPlan.ts';
import type { Figures } from './figures.ts';

/** A serviced battery is charged at this share of C20: slow beats fast. */
const SERVICE_C = 0.05;
/** Gas clears for this long after the charger is off. */
const CLEAR_S = 5 * 60;
/** Least load volts are printed for this temperature; the test uses the measured one. */
const LOAD_REFERENCE_C = 21;

/**
 * The plan of a job, every number with its origin.
 *
 * @param model what the maker prints
 * @param rules the house rules of today
 * @throws Error for a kind that is refused
 */
export function jobPlan(
  model: BatteryModel,
  rules: HouseRules,
  purpose: Purpose = 'commission',
): JobPlan {
  const kind = leadAcidKind(model.kind);
  const chemistry = CHEMISTRIES[kind.chemistry];
  const rest =
    purpose === 'recover'
      ? schoolOf('restRecovered', rules.schools)
      : schoolOf('restNew', rules.schools);
  const pass = schoolOf('passLine', rules.schools);
  const cells = maker('Cells', String(model.cells));
  const c20 = c20Input(model);
  const first = firstChargeCurrent(model, rules.schools);
  const chargeA =
    purpose === 'service' || purpose === 'recover' ? serviceCurrent(model, first) : first;
  const ceilingV = firstChargeCeiling(model, chemistry);
  const per12V =
    kind.chemistry === 'flooded' ? pass.school.values.conventional : pass.school.values.agm;

  const fillSg = choose(
    {
      key: 'fillSg',
      label: kind.fill ? 'Fill acid at 25 °C' : 'Its acid when full, 25 °C',
      unit: 'SG',
    },
    model.fillSg,
    {
      value: kind.fullSg,
      origin: 'default',
      formula: kind.fill ? 'Usual filling acid' : `Usual acid of the kind: ${kind.name}`,
      source: 'Usual acid where the maker prints none',
    },
  );

  const figures: Figures = {
    ...(purpose === 'commission' ? fillFigures(model, kind, rules, fillSg) : {}),
    ...(purpose === 'recover'
      ? { ...recoveryFigures(model, fillSg), ...stubbornFigures(model, kind, rules) }
      : {}),
    fillSg,
    fullV: {
      key: 'fullV',
      label: 'Rest voltage of this acid',
      unit: 'V',
      value: restVoltageFromSg(fillSg.value) * model.cells,
      origin: 'computed',
      formula: 'Rest voltage of a cell at the molality of its acid, fully charged, × cells',
      inputs: [
        { label: fillSg.label, value: `SG ${fillSg.value.toFixed(3)}`, origin: fillSg.origin },
        cells,
      ],
      source: 'Bode, Lead-Acid Batteries, 1977; 25 °C',
    },
    chargeA,
    ceilingV,
    chargeS: chargeDuration(
      model,
      chemistry,
      chargeA,
      ceilingV,
      kind.arrivesShare,
      kind.fill
        ? 'Freshly filled stock stands at about 80 %'
        : `Such stock arrives at about ${Math.round(kind.arrivesShare * 100)} %`,
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
      label: `Minimum voltage under load at ${LOAD_REFERENCE_C} °C`,
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
            label: `Minimum CCA, ${model.ccaStandard ?? ''}`.trim(),
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
    notices.push(
      `The maker prints ${model.chargeA} A; the shop would stay at ${SMALL_SIZE_CAP_A} A for this size. The maker's word stands.`,
    );
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
    lines: linesNow(model),
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
    inputs: [c20Input(model)],
    source: 'Shop practice: a service charge is slow',
  };
}
