import type { ChemistryKey } from '../batteries/chemistry.ts';
import { type ChargePlan, STANDARD_PLANS, currentUntilVolts } from '../charging/chargePlan.ts';

/** Ways to bring a battery back. What they do is data: a plan for the charge, and what is done before it. */
export const ROUTE_KEYS = [
  'recharge',
  'slow-restore',
  'mix',
  'held',
  'pulse',
  'cycle',
  'water-agm',
  'sulfate',
  'magnesium',
  'conditioner',
] as const;
export type RouteKey = (typeof ROUTE_KEYS)[number];

export interface Route {
  key: RouteKey;
  name: string;
  /** What is done, and why. */
  plain: string;
  kinds: readonly ChemistryKey[];
  /** Its cells must be open to a hydrometer. */
  ports: boolean;
  planId: string;
  /** How often the plan is run, one after the other. */
  times: number;
  /** It is chosen at most so often for a battery, where its school says so. */
  mostRounds?: number;
  before: readonly Before[];
  /** Hands at the bench in all, min: connecting, reading, closing up; not the wait. */
  handsMin: number;
  /** When to stop, and what to go on to. */
  stop: string;
  then: RouteKey | null;
}

/** `water`: topped up to the mark · `mix`: acid stirred · `open-agm`: caps lifted, water in · `acid`: acid drawn and replaced. */
export type Before = 'water' | 'mix' | 'open-agm' | 'acid';

const ALL = ['flooded', 'agm', 'gel'] as const;

export const ROUTES: Readonly<Record<RouteKey, Route>> = {
  recharge: {
    key: 'recharge',
    name: 'Full charge',
    plain:
      'A tenth of C20 to the ceiling, held until the current tails off. Most “bad” batteries need no more.',
    kinds: ALL,
    ports: false,
    planId: 'gel-gentle',
    times: 1,
    before: ['water'],
    handsMin: 20,
    stop: 'Done when the current has tailed off. Under the line after its rest: it is not merely flat.',
    then: 'slow-restore',
  },
  'slow-restore': {
    key: 'slow-restore',
    name: 'Top up and slow restore',
    plain:
      'Water to the mark where its cells open, then a twentieth of C20 and a long hold. Time under gentle overvoltage is what brings hard sulfate back.',
    kinds: ['flooded', 'agm'],
    ports: false,
    planId: 'slow-restore',
    times: 1,
    before: ['water'],
    handsMin: 35,
    stop: 'Volts that do not rise with current going in: a short, stop. No gain over the last cycle: go on to pulses, or end it.',
    then: 'pulse',
  },
  mix: {
    key: 'mix',
    name: 'Mix and lift',
    plain:
      'Charged, then gassed gently for hours with the caps open: the strong acid at the bottom is stirred back up.',
    kinds: ['flooded'],
    ports: true,
    planId: 'mix-and-lift',
    times: 1,
    before: ['water'],
    handsMin: 45,
    stop: 'SG of the cells within 0.015 of each other and no longer rising: done. Levels fall: water to the mark.',
    then: 'slow-restore',
  },
  held: {
    key: 'held',
    name: 'Held voltage',
    plain:
      'Held at the top of its band for two days, little current. For AGM that a slow restore has not brought back.',
    kinds: ['agm', 'flooded'],
    ports: false,
    planId: 'held',
    times: 1,
    before: ['water'],
    handsMin: 30,
    stop: 'Never beyond 48 h. Current that rises again while held: it heats itself, stop.',
    then: 'cycle',
  },
  pulse: {
    key: 'pulse',
    name: 'Pulse',
    plain: 'Bursts of several times the mean current with pauses between, for days.',
    kinds: ['flooded', 'agm'],
    ports: false,
    planId: 'pulse',
    times: 1,
    before: ['water'],
    handsMin: 35,
    stop: 'A capacity that has not moved since the last test: further days return nothing.',
    then: 'cycle',
  },
  cycle: {
    key: 'cycle',
    name: 'Cycling',
    plain:
      'Down to the cut-off and back, and once more with the capacity test: works the plates, and shows each time what it holds.',
    kinds: ALL,
    ports: false,
    planId: 'cycle',
    times: 2,
    before: ['water'],
    handsMin: 40,
    stop: 'Another cycle only as long as the last one gained.',
    then: null,
  },
  'water-agm': {
    key: 'water-agm',
    name: 'Open it, water, slow restore',
    plain:
      'Experimental: the cover lifted, small equal amounts of distilled water to each cell by what it has lost in mass, caps back, slow restore. Never for critical service.',
    kinds: ['agm', 'gel'],
    ports: false,
    planId: 'slow-restore',
    times: 1,
    before: ['open-agm'],
    handsMin: 90,
    stop: 'More than the missing mass never goes in. Acid that stands free over the mat after an hour is drawn off.',
    then: null,
  },
  sulfate: {
    key: 'sulfate',
    name: 'Sulfate solution, then acid',
    plain:
      'The acid drawn off and replaced by sulfate solution for a slow charge. Contested: results reported differ, and the drained acid is hazardous waste.',
    kinds: ['flooded'],
    ports: true,
    planId: 'slow-restore',
    times: 1,
    before: ['acid'],
    handsMin: 120,
    stop: 'No gain after one charge and one cycle: end it.',
    then: null,
  },
  magnesium: {
    key: 'magnesium',
    name: 'Magnesium salt solution, trickled',
    plain:
      'The acid drawn off and replaced by magnesium sulfate solution for a trickle of a day or more, then a day of rest. Contested: results reported differ, and the drained acid is hazardous waste.',
    kinds: ['flooded'],
    ports: true,
    planId: 'trickle',
    times: 1,
    mostRounds: 4,
    before: ['acid'],
    handsMin: 120,
    stop: 'Another round only as long as the last one gained, and at most four.',
    then: null,
  },
  conditioner: {
    key: 'conditioner',
    name: 'Conditioner into the acid',
    plain:
      'A measured amount into each cell, slow restore after it. Contested: results reported differ.',
    kinds: ['flooded'],
    ports: true,
    planId: 'slow-restore',
    times: 1,
    before: ['water'],
    handsMin: 50,
    stop: 'No gain after one charge and one cycle: end it.',
    then: null,
  },
};

const HOUR = 3600;

/** Held voltage: at most 48 h, current limited. */
const HELD: ChargePlan = {
  id: 'held',
  name: 'Held voltage',
  plain:
    'Up gently, then held at the top of its band for two days at most. A current that rises while it is held is heating the battery.',
  kinds: ['flooded', 'agm'],
  stages: [
    currentUntilVolts(0.05, 2.4, 26),
    { do: 'voltage', perCell: 2.45, cRate: 0.04, until: [{ when: 'time', s: 40 * HOUR }] },
  ],
  mostS: 72 * HOUR,
};

/** A trickle for a day or more, as those who use salt solutions do it. */
const TRICKLE: ChargePlan = {
  id: 'trickle',
  name: 'Trickle',
  plain: 'A fiftieth of C20 at most, for 30 h: long and cool.',
  kinds: ['flooded'],
  stages: [{ do: 'voltage', perCell: 2.4, cRate: 0.02, until: [{ when: 'time', s: 30 * HOUR }] }],
  mostS: 36 * HOUR,
};

/** Plans that belong to a route and stand in no list. */
const OWN_PLANS: readonly ChargePlan[] = [HELD, TRICKLE];

/** A plan of a route by its id, as its family wants it: gel is never taken above its own ceiling. */
export function routePlan(route: Route, chemistry: ChemistryKey): ChargePlan {
  const wanted =
    route.key === 'recharge' && chemistry !== 'gel'
      ? 'first-c10'
      : chemistry === 'gel' && route.planId !== 'cycle'
        ? 'gel-gentle'
        : route.planId;
  const plan = [...OWN_PLANS, ...STANDARD_PLANS].find((p) => p.id === wanted) ?? STANDARD_PLANS[0];
  // A new battery that is warm cools and goes on by itself; one that is recovered wants somebody to look.
  return { ...plan, guards: { ...plan.guards, warm: 'ask' } };
}
