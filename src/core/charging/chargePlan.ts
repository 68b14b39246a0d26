import type { ChemistryKey } from '../batteries/chemistry.ts';

/**
 * A charge plan as data, for no battery in particular: currents as a share of C20 per hour, volts per
 * cell at 25 °C, charge as a share of C20, times in seconds. The rehearsal, the live charge, the
 * screen and the sheet all read the same object; `fitPlan` turns it into amps and volts.
 */
export interface ChargePlan {
  id: string;
  name: string;
  /** Who holds it, when, and what it costs. */
  plain: string;
  kinds: readonly ChemistryKey[];
  stages: readonly Stage[];
  /** What a guard does where this plan wants other than the usual. */
  guards?: Partial<Record<GuardKey, GuardAction>>;
  /** Longest the whole of it may take before it asks, s. */
  mostS: number;
}

export type Until =
  | { when: 'volts'; perCell: number }
  | { when: 'amps'; cRate: number }
  /** Volts have not risen by more than a few millivolts per cell for so long. */
  | { when: 'volts-flat'; overS: number }
  /** So many SG readings an hour apart agree; readings come by hand. */
  | { when: 'sg-flat'; readings: number }
  | { when: 'ah'; share: number }
  | { when: 'time'; s: number };

export type Stage =
  | { do: 'current'; cRate: number; until: readonly Until[] }
  | { do: 'voltage'; perCell: number; cRate: number; until: readonly Until[] }
  /** Bursts: so long at the current, so long without any; volts never above `perCell`. */
  | {
      do: 'pulse';
      cRate: number;
      onS: number;
      offS: number;
      perCell: number;
      until: readonly Until[];
    }
  | { do: 'rest'; until: readonly Until[] }
  | { do: 'discharge'; cRate: number; perCell: number; until: readonly Until[] }
  | { do: 'float'; perCell: number; cRate: number; until: readonly Until[] };

export type StageKind = Stage['do'];

export const STAGE_NAMES: Readonly<Record<StageKind, string>> = {
  current: 'Constant current',
  voltage: 'Held voltage',
  pulse: 'Pulses',
  rest: 'Rest',
  discharge: 'Discharge',
  float: 'Float',
};

/** `pause` switches off and goes on by itself or by hand; `stop` ends it; `ask` switches off and waits for an answer. */
export type GuardAction = 'pause' | 'stop' | 'ask';

export const GUARD_KEYS = [
  'hot',
  'warm',
  'heating-fast',
  'over-volts',
  'reversed',
  'no-current',
  'no-rise',
  'low-plateau',
  'gassing-early',
  'over-time',
  'silent',
  'frozen-reading',
] as const;
export type GuardKey = (typeof GUARD_KEYS)[number];

const HOUR = 3600;

/** A constant current up to a voltage, or until the hours are over. Shares of C20, V per cell. */
export const currentUntilVolts = (cRate: number, perCell: number, hours: number): Stage => ({
  do: 'current',
  cRate,
  until: [
    { when: 'volts', perCell },
    { when: 'time', s: hours * HOUR },
  ],
});

/** Held at a voltage until the current has tailed off, or until the hours are over. V per cell, shares of C20. */
const voltageUntilTail = (
  perCell: number,
  cRate: number,
  tailCRate: number,
  hours: number,
): Stage => ({
  do: 'voltage',
  perCell,
  cRate,
  until: [
    { when: 'amps', cRate: tailCRate },
    { when: 'time', s: hours * HOUR },
  ],
});

/** The plans that come with the application. A shop adds its own beside them. */
export const STANDARD_PLANS: readonly [ChargePlan, ...ChargePlan[]] = [
  {
    id: 'first-c10',
    name: 'First charge, C/10',
    plain:
      'A tenth of C20 until the ceiling, held there until the current tails off. What most makers print for new stock.',
    kinds: ['flooded', 'agm'],
    stages: [currentUntilVolts(0.1, 2.4, 14), voltageUntilTail(2.4, 0.1, 0.01, 14)],
    mostS: 30 * HOUR,
  },
  {
    id: 'first-slow',
    name: 'Low and slow',
    plain:
      'A twentieth of C20 overnight until the volts no longer rise. Coolest; keeps a place until morning.',
    kinds: ['flooded', 'agm'],
    stages: [currentUntilVolts(0.05, 2.4, 26), voltageUntilTail(2.4, 0.05, 0.008, 14)],
    mostS: 42 * HOUR,
  },
  {
    id: 'gel-gentle',
    name: 'Gel, gentle',
    plain: 'Never above 14.1 V per 12 V battery: gel that has been gassed does not heal.',
    kinds: ['gel', 'agm'],
    stages: [currentUntilVolts(0.1, 2.35, 14), voltageUntilTail(2.35, 0.1, 0.01, 16)],
    mostS: 32 * HOUR,
  },
  {
    id: 'slow-restore',
    name: 'Slow restore',
    plain:
      'A twentieth of C20, then a long hold with little current: time under gentle overvoltage is what brings hard sulfate back.',
    kinds: ['flooded', 'agm'],
    stages: [
      currentUntilVolts(0.05, 2.42, 30),
      { do: 'voltage', perCell: 2.42, cRate: 0.05, until: [{ when: 'time', s: 24 * HOUR }] },
      { do: 'float', perCell: 2.25, cRate: 0.02, until: [{ when: 'time', s: 12 * HOUR }] },
    ],
    mostS: 72 * HOUR,
  },
  {
    id: 'mix-and-lift',
    name: 'Mix and lift',
    plain:
      'Flooded only, ports open: a short controlled gassing at low current mixes layered acid. Expert; watch the levels.',
    kinds: ['flooded'],
    stages: [
      currentUntilVolts(0.1, 2.45, 14),
      {
        do: 'current',
        cRate: 0.03,
        until: [
          { when: 'volts-flat', overS: 2 * HOUR },
          { when: 'time', s: 8 * HOUR },
        ],
      },
    ],
    mostS: 24 * HOUR,
  },
  {
    id: 'pulse',
    name: 'Pulse',
    plain:
      'Bursts of several times the mean current with pauses between, for days. Held where a slow restore has come to a standstill.',
    kinds: ['flooded', 'agm'],
    stages: [
      currentUntilVolts(0.05, 2.38, 26),
      {
        do: 'pulse',
        cRate: 0.15,
        onS: 20,
        offS: 40,
        perCell: 2.45,
        until: [{ when: 'time', s: 40 * HOUR }],
      },
      { do: 'rest', until: [{ when: 'time', s: 2 * HOUR }] },
    ],
    mostS: 72 * HOUR,
  },
  {
    id: 'cycle',
    name: 'One cycle',
    plain:
      'Down to the cut-off at C20 and back: shows what it holds, and works the plates. The discharge stops itself.',
    kinds: ['flooded', 'agm', 'gel'],
    stages: [
      { do: 'discharge', cRate: 0.05, perCell: 1.75, until: [{ when: 'time', s: 22 * HOUR }] },
      currentUntilVolts(0.1, 2.35, 14),
      voltageUntilTail(2.35, 0.1, 0.01, 14),
    ],
    mostS: 52 * HOUR,
  },
];
