import type { SegmentKind } from '../plan/procedure.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Band } from '../rehearsal/outlook.ts';

/**
 * What a day plan is made of: the work that waits, and what the shop does it with. Nothing here knows a job or a house rule;
 * `shopWork.ts` makes it from them, `makePlan.ts` plans it, and `checkPlan.ts` holds every plan to it.
 */

/** Whole minutes since the plan begins; below 0 is before it. */
export type Minute = number;

/** From the first minute to before the last. */
export interface Span {
  from: Minute;
  to: Minute;
}

export interface PlanPerson {
  id: string;
  name: string;
  /** May decide what a lead decides. */
  lead: boolean;
  /** When they are at the bench, in order of time, none touching another. */
  there: readonly Span[];
}

/** Where one battery charges: an output of a charger or of an instrument. */
export interface Post {
  id: string;
  name: string;
  /** What stands under its name. */
  about: string;
  /** Out of order, lent, or kept free by hand. */
  out: readonly Span[];
}

/** What there are few of, besides posts. */
export const TOOLS = ['load-tester', 'discharge-load', 'hydrometer'] as const;
export type ToolKey = (typeof TOOLS)[number];

export const TOOL_WORDS: Readonly<Record<ToolKey, string>> = {
  'load-tester': 'Load tester',
  'discharge-load': 'Discharge load',
  hydrometer: 'Hydrometer bench',
};

/** How long after what went before: at least, and at most where it may not wait. */
export interface Gap {
  least: Minute;
  most: Minute | null;
  /** How it is drawn, and called: a soak, a rest. */
  as?: Look;
}

/** How a stretch is drawn and called. */
export interface Look {
  kind: SegmentKind;
  label: string;
}

/** A person's work, in one go. */
export interface Hands {
  kind: 'hands';
  /** Steps of the procedure that are done in it, in order. */
  stepIds: readonly string[];
  what: string;
  minutes: Minute;
  lead: boolean;
  tool: ToolKey | null;
  gap: Gap;
  as?: Look;
}

/**
 * Who has to be there while it runs.
 * `hourly`: somebody reads it each hour and takes it off when it is done; it stops when the shop closes and goes on when it opens.
 * `near`: it is never left alone, and begins and ends on one day.
 * `off`: it holds its battery by itself, until somebody takes it off.
 * `none`: it ends by itself.
 */
export type Watch = 'hourly' | 'near' | 'off' | 'none';

/** One way a charge or a test may run. */
export interface Way {
  /** Post it runs at; null for a test on the discharge load. */
  postId: string | null;
  tool: ToolKey | null;
  watch: Watch;
  /** How long it runs: from 1 in 10 to 9 in 10, minutes. */
  minutes: Band;
  /** Air its gas asks for, m³/h, and what it takes from the mains at most, A. */
  airM3h: number;
  mainsA: number;
  /** How it is set. */
  setting: string;
}

/** A charge or a discharge: it runs while nobody has to hold it. */
export interface Run {
  kind: 'run';
  stepIds: readonly string[];
  what: string;
  ways: readonly Way[];
  gap: Gap;
  as?: Look;
  /** Where it runs already: since when; `minutes` of its one way are what is left. */
  since?: Minute;
}

export type Activity = Hands | Run;

/** What a work is of: a battery in process, a recharge or a round of the shelf, or a claim to be sent. */
export type WorkOf = 'job' | 'recharge' | 'round' | 'claim' | 'services';

/** A battery's way to its customer or to the shelf; or what the shop owes its stock. */
export interface Work {
  /** Of a job: its id. */
  id: string;
  of: WorkOf;
  tag: string;
  whose: string;
  /** When it was promised, and how much a late minute of it weighs; null where nobody waits. */
  promise: { at: Minute; weight: number } | null;
  activities: readonly Activity[];
  /** Set by hand: the post it has to run at, or the minute its charge begins at the earliest. */
  pinned?: { postId?: string; notBefore?: Minute };
  /** Nothing of it will be handed over: no promise of it is kept, and nobody hurries for it. */
  hopeless?: true;
  /** It is taken before all others. */
  rush?: boolean;
  /** Posts it may not be put at. */
  forbidden?: readonly string[];
}

export interface PlanProblem {
  /** Minute 0. */
  from: Moment;
  /** Nothing is planned beyond, min. */
  horizon: Minute;
  people: readonly PlanPerson[];
  posts: readonly Post[];
  tools: Readonly<Record<ToolKey, number>>;
  /** Air the room's ventilation moves, m³/h, and what the mains gives chargers, A. */
  airM3h: number;
  fuseA: number;
  works: readonly Work[];
}

/** Minutes of a person: to put a battery on a charger, to read it, to take it off. Bench experience. */
export const CONNECT_MIN = 5;
export const READ_MIN = 3;
export const OFF_MIN = 5;
/** A reading is due so often, and may be so much early or late, min. */
export const READ_EVERY_MIN = 60;
export const READ_EARLY_MIN = 10;
export const READ_LATE_MIN = 20;

/** When at least one person is there: the hours in which anything may be watched. */
export function mannedHours(people: readonly PlanPerson[]): Span[] {
  return joined(people.flatMap((p) => p.there));
}

/** Spans in order of time, those that touch made one. */
export function joined(spans: readonly Span[]): Span[] {
  const out: Span[] = [];
  for (const span of spans.toSorted((a, b) => a.from - b.from)) {
    const last = out.at(-1);
    if (last && span.from <= last.to) last.to = Math.max(last.to, span.to);
    else if (span.to > span.from) out.push({ ...span });
  }
  return out;
}

/** Somebody's task in a plan. */
export interface Task extends Span {
  personId: string;
}

/** What a plan says of one activity. */
export interface Planned extends Span {
  workId: string;
  /** Which of the work's activities. */
  index: number;
  /** Of hands: who does it. */
  personId: string | null;
  /** Of a run: which of its ways, when current flows, and who connects, reads and takes off when. */
  run: PlannedRun | null;
}

export interface PlannedRun {
  way: number;
  /** Current flows: more than one where it stops for the night. */
  on: readonly Span[];
  connect: Task | null;
  readings: readonly Task[];
  off: Task | null;
}

export interface DayPlan {
  planned: readonly Planned[];
  /** When each work is done, by its id; where that is beyond the plan, at the earliest. */
  ready: ReadonlyMap<string, Minute>;
  /** What could not be planned within the horizon, and at which activity. */
  left: readonly { workId: string; index: number; why: LeftWhy }[];
}

/** `beyond`: its turn comes only after what is planned. */
export type LeftWhy =
  | 'no-post'
  | 'nobody'
  | 'too-long'
  | 'no-air'
  | 'no-fuse'
  | 'cannot-wait'
  | 'beyond';

/** What one activity is called among those of all works, for telling two plans apart. */
export const activityKey = ({ workId, index }: Pick<Planned, 'workId' | 'index'>): string =>
  `${workId}/${index}`;
