import { CHEMISTRIES, type ChemistryKey } from '../batteries/chemistry.ts';

/** Where a parameter stands: published, derived from a published table, fitted to one, or assumed. */
export type Standing = 'published' | 'derived' | 'fitted' | 'assumed';

/** One number of the model: what it is, where it comes from, and how far it may be off. */
export interface Parameter {
  value: number;
  unit: string;
  /** Factor either way that a real battery may differ by (one standard deviation of its logarithm); 1 is exact. */
  spread: number;
  standing: Standing;
  source: string;
}

/**
 * What makes one family of battery behave as it does. Everything is per cell and per Ah of rated
 * C20, so that one design serves every size: currents are in C (1/h), resistances in Ω·Ah, charge
 * and acid in Ah per Ah, water in g per Ah.
 */
export interface CellDesign {
  chemistry: ChemistryKey;
  parameters: Readonly<Record<DesignKey, Parameter>>;
}

/** Names of the parameters, in the order the kernel reads them. */
export const DESIGN_KEYS = [
  'acid',
  'water',
  'poreShare',
  'diffusion',
  'diffusionPerK',
  'layering',
  'mixingByGas',
  'mixingByItself',
  'reach',
  'reachPerK',
  'exchange',
  'exchangePerK',
  'exchangeFade',
  'tafel',
  'exchangeCharging',
  'tafelCharging',
  'acceptance',
  'acceptancePower',
  'acceptancePerK',
  'transport',
  'transportPower',
  'transportAcid',
  'transportPerK',
  'transportCapacity',
  'transportCharging',
  'resistance',
  'resistanceSize',
  'acidOhms',
  'acidPerK',
  'metalPerK',
  'resistanceEmpty',
  'resistanceHard',
  'gassing',
  'localAction',
  'recombination',
  'recombinationLimit',
  'doubleLayer',
  'surface',
  'surfaceOhms',
  'surfaceLoss',
  'hardening',
  'softening',
  'filming',
  'dryBegins',
  'dryEnds',
  'dryCapacity',
  'dryOhms',
  'dryGas',
  'heatCapacity',
  'cooling',
] as const;
export type DesignKey = (typeof DESIGN_KEYS)[number];

const published = (value: number, unit: string, source: string, spread = 1): Parameter => ({
  value,
  unit,
  spread,
  standing: 'published',
  source,
});
const derived = (value: number, unit: string, source: string, spread = 1): Parameter => ({
  value,
  unit,
  spread,
  standing: 'derived',
  source,
});
const fitted = (value: number, unit: string, source: string, spread = 1.1): Parameter => ({
  value,
  unit,
  spread,
  standing: 'fitted',
  source,
});
const assumed = (value: number, unit: string, spread: number, source: string): Parameter => ({
  value,
  unit,
  spread,
  standing: 'assumed',
  source,
});

const REST_TABLE =
  'Acid and water that put the usual rest-voltage table of the family on Bode’s polynomial, with acid used as Faraday says';
const BEHAVIOUR =
  'Fitted to published tests and usual data sheets of 4–200 Ah: the table of docs/model.md';
const GAS =
  'The law of Schiffer et al., J. Power Sources 168 (2007), with the current that gives the family’s float current and loss on the shelf';
const SULFATE =
  'Assumed: published rates scatter over a decade; set so that 90 days at 15 % and 25 °C harden about a fifth of the plates';
const FILM =
  'Assumed: bench experience of batteries that start high on charge and fall within hours';
const CASE = 'Assumed: about 1.1 kJ/kg·K, 0.25 kg per Ah of a 12 V battery, still air on all sides';
const RESISTANCE_STARTER =
  'Analysers’ own constant, 2,700 mΩ·A over the CCA (EN), with 9 A of it per Ah';
const RESISTANCE_STANDBY =
  'Data sheets of AGM batteries of 7–200 Ah: 5.14 mΩ·(C20/60 Ah)^−0.74 for 12 V';
const RESISTANCE_GEL =
  'As AGM of the same size, and a fifth more: data sheets of gel batteries of 7–200 Ah';
const METAL = 'Lead, and conductivity of sulfuric acid about its best at 4.6 mol/kg';
const SURFACE =
  'Fitted to the surface charge of the table: how far a fresh full charge stands above rest after 10 min, 1 h and 12 h';

const shared = {
  mixingByGas: assumed(
    8,
    '1 per gassed C',
    2,
    'Assumed: an hour of gassing at C/20 mixes a flooded cell by a third',
  ),
  hardening: assumed(0.00018, '1/h', 2.2, SULFATE),
  softening: assumed(
    0.004,
    '1/h at 2.45 V',
    2.2,
    'Assumed: a day at 14.7 V brings back about a tenth of what has hardened',
  ),
  filming: assumed(0.0004, '1/h', 2, FILM),
  resistanceHard: assumed(
    6,
    '×',
    1.6,
    'Assumed: crystals block the pores; several to many times the resistance when half the plate is hard',
  ),
  heatCapacity: assumed(0.0127, 'Wh/K per cell and Ah', 1.15, CASE),
  metalPerK: published(0.0039, '1/K', METAL),
  acidPerK: derived(0.017, '1/K', METAL),
  cooling: assumed(0.05, 'W/K per (cell·Ah)^⅔', 1.5, CASE),
} satisfies Partial<Record<DesignKey, Parameter>>;

/** Valve-regulated cells whose acid is held in a mat. Gel is taken to differ from them only where it says so. */
const absorbed = {
  ...shared,
  acid: derived(1.351, 'Ah/Ah', REST_TABLE, 1.03),
  water: derived(CHEMISTRIES.agm.waterGPerAh, 'g/Ah', REST_TABLE, 1.03),
  poreShare: fitted(0.367, 'of the water', BEHAVIOUR),
  diffusion: fitted(0.304, '1/h', BEHAVIOUR, 1.2),
  diffusionPerK: fitted(0.017, '1/K', BEHAVIOUR, 1.04),
  layering: assumed(0.08, 'share', 1.5, 'Assumed: the mat holds the acid in place'),
  mixingByItself: assumed(0.01, '1/h', 2, 'Assumed'),
  reach: fitted(1.12, 'Ah/Ah', BEHAVIOUR, 1.05),
  reachPerK: fitted(0.0048, '1/K', BEHAVIOUR, 1.04),
  exchange: fitted(0.183, 'C', BEHAVIOUR, 1.3),
  exchangePerK: fitted(0.031, '1/K', BEHAVIOUR, 1.04),
  exchangeFade: fitted(0.39, 'power', BEHAVIOUR, 1.04),
  tafel: fitted(0.038, 'V', BEHAVIOUR),
  exchangeCharging: fitted(0.0169, 'C', BEHAVIOUR, 1.3),
  tafelCharging: fitted(0.0245, 'V', BEHAVIOUR),
  acceptance: fitted(5.7, '1/(V·h)', BEHAVIOUR, 1.4),
  acceptancePower: fitted(1.45, 'power', BEHAVIOUR, 1.04),
  acceptancePerK: fitted(0.026, '1/K', BEHAVIOUR, 1.04),
  transport: fitted(0.0095, 'Ω·Ah', BEHAVIOUR, 1.2),
  transportPower: fitted(2.37, 'power', BEHAVIOUR, 1.04),
  transportAcid: fitted(0.43, 'power', BEHAVIOUR, 1.04),
  transportPerK: fitted(-0.017, '1/K', BEHAVIOUR, 1.04),
  transportCapacity: fitted(0.39 / 3600, 'Ah/V per Ah', BEHAVIOUR, 1.3),
  transportCharging: fitted(0.093, 'share', BEHAVIOUR, 1.3),
  resistance: derived(0.0514, 'Ω·Ah at 60 Ah', RESISTANCE_STANDBY, 1.2),
  resistanceSize: derived(0.26, 'power of C20/60', RESISTANCE_STANDBY),
  acidOhms: fitted(0.34, 'share', BEHAVIOUR),
  resistanceEmpty: fitted(0.16, '×', BEHAVIOUR, 1.3),
  gassing: fitted(0.000085, 'C at 2.23 V, 25 °C', GAS, 1.5),
  localAction: derived(0.000028, 'C', GAS, 1.5),
  recombination: assumed(0.97, 'share', 1.01, 'Usual for absorbed mat at moderate overcharge'),
  recombinationLimit: assumed(
    0.05,
    'C',
    1.4,
    'Assumed: above about C/20 the oxygen outruns the mat and vents',
  ),
  doubleLayer: fitted(7.7 / 3600, 'Ah/V per Ah', BEHAVIOUR, 1.5),
  surface: fitted(0.0085, 'Ah/V per Ah', SURFACE, 1.5),
  surfaceOhms: fitted(110, 'Ω·Ah', SURFACE, 1.5),
  surfaceLoss: fitted(0.0058, '1/(V·h)', SURFACE, 1.3),
  dryBegins: published(1, 'of the water', 'A starved mat has none to lose'),
  dryEnds: published(0, 'of the water', 'See dryOhms and dryCapacity'),
  dryCapacity: assumed(
    0.8,
    'share',
    1.2,
    'Assumed: 15 % of the water gone costs about an eighth of the capacity',
  ),
  dryOhms: assumed(
    2.5,
    'power',
    1.2,
    'Assumed: 15 % of the water gone raises the resistance by a fifth',
  ),
  dryGas: assumed(
    20,
    '×',
    1.4,
    'Assumed: oxygen crosses a dry mat freely, and float current grows',
  ),
} satisfies Record<DesignKey, Parameter>;

export const DESIGNS: Readonly<Record<ChemistryKey, CellDesign>> = {
  flooded: {
    chemistry: 'flooded',
    parameters: {
      ...shared,
      acid: derived(1.7, 'Ah/Ah', REST_TABLE, 1.03),
      water: derived(CHEMISTRIES.flooded.waterGPerAh, 'g/Ah', REST_TABLE, 1.03),
      poreShare: fitted(0.295, 'of the water', BEHAVIOUR),
      diffusion: fitted(0.241, '1/h', BEHAVIOUR, 1.2),
      diffusionPerK: fitted(0.018, '1/K', BEHAVIOUR, 1.04),
      layering: assumed(
        0.5,
        'share',
        1.4,
        'Assumed: strong acid leaving the plates sinks in free acid',
      ),
      mixingByItself: assumed(0.004, '1/h', 2, 'Assumed: layers last for days to weeks'),
      reach: fitted(1.17, 'Ah/Ah', BEHAVIOUR, 1.05),
      reachPerK: fitted(0.0053, '1/K', BEHAVIOUR, 1.04),
      exchange: fitted(0.071, 'C', BEHAVIOUR, 1.3),
      exchangePerK: fitted(0.033, '1/K', BEHAVIOUR, 1.04),
      exchangeFade: fitted(0.41, 'power', BEHAVIOUR, 1.04),
      tafel: fitted(0.031, 'V', BEHAVIOUR),
      exchangeCharging: fitted(0.0171, 'C', BEHAVIOUR, 1.3),
      tafelCharging: fitted(0.0185, 'V', BEHAVIOUR),
      acceptance: fitted(7.4, '1/(V·h)', BEHAVIOUR, 1.4),
      acceptancePower: fitted(1.6, 'power', BEHAVIOUR, 1.04),
      acceptancePerK: fitted(0.034, '1/K', BEHAVIOUR, 1.04),
      transport: fitted(0.0033, 'Ω·Ah', BEHAVIOUR, 1.2),
      transportPower: fitted(3.15, 'power', BEHAVIOUR, 1.04),
      transportAcid: fitted(0.98, 'power', BEHAVIOUR, 1.04),
      transportPerK: fitted(-0.031, '1/K', BEHAVIOUR, 1.04),
      transportCapacity: fitted(0.46 / 3600, 'Ah/V per Ah', BEHAVIOUR, 1.3),
      transportCharging: fitted(0.018, 'share', BEHAVIOUR, 1.3),
      resistance: derived(0.05, 'Ω·Ah at 60 Ah', RESISTANCE_STARTER, 1.2),
      resistanceSize: derived(0, 'power of C20/60', RESISTANCE_STARTER),
      acidOhms: fitted(0.28, 'share', BEHAVIOUR),
      resistanceEmpty: fitted(0.54, '×', BEHAVIOUR, 1.3),
      gassing: fitted(0.00014, 'C at 2.23 V, 25 °C', GAS, 1.5),
      localAction: derived(0.00004, 'C', GAS, 1.5),
      recombination: published(0, 'share', 'Vented: nothing recombines'),
      recombinationLimit: published(0.05, 'C', 'Not used: vented'),
      doubleLayer: fitted(6.3 / 3600, 'Ah/V per Ah', BEHAVIOUR, 1.5),
      surface: fitted(0.007, 'Ah/V per Ah', SURFACE, 1.5),
      surfaceOhms: fitted(100, 'Ω·Ah', SURFACE, 1.5),
      surfaceLoss: fitted(0.0072, '1/(V·h)', SURFACE, 1.3),
      dryBegins: assumed(
        0.86,
        'of the water',
        1.05,
        'Assumed: plates are covered with 7–10 mm to spare',
      ),
      dryEnds: assumed(0.4, 'of the water', 1.1, 'Assumed'),
      dryCapacity: derived(1, 'share', 'Plates that no acid reaches give nothing'),
      dryOhms: assumed(1, 'power', 1.2, 'Assumed: ohms go with the plates that are covered'),
      dryGas: published(0, '×', 'Vented: nothing recombines'),
    },
  },
  agm: { chemistry: 'agm', parameters: absorbed },
  gel: {
    chemistry: 'gel',
    parameters: {
      ...absorbed,
      poreShare: fitted(0.4, 'of the water', BEHAVIOUR),
      layering: published(0, 'share', 'Gel: acid cannot sink'),
      tafelCharging: fitted(0.0225, 'V', BEHAVIOUR),
      acceptance: fitted(6.6, '1/(V·h)', BEHAVIOUR, 1.4),
      acceptancePower: fitted(1.42, 'power', BEHAVIOUR, 1.04),
      transport: fitted(0.0078, 'Ω·Ah', BEHAVIOUR, 1.2),
      resistance: derived(0.062, 'Ω·Ah at 60 Ah', RESISTANCE_GEL, 1.2),
      resistanceSize: derived(0.26, 'power of C20/60', RESISTANCE_GEL),
      gassing: fitted(0.00006, 'C at 2.23 V, 25 °C', GAS, 1.5),
      localAction: derived(0.000017, 'C', GAS, 1.5),
      recombination: assumed(0.95, 'share', 1.02, 'Usual for gel once it has cracked'),
      recombinationLimit: assumed(0.04, 'C', 1.4, 'Assumed'),
      surfaceLoss: fitted(0.0047, '1/(V·h)', SURFACE, 1.3),
    },
  },
};
