import type { FamilyKey, FamilyOdds } from '../diagnosis/practice/families.ts';
import type { Discharge } from '../capacity/capacityTest.ts';
import type { CauseKey } from '../diagnosis/causes.ts';
import type { EyeColour } from '../diagnosis/evidence.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import type { StoryKey } from '../diagnosis/stories.ts';
import type { WakeKey } from '../diagnosis/wakes.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Band } from '../rehearsal/outlook.ts';

/** What its owner tells, and what a look shows. Null where nobody knows. */
export interface ToldStory {
  story: StoryKey;
  standingDays: number | null;
  ageYears: number | null;
  /** The coldest it has been while it stood, °C. */
  coldestC: number | null;
  whitePost: boolean;
  /** What it weighs wet and new, by its label, g. */
  wetMassG: number | null;
  /** Its charge eye, where it has one, and the least volts while its machine was cranked. */
  eye?: EyeColour | null;
  crankV?: number | null;
}

export type CellFeel = 'cool' | 'warm' | 'hot';

/** What was believed when a route was chosen: kept, and held against what came. */
export interface RouteForecast {
  cause: CauseKey;
  causeOdds: number;
  returns: number;
  light: number;
  /** Share of C20. */
  capacity: Band;
  hours: Band;
  /** The route that was proposed. */
  proposed: RouteKey | null;
  /** What it was taken for, likeliest first; absent in forecasts older than the asking of it. */
  families?: FamilyOdds[];
  /** What this shop's own batteries added to that: how many there were, and what the route leaves here more than elsewhere, share of C20. */
  learnt?: { of: number; gain: number };
}

export interface ChosenRoute {
  route: RouteKey;
  wake: WakeKey;
  attempt: number;
  at: Moment;
  by: string;
  forecast: RouteForecast | null;
  reason: string | null;
}

export interface CapacityRecord extends Discharge {
  id: string;
  at: Moment;
  by: string;
  attempt: number;
  /** Begun from a full charge that had rested; otherwise it is marked. */
  rested: boolean;
}

export type RecoveryOutcome = 'return' | 'light' | 'another' | 'recycle';
export const OUTCOMES: Readonly<Record<RecoveryOutcome, { name: string; plain: string }>> = {
  return: { name: 'Return to service', plain: 'It does again what its label says.' },
  light: {
    name: 'Light duty or loan',
    plain: 'Used daily, or lent out. Never where a failure strands someone.',
  },
  another: { name: 'Another cycle', plain: 'The last one gained.' },
  recycle: { name: 'Recycle', plain: 'To a licensed recycler, with its acid in it.' },
};

export interface OutcomeRecord {
  outcome: RecoveryOutcome;
  suggested: RecoveryOutcome;
  reasons: string[];
  reason: string | null;
  attempt: number;
  at: Moment;
  by: string;
  disposal: Disposal | null;
  /** What it was in the end, by who signed; null where nobody could say. Absent in verdicts older than the question. */
  found?: FamilyKey | null;
  /** What it was taken for, where no route was ever chosen; likeliest first. */
  said?: FamilyOdds[];
}

/** What goes to the recycler. */
export interface Disposal {
  core: string;
  acidL: number;
  bicarbonateKg: number;
}

/** What was expected of a charge while it ran, by its trace so far. */
export interface ChargeForecast {
  attempt: number;
  /** Hours with current on after which it was due, and when it was made. */
  mark: number;
  afterHours: number;
  at: Moment;
  /** On the charger in all, h; a day after it, V; and by its capacity test, share of C20. */
  hours: Band;
  restV: Band;
  capacity: Band;
  returns: number;
  light: number;
}

export interface RecoveryState {
  story: ToldStory | null;
  routes: ChosenRoute[];
  /** A capacity test that is running. */
  discharge: {
    startedAt: Moment;
    currentA: number;
    cutoffV: number;
    temperatureC: number;
    expectedEndAt: Moment;
  } | null;
  tests: CapacityRecord[];
  outcomes: OutcomeRecord[];
  /** Made while it charged; none in jobs of before they were kept. */
  forecasts?: ChargeForecast[];
}
