import { forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import {
  type Capacity,
  capacityLawOf,
  type CapacityMethod,
  capacityOf,
  CUT_OFF_12V,
  type Discharge,
  expectedMinutes,
  usualTestA,
} from '../capacity/capacityTest.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import type { ChargePlan } from '../charging/chargePlan.ts';
import { chargeSettings, firstChargePlan, planBattery } from '../charging/jobChargePlan.ts';
import { testPlan } from '../charging/testPlan.ts';
import type { CauseKey } from '../diagnosis/causes.ts';
import type { EyeColour } from '../diagnosis/evidence.ts';
import { type Route, type RouteKey, ROUTES } from '../diagnosis/routes.ts';
import type { StoryKey } from '../diagnosis/stories.ts';
import { type SchoolChoices, schoolOf } from '../house/schools.ts';
import type { Band } from '../rehearsal/outlook.ts';
import type { Job, JobState, Moment } from './job.ts';
import { linesOf } from './lines.ts';

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

/** Ways to wake what a charger refuses. */
export const WAKE_KEYS = ['none', 'parallel', 'low-start', 'dumb', 'bursts'] as const;
export type WakeKey = (typeof WAKE_KEYS)[number];

export const WAKES: Readonly<Record<WakeKey, { name: string; plain: string; flooded: boolean }>> = {
  none: { name: 'Needs no waking', plain: 'A charger takes it as it is.', flooded: false },
  parallel: {
    name: 'Beside a donor',
    plain: 'A full battery of the same voltage, plus to plus, and a charger of about 10 A. An hour, twice at most.',
    flooded: false,
  },
  'low-start': { name: 'Low-start charger', plain: 'A charger that starts from next to nothing.', flooded: false },
  dumb: { name: 'Dumb supply', plain: 'A small constant current from a supply that asks nothing, watched all the while.', flooded: false },
  bursts: { name: 'Bursts', plain: 'Caps off, high setting for 15 min at a time, until every cell bubbles.', flooded: true },
};

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
  light: { name: 'Light duty or loan', plain: 'Used daily, or lent out. Never where a failure strands someone.' },
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
  discharge: { startedAt: Moment; currentA: number; cutoffV: number; temperatureC: number; expectedEndAt: Moment } | null;
  tests: CapacityRecord[];
  outcomes: OutcomeRecord[];
  /** Made while it charged; none in jobs of before they were kept. */
  forecasts?: ChargeForecast[];
}

const NO_RECOVERY: RecoveryState = { story: null, routes: [], discharge: null, tests: [], outcomes: [] };

export const recoveryOf = (job: Job): RecoveryState => job.state.recovery ?? NO_RECOVERY;

/** Routes that this shop offers for this battery. */
export function offeredRoutes(kind: string, schools: SchoolChoices): RouteKey[] {
  const { chemistry, ports } = leadAcidKind(kind);
  const open = ports === 'serviceable';
  const additive = schoolOf('additive', schools).school.id;
  const openAgm = schoolOf('openAgm', schools).school.id === 'experiment';
  return (Object.values(ROUTES) as Route[])
    .filter((r) => r.kinds.includes(chemistry) && (!r.ports || open))
    .filter((r) =>
      r.key === 'sulfate' ? additive === 'sulfate' : r.key === 'conditioner' ? additive === 'conditioner' : r.key === 'water-agm' ? openAgm && !open : true,
    )
    .map((r) => r.key);
}

/** Ways of waking this shop offers; the school's own first. */
export function offeredWakes(kind: string, schools: SchoolChoices): WakeKey[] {
  const open = leadAcidKind(kind).ports === 'serviceable';
  const own = schoolOf('wake', schools).school.id as WakeKey;
  const all = WAKE_KEYS.filter((w) => w !== 'none' && (open || !WAKES[w].flooded));
  return all.includes(own) ? [own, ...all.filter((w) => w !== own)] : all;
}

/** Capacity by the last test of earlier jobs of a battery, share of C20; null where none was made. */
export function earlierCapacity(states: readonly JobState[], model: BatteryModel): { share: number; at: number } | null {
  const test = states
    .flatMap((s) => s.recovery?.tests ?? [])
    .sort((a, b) => a.at - b.at)
    .at(-1);
  return test ? { share: capacityOf(test, capacityLawOf(model), model.cells, model.c20Ah).health, at: test.at } : null;
}

/** Capacity by a record of a test. */
export function capacityOfTest(job: Job, test: Discharge): Capacity {
  const { model } = job.plan;
  return capacityOf(test, linesOf(job.plan).capacity, model.cells, model.c20Ah);
}

/** The plan a chosen route's charge follows is fitted to this battery. */
export const batteryOfPlan = (job: Job) => planBattery(job.plan.model, leadAcidKind(job.plan.model.kind).chemistry);
export type { CapacityMethod };

const RESTORING: readonly RouteKey[] = ['slow-restore', 'pulse', 'held', 'cycle'];
/** The shop's own way is proposed when it is worth nearly as much as the best. */
const NEARLY = 0.8;

/** The route that is proposed; null where recycling at once is worth more, or a rule forbids every route. */
export function proposedRoute(routes: readonly { route: RouteKey; worth: number }[], never: boolean, schools: SchoolChoices): RouteKey | null {
  const [best] = [...routes].sort((a, b) => b.worth - a.worth);
  if (never || !best || best.worth <= 0) return null;
  const { prefer } = schoolOf('desulfate', schools).school.values;
  const own = routes.find((r) => r.route === prefer);
  return own && RESTORING.includes(best.route) && own.worth >= NEARLY * best.worth ? own.route : best.route;
}

/** What a charge by hand is set to: by the plan of the route where one was chosen, else by the figures of the job. A and V. */
export function handSettings(job: Job): { setA: number; setV: number } {
  const { chargeA, ceilingV } = job.plan.figures;
  const { chargePlan } = job.state;
  const { fitted } = chargePlan && job.procedure.purpose === 'recover' ? fitPlan(chargePlan, batteryOfPlan(job)) : { fitted: null };
  if (!fitted) return { setA: chargeA.value, setV: ceilingV.value };
  const { setA, setV } = chargeSettings(fitted);
  return { setA: Math.round(setA * 100) / 100, setV: Math.min(ceilingV.value, Math.round(setV * 100) / 100) };
}

/** Has this cycle's charge rested its whole time, so that a capacity test counts in full? */
export const restedFull = (job: Job): boolean => job.state.runs.findLast((r) => r.stepId === 'rest' && r.attempt === job.state.attempt)?.end === 'done';

/** The capacity test of this job as an instrument does it, with the usual charge after it. */
export function testPlanOf(job: Job): ChargePlan {
  const { model, figures } = job.plan;
  const { chemistry } = leadAcidKind(model.kind);
  const currentA = figures.testA?.value ?? usualTestA(model.c20Ah);
  return testPlan(firstChargePlan(model, chemistry, figures.chargeA.value, figures.ceilingV.value), batteryOfPlan(job), {
    currentA,
    cutoffV: figures.cutoffV?.value ?? forCells(CUT_OFF_12V, model.cells),
    soundMin: expectedMinutes(currentA, linesOf(job.plan).capacity, model.c20Ah),
  });
}
