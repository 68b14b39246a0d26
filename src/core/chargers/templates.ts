import type { ChemistryKey } from '../batteries/chemistry.ts';
import type { ChargerFacts, ChargerProgram, ChargerSetting } from './charger.ts';

/**
 * Usual chargers of a battery shop, to begin from: of no maker. Ceilings are the usual ones of each family at 25 °C; what
 * the charger's own sheet says comes first.
 */

const setting = (amps: number): ChargerSetting => ({ name: `${amps} A`, amps, boost: false });

const program = (
  name: string,
  families: readonly ChemistryKey[],
  ceilingV: number,
): ChargerProgram => ({ name, families, ceilingV, compensated: false, ends: 'floats' });

const UNLIMITED: ChargerProgram = {
  name: 'No program',
  families: ['flooded', 'agm', 'gel'],
  ceilingV: null,
  compensated: false,
  ends: 'never',
};

const TWO_LIGHTS: ChargerFacts['lights'] = [
  { light: 'Red', means: 'charging' },
  { light: 'Green', means: 'full' },
  { light: 'Red, flashing', means: 'error' },
];

const AUTOMATIC: ChargerFacts = {
  name: '',
  kind: 'automatic',
  where: '',
  volts: [12],
  settings: [setting(4)],
  range: null,
  programs: [
    program('Flooded', ['flooded'], 14.4),
    program('AGM', ['agm'], 14.7),
    program('Gel', ['gel'], 14.1),
  ],
  startsV: 10.5,
  shows: ['lights'],
  lights: TWO_LIGHTS,
  outputs: 1,
  standing: 'ready',
  outages: [],
};

export interface ChargerTemplate {
  key: string;
  title: string;
  facts: ChargerFacts;
}

export const CHARGER_TEMPLATES: readonly ChargerTemplate[] = [
  {
    key: 'supply',
    title: 'Adjustable supply, 0–10 A, to 16 V',
    facts: {
      ...AUTOMATIC,
      kind: 'adjustable',
      volts: [6, 12],
      settings: [],
      range: { leastA: 0.1, mostA: 10, mostV: 16 },
      programs: [],
      startsV: 0,
      shows: ['amps', 'volts'],
      lights: [],
    },
  },
  {
    key: 'fixed-2-10',
    title: 'Fixed 2 A and 10 A, with a needle',
    facts: {
      ...AUTOMATIC,
      kind: 'fixed',
      volts: [6, 12],
      settings: [setting(2), setting(10)],
      programs: [UNLIMITED],
      startsV: 0,
      shows: ['amps'],
      lights: [],
    },
  },
  {
    key: 'fixed-boost',
    title: 'Fixed 2 A, 10 A and 50 A boost, on wheels',
    facts: {
      ...AUTOMATIC,
      kind: 'fixed',
      volts: [6, 12],
      settings: [setting(2), setting(10), { name: '50 A boost', amps: 50, boost: true }],
      programs: [UNLIMITED],
      startsV: 0,
      shows: ['amps'],
      lights: [],
    },
  },
  {
    key: 'automatic-1',
    title: 'Automatic 1 A, two lights',
    facts: { ...AUTOMATIC, volts: [6, 12], settings: [setting(1)] },
  },
  { key: 'automatic-4', title: 'Automatic 4 A, two lights', facts: AUTOMATIC },
  {
    key: 'automatic-10',
    title: 'Automatic 10 A, lights and percent',
    facts: { ...AUTOMATIC, settings: [setting(10)], startsV: 8, shows: ['lights', 'percent'] },
  },
  {
    key: 'recovery-5',
    title: 'Automatic 5 A with a recovery program, starts at 0.5 V',
    facts: {
      ...AUTOMATIC,
      kind: 'recovery',
      settings: [setting(5)],
      programs: [
        ...AUTOMATIC.programs,
        {
          ...program('Recovery', ['flooded', 'agm'], 15.8),
          bursts: { hours: 8, perSecond: 50, peakOverMean: 5 },
        },
      ],
      startsV: 0.5,
    },
  },
  {
    key: 'maintainer',
    title: 'Maintainer 0.8 A, one light',
    facts: {
      ...AUTOMATIC,
      kind: 'maintainer',
      settings: [setting(0.8)],
      programs: [program('Flooded and AGM', ['flooded', 'agm'], 14.4)],
      startsV: 3,
      lights: TWO_LIGHTS.slice(0, 2),
    },
  },
  {
    key: 'taper',
    title: 'Taper 4 A, with a needle',
    facts: {
      ...AUTOMATIC,
      kind: 'taper',
      settings: [setting(4)],
      programs: [UNLIMITED],
      startsV: 2,
      shows: ['amps'],
      lights: [],
    },
  },
];
