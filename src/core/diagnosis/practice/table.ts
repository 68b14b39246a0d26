import type { PictureKey } from './families.ts';

/**
 * What batteries of each picture read in practice: ranges from the bench for 12 V at 25 °C, each from a mild case to a bad one.
 * Nobody has published shares and joint spreads of these; they are experience, wide on purpose.
 */

/** What is read. Volts are for 12 V; shares are of a sound battery of its model; SG is at 25 °C. */
export const FEATURES = {
  /** As it came. */
  volts: { name: 'Rest volts on arrival', unit: 'V', least: -13, most: 13.4, off: 0.06 },
  sgDrop: { name: 'SG below full', unit: '', least: -0.03, most: 0.3, off: 0.01 },
  sgSpread: { name: 'SG between cells', unit: '', least: 0, most: 0.3, off: 0.007 },
  leastCell: { name: 'Lowest cell', unit: 'V', least: -2.2, most: 2.25, off: 0.03 },
  ohms: { name: 'Resistance', unit: '×', least: 0.6, most: 40, off: 0.06 },
  cca: { name: 'CCA', unit: '%', least: 0, most: 1.3, off: 0.05 },
  load: { name: 'Under load', unit: 'V', least: 0, most: 12, off: 0.2 },
  bare: { name: 'Plates bare', unit: '', least: 0, most: 1, off: 0 },
  lostMass: { name: 'Mass lost', unit: '%', least: -0.02, most: 0.12, off: 0.005 },
  /** After a full charge and a rest. */
  short: { name: 'Volts below full, after a charge', unit: 'V', least: -0.4, most: 3, off: 0.05 },
  sgShort: { name: 'SG below full, after a charge', unit: '', least: -0.03, most: 0.3, off: 0.008 },
  spreadAfter: {
    name: 'SG between cells, after a charge',
    unit: '',
    least: 0,
    most: 0.3,
    off: 0.007,
  },
  ohmsAfter: { name: 'Resistance, after a charge', unit: '×', least: 0.6, most: 40, off: 0.06 },
  ccaAfter: { name: 'CCA, after a charge', unit: '%', least: 0, most: 1.3, off: 0.05 },
  loadAfter: { name: 'Under load, after a charge', unit: 'V', least: 0, most: 12, off: 0.2 },
  capacity: { name: 'Capacity by test', unit: '%', least: 0, most: 1.2, off: 0.04 },
} as const;
export type FeatureKey = keyof typeof FEATURES;
/** Read on arrival, of a state that a charge ends: once it has been charged they tell of the past. */
export const BEFORE_CHARGE: ReadonlySet<FeatureKey> = new Set([
  'volts',
  'sgDrop',
  'sgSpread',
  'leastCell',
  'ohms',
  'cca',
  'load',
]);
/** Read once it has been charged and has rested. */
export const AFTER_CHARGE: ReadonlySet<FeatureKey> = new Set([
  'short',
  'sgShort',
  'spreadAfter',
  'ohmsAfter',
  'ccaAfter',
  'loadAfter',
  'capacity',
]);
export const FEATURE_KEYS = Object.keys(FEATURES) as FeatureKey[];

/** From a mild case to a bad one. */
export type Range = readonly [mild: number, bad: number];

/** One way a picture may look; shares of the ways of a picture add up to 1. */
export interface Way {
  share: number;
  ranges: Partial<Record<FeatureKey, Range>>;
}

/** Ways it may look, the chance that its plates are seen bare, and what it holds in the end, after what helps it: share of C20. */
interface Picture {
  ways: readonly Way[];
  bare: number;
  ends: Range;
}

/** What anything reads that came without charge: it tells nothing of its capacity. */
const EMPTY: Way['ranges'] = {
  volts: [12.15, 10.5],
  sgDrop: [0.09, 0.2],
  ohms: [1.2, 4],
  cca: [0.75, 0.08],
  load: [9.5, 1],
};
const FULL_AFTER: Way['ranges'] = {
  short: [-0.06, 0.1],
  sgShort: [-0.005, 0.012],
  spreadAfter: [0, 0.02],
  ohmsAfter: [0.9, 1.15],
  ccaAfter: [1.06, 0.88],
  loadAfter: [11.4, 10.3],
  capacity: [1.02, 0.88],
};
/** Rest volts of a battery with an open link, each with its share, and what a load leaves of them. */
const OPEN_VOLTS: readonly (readonly [share: number, volts: Range])[] = [
  [0.3, [12.75, 12.4]],
  [0.25, [12.4, 12]],
  [0.45, [12, 0]],
];
const OPEN_LOADS: readonly Range[] = [
  [0.6, 0],
  [2, 0.6],
];
/** One that has worked for years: it comes back to three quarters and more, and nothing but the years holds it down. */
const AGED_AFTER: Way['ranges'] = {
  ...FULL_AFTER,
  sgShort: [-0.005, 0.02],
  ohmsAfter: [1, 1.4],
  ccaAfter: [0.95, 0.75],
  loadAfter: [11.2, 9.9],
  capacity: [0.88, 0.72],
};
const EVEN: Way['ranges'] = { sgSpread: [0, 0.022], leastCell: [2.12, 2.02] };

/** Came charged so often, else empty. */
const charged = (share: number, came: Way['ranges'], always: Way['ranges']): Way[] => [
  { share, ranges: { ...came, ...always } },
  { share: 1 - share, ranges: { ...EMPTY, ...always } },
];

export const TABLE: Readonly<Record<PictureKey, Picture>> = {
  flat: {
    ends: [1.0, 0.86],
    bare: 0.03,
    ways: [
      { share: 0.55, ranges: { ...EVEN, ...EMPTY, ...FULL_AFTER, leastCell: [2.02, 1.7] } },
      { share: 0.25, ranges: { ...EVEN, ...EMPTY, ...AGED_AFTER, leastCell: [2.02, 1.7] } },
      // Something still draws on it.
      {
        share: 0.2,
        ranges: {
          ...EVEN,
          ...EMPTY,
          ...FULL_AFTER,
          volts: [10.5, 2],
          ohms: [2, 6],
          load: [4, 0],
          cca: [0.3, 0],
          leastCell: [1.7, 0.2],
        },
      },
    ],
  },
  nothing: {
    ends: [1.02, 0.88],
    bare: 0.02,
    ways: charged(
      0.95,
      {
        volts: [12.8, 12.5],
        sgDrop: [0, 0.04],
        ohms: [0.9, 1.15],
        cca: [1.08, 0.88],
        load: [11.5, 10.7],
      },
      { ...EVEN, ...FULL_AFTER },
    ),
  },
  light: {
    ends: [0.95, 0.72],
    bare: 0.06,
    ways: [
      {
        share: 1,
        ranges: {
          volts: [12.35, 11],
          sgDrop: [0.05, 0.16],
          sgSpread: [0, 0.028],
          leastCell: [2.06, 1.8],
          ohms: [1.3, 2.5],
          cca: [0.75, 0.25],
          load: [10, 7],
          short: [0.08, 0.25],
          sgShort: [0.015, 0.045],
          spreadAfter: [0, 0.028],
          ohmsAfter: [1.1, 1.7],
          ccaAfter: [0.88, 0.6],
          loadAfter: [10.5, 8.8],
          capacity: [0.85, 0.55],
        },
      },
    ],
  },
  hard: {
    ends: [0.8, 0.2],
    bare: 0.12,
    ways: [
      {
        share: 1,
        ranges: {
          volts: [11.9, 3],
          sgDrop: [0.1, 0.24],
          sgSpread: [0, 0.035],
          leastCell: [1.98, 0.4],
          ohms: [3, 30],
          cca: [0.4, 0.02],
          load: [6.5, 0],
          short: [0.2, 0.5],
          sgShort: [0.06, 0.13],
          spreadAfter: [0, 0.035],
          ohmsAfter: [1.5, 5],
          ccaAfter: [0.65, 0.2],
          loadAfter: [9, 4],
          capacity: [0.55, 0.15],
        },
      },
    ],
  },
  shorted: {
    ends: [0.1, 0],
    bare: 0.06,
    ways: (
      [
        [0.6, [10.75, 10.15]],
        [0.4, [10.5, 8]],
      ] as const
    ).map(([share, volts]) => ({
      share,
      ranges: {
        volts,
        sgDrop: [0.04, 0.14],
        sgSpread: [0.12, 0.27],
        leastCell: [1.2, 0],
        ohms: [1.1, 2.5],
        cca: [0.7, 0.2],
        load: [9, 4],
        short: [1.95, 2.45],
        sgShort: [0.02, 0.07],
        spreadAfter: [0.12, 0.27],
        ohmsAfter: [1.05, 1.8],
        ccaAfter: [0.75, 0.35],
        loadAfter: [8.9, 5],
        capacity: [0.1, 0],
      },
    })),
  },
  leaking: {
    ends: [0.9, 0.45],
    bare: 0.05,
    ways: [
      {
        share: 1,
        ranges: {
          volts: [12.35, 11.4],
          sgDrop: [0.02, 0.1],
          sgSpread: [0.03, 0.1],
          leastCell: [2.05, 1.85],
          ohms: [1, 1.6],
          cca: [0.95, 0.6],
          load: [10.8, 8.8],
          short: [0.2, 0.62],
          sgShort: [0.005, 0.03],
          spreadAfter: [0.03, 0.1],
          ohmsAfter: [1, 1.3],
          ccaAfter: [0.98, 0.7],
          loadAfter: [11, 9.2],
          capacity: [0.9, 0.45],
        },
      },
    ],
  },
  weak: {
    ends: [0.72, 0.3],
    bare: 0.06,
    ways: charged(
      0.75,
      {
        volts: [12.62, 12.15],
        sgDrop: [0.01, 0.06],
        ohms: [1.1, 1.6],
        cca: [0.8, 0.5],
        load: [9.8, 8.3],
      },
      {
        sgSpread: [0.03, 0.08],
        leastCell: [2.08, 1.9],
        short: [0.08, 0.4],
        sgShort: [0.005, 0.025],
        spreadAfter: [0.03, 0.08],
        ohmsAfter: [1.1, 1.6],
        ccaAfter: [0.8, 0.5],
        loadAfter: [9.8, 8.3],
        capacity: [0.65, 0.3],
      },
    ),
  },
  open: {
    ends: [0.05, 0],
    bare: 0.04,
    // How loose the link is has nothing to do with how full the cells are: each goes with each.
    ways: OPEN_VOLTS.flatMap(([share, volts]) =>
      OPEN_LOADS.map((load) => ({
        share: share / OPEN_LOADS.length,
        ranges: {
          ...EVEN,
          volts,
          ohms: [12, 40],
          cca: [0.06, 0],
          load,
          short: [-0.1, 0.3],
          ohmsAfter: [12, 40],
          ccaAfter: [0.06, 0],
          loadAfter: load,
          capacity: [0.05, 0],
        },
      })),
    ),
  },
  reversed: {
    ends: [0.05, 0],
    bare: 0.04,
    ways: [
      {
        share: 0.45,
        ranges: {
          volts: [-1, -13],
          leastCell: [-0.4, -2.15],
          load: [1, 0],
          cca: [0.05, 0],
          ohms: [1.5, 8],
          short: [2.8, 3],
          capacity: [0.02, 0],
        },
      },
      {
        share: 0.55,
        ranges: {
          volts: [10.7, 8],
          leastCell: [-0.3, -2.15],
          sgSpread: [0.05, 0.22],
          ohms: [1.3, 4],
          cca: [0.5, 0.1],
          load: [7.5, 2],
          short: [2.2, 3],
          spreadAfter: [0.05, 0.22],
          ccaAfter: [0.6, 0.2],
          loadAfter: [8, 4],
          capacity: [0.1, 0],
        },
      },
    ],
  },
  dry: {
    ends: [0.95, 0.52],
    bare: 0,
    ways: charged(
      0.75,
      { volts: [13.1, 12.6], ohms: [1.2, 3], cca: [0.8, 0.4], load: [11.2, 8.5] },
      {
        ...EVEN,
        lostMass: [0.01, 0.06],
        short: [-0.15, 0.15],
        ohmsAfter: [1.2, 3],
        ccaAfter: [0.8, 0.4],
        loadAfter: [11, 8.5],
        capacity: [0.85, 0.5],
      },
    ),
  },
  uncovered: {
    ends: [0.95, 0.45],
    bare: 0.92,
    ways: charged(
      0.65,
      {
        volts: [12.8, 12.2],
        sgDrop: [-0.02, 0.06],
        ohms: [1.1, 2],
        cca: [0.85, 0.45],
        load: [10.5, 8.5],
      },
      {
        sgSpread: [0.005, 0.045],
        leastCell: [2.12, 1.98],
        lostMass: [0.01, 0.06],
        short: [-0.1, 0.2],
        sgShort: [-0.03, 0.03],
        spreadAfter: [0.005, 0.04],
        ohmsAfter: [1.1, 2],
        ccaAfter: [0.85, 0.45],
        loadAfter: [10.5, 8.5],
        capacity: [0.8, 0.4],
      },
    ),
  },
  worn: {
    ends: [0.64, 0.2],
    bare: 0.08,
    ways: charged(
      0.75,
      {
        volts: [12.65, 12.15],
        sgDrop: [0, 0.06],
        ohms: [1.3, 2],
        cca: [0.85, 0.5],
        load: [10.9, 8.5],
      },
      {
        ...EVEN,
        short: [-0.05, 0.2],
        sgShort: [-0.005, 0.015],
        spreadAfter: [0, 0.022],
        ohmsAfter: [1.3, 2],
        ccaAfter: [0.85, 0.5],
        loadAfter: [10.9, 8.5],
        capacity: [0.6, 0.2],
      },
    ),
  },
  layered: {
    ends: [1.0, 0.85],
    bare: 0.03,
    ways: charged(
      0.9,
      {
        volts: [12.9, 12.45],
        sgDrop: [0.055, 0.13],
        ohms: [1, 1.35],
        cca: [0.95, 0.7],
        load: [11.2, 10],
      },
      {
        ...EVEN,
        short: [-0.12, 0.1],
        sgShort: [0.03, 0.1],
        spreadAfter: [0, 0.02],
        ohmsAfter: [1, 1.3],
        ccaAfter: [0.96, 0.72],
        loadAfter: [11.2, 10],
        capacity: [0.87, 0.6],
      },
    ),
  },
  damaged: {
    ends: [0.1, 0],
    bare: 0.2,
    ways: [
      {
        share: 1,
        ranges: {
          volts: [12, 0],
          sgDrop: [0.08, 0.25],
          sgSpread: [0.02, 0.2],
          leastCell: [1.9, 0],
          ohms: [2, 30],
          cca: [0.4, 0],
          load: [5, 0],
          short: [0.3, 3],
          ccaAfter: [0.4, 0],
          loadAfter: [6, 0],
          capacity: [0.2, 0],
        },
      },
    ],
  },
};
