import type { ChemistryKey } from '../batteries/chemistry.ts';

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
  'layering',
  'mixingByGas',
  'mixingByItself',
  'activeShare',
  'exchange',
  'exchangeCharging',
  'tafel',
  'acceptance',
  'delivery',
  'acidKnee',
  'resistance',
  'resistanceEmpty',
  'resistanceHard',
  'gassing',
  'localAction',
  'recombination',
  'recombinationLimit',
  'doubleLayer',
  'hardening',
  'softening',
  'dryBegins',
  'dryEnds',
  'heatCapacity',
  'cooling',
] as const;
export type DesignKey = (typeof DESIGN_KEYS)[number];

const published = (value: number, unit: string, source: string, spread = 1): Parameter => ({ value, unit, spread, standing: 'published', source });
const derived = (value: number, unit: string, source: string, spread = 1): Parameter => ({ value, unit, spread, standing: 'derived', source });
const fitted = (value: number, unit: string, source: string, spread = 1.1): Parameter => ({ value, unit, spread, standing: 'fitted', source });
const assumed = (value: number, unit: string, spread: number, source: string): Parameter => ({ value, unit, spread, standing: 'assumed', source });

const REST_TABLE = 'Acid and water that put the usual rest-voltage table of the family on Bode’s polynomial, with acid used as Faraday says';
const RATINGS = 'Fitted to C20, C10 and reserve capacity by Peukert’s exponent of the family, and to the charge and discharge curves of Copetti et al. 1993';
const GAS = 'Schiffer et al., J. Power Sources 168 (2007)';
const GAS_SEALED = 'The law of Schiffer et al. 2007 with less than its 20 mA per 100 Ah, so that what is lost on the shelf is what the family loses';
const STORAGE = 'Usual loss on the shelf at 20 °C, less what gassing takes at rest';
const SULFATE = 'Assumed: published rates scatter over a decade; set so that 90 days at 25 % and 25 °C harden about a fifth of the plates';
const CASE = 'Assumed: about 1.1 kJ/kg·K, 0.25 kg per Ah of a 12 V battery, still air on all sides';

const shared = {
  mixingByGas: assumed(8, '1 per gassed C', 2, 'Assumed: an hour of gassing at C/20 mixes a flooded cell by a third'),
  acidKnee: assumed(0.25, 'mol/kg', 1.5, 'Assumed: acid in the pores below which delivery fails'),
  doubleLayer: assumed(0.008, 'Ah/V per Ah', 2, 'Assumed: about 30 F per Ah, so that volts follow a step within a minute'),
  hardening: assumed(0.00018, '1/h', 2.2, SULFATE),
  softening: assumed(0.004, '1/h at 2.45 V', 2.2, 'Assumed: a day at 14.7 V brings back about a tenth of what has hardened'),
  resistanceHard: assumed(6, '×', 1.6, 'Assumed: crystals block the pores; several to many times the resistance when half the plate is hard'),
  heatCapacity: assumed(0.0127, 'Wh/K per cell and Ah', 1.15, CASE),
  cooling: assumed(0.0247, 'W/K per (cell·Ah)^⅔', 1.5, CASE),
} satisfies Partial<Record<DesignKey, Parameter>>;

export const DESIGNS: Readonly<Record<ChemistryKey, CellDesign>> = {
  flooded: {
    chemistry: 'flooded',
    parameters: {
      ...shared,
      acid: derived(1.7, 'Ah/Ah', REST_TABLE, 1.03),
      water: derived(11.3, 'g/Ah', REST_TABLE, 1.03),
      poreShare: fitted(0.2508, 'of the water', RATINGS),
      diffusion: fitted(2.452, '1/h', RATINGS, 1.2),
      layering: assumed(0.5, 'share', 1.4, 'Assumed: strong acid leaving the plates sinks in free acid'),
      mixingByItself: assumed(0.004, '1/h', 2, 'Assumed: layers last for days to weeks'),
      activeShare: fitted(1.222, 'Ah/Ah', RATINGS, 1.05),
      exchange: fitted(0.0786, 'C', RATINGS, 1.3),
      exchangeCharging: fitted(0.0289, 'C', RATINGS, 1.3),
      tafel: fitted(0.0808, 'V', RATINGS),
      acceptance: fitted(0.1025, '1/h', RATINGS, 1.4),
      delivery: fitted(3.48, '1/h', RATINGS, 1.2),
      resistance: fitted(0.0451, 'Ω·Ah', RATINGS, 1.25),
      resistanceEmpty: fitted(1.68, '×', RATINGS, 1.3),
      gassing: published(0.0002, 'C at 2.23 V, 25 °C', GAS, 1.5),
      localAction: derived(0.0001, 'C', STORAGE, 1.5),
      recombination: published(0, 'share', 'Vented: nothing recombines'),
      recombinationLimit: published(0.05, 'C', 'Not used: vented'),
      dryBegins: assumed(0.86, 'of the water', 1.05, 'Assumed: plates are covered with 7–10 mm to spare'),
      dryEnds: assumed(0.4, 'of the water', 1.1, 'Assumed'),
    },
  },
  agm: {
    chemistry: 'agm',
    parameters: {
      ...shared,
      acid: derived(1.351, 'Ah/Ah', REST_TABLE, 1.03),
      water: derived(7.82, 'g/Ah', REST_TABLE, 1.03),
      poreShare: fitted(0.4505, 'of the water', RATINGS),
      diffusion: fitted(1.132, '1/h', RATINGS, 1.2),
      layering: assumed(0.08, 'share', 1.5, 'Assumed: the mat holds the acid in place'),
      mixingByItself: assumed(0.01, '1/h', 2, 'Assumed'),
      activeShare: fitted(1.201, 'Ah/Ah', RATINGS, 1.05),
      exchange: fitted(0.0917, 'C', RATINGS, 1.3),
      exchangeCharging: fitted(0.0138, 'C', RATINGS, 1.3),
      tafel: fitted(0.0644, 'V', RATINGS),
      acceptance: fitted(0.0847, '1/h', RATINGS, 1.4),
      delivery: fitted(5.33, '1/h', RATINGS, 1.2),
      resistance: fitted(0.0435, 'Ω·Ah', RATINGS, 1.25),
      resistanceEmpty: fitted(2.43, '×', RATINGS, 1.3),
      gassing: derived(0.00013, 'C at 2.23 V, 25 °C', GAS_SEALED, 1.5),
      localAction: derived(0.00001, 'C', STORAGE, 1.5),
      recombination: assumed(0.97, 'share', 1.01, 'Usual for absorbed mat at moderate overcharge'),
      recombinationLimit: assumed(0.05, 'C', 1.4, 'Assumed: above about C/20 the oxygen outruns the mat and vents'),
      dryBegins: assumed(0.93, 'of the water', 1.02, 'Assumed: a starved mat has little to lose'),
      dryEnds: assumed(0.5, 'of the water', 1.1, 'Assumed'),
    },
  },
  gel: {
    chemistry: 'gel',
    parameters: {
      ...shared,
      acid: derived(1.351, 'Ah/Ah', REST_TABLE, 1.03),
      water: derived(7.82, 'g/Ah', REST_TABLE, 1.03),
      poreShare: fitted(0.52, 'of the water', RATINGS),
      diffusion: fitted(1.255, '1/h', RATINGS, 1.2),
      layering: published(0, 'share', 'Gel: acid cannot sink'),
      mixingByItself: assumed(0.01, '1/h', 2, 'Assumed'),
      activeShare: fitted(1.189, 'Ah/Ah', RATINGS, 1.05),
      exchange: fitted(0.104, 'C', RATINGS, 1.3),
      exchangeCharging: fitted(0.00641, 'C', RATINGS, 1.3),
      tafel: fitted(0.0504, 'V', RATINGS),
      acceptance: fitted(0.0659, '1/h', RATINGS, 1.4),
      delivery: fitted(6.47, '1/h', RATINGS, 1.2),
      resistance: fitted(0.0654, 'Ω·Ah', RATINGS, 1.25),
      resistanceEmpty: fitted(1.75, '×', RATINGS, 1.3),
      gassing: derived(0.00009, 'C at 2.23 V, 25 °C', GAS_SEALED, 1.5),
      localAction: derived(0.0000065, 'C', STORAGE, 1.5),
      recombination: assumed(0.95, 'share', 1.02, 'Usual for gel once it has cracked'),
      recombinationLimit: assumed(0.04, 'C', 1.4, 'Assumed'),
      dryBegins: assumed(0.93, 'of the water', 1.02, 'Assumed'),
      dryEnds: assumed(0.5, 'of the water', 1.1, 'Assumed'),
    },
  },
};
