import type { JobWire } from '../../contract/wire.ts';
import { plannedByKey } from '../../core/dayplan/chance.ts';
import { type AskedPromise, askPromise } from '../../core/dayplan/ask.ts';
import { improve, type Proposal, propose } from '../../core/dayplan/improve.ts';
import { type Pin, withPins } from '../../core/dayplan/pins.ts';
import { usualOrder } from '../../core/dayplan/order.ts';
import type { Minute, Planned, PlanProblem, Span, Way, Work } from '../../core/dayplan/problem.ts';
import { activitiesOf } from '../../core/dayplan/activities.ts';
import { type Help, helpsFor } from '../../core/dayplan/helps.ts';
import type { PlannedShop } from '../../core/dayplan/plannedShop.ts';
import { planProblem } from '../../core/dayplan/shopWork.ts';
import { suppose, type Supposed } from '../../core/dayplan/suppose.ts';
import { tellPlan, type ToldPlan } from '../../core/dayplan/told.ts';
import { type Upkeep, upkeepWorks } from '../../core/dayplan/upkeep.ts';
import { waysOf } from '../../core/dayplan/ways.ts';
import type { BatteryModel } from '../../core/batteries/model.ts';
import { procedureFor } from '../../core/catalogue/catalogue.ts';
import type { Job } from '../../core/job/job.ts';
import { jobPlan } from '../../core/plan/plan.ts';
import type { Purpose } from '../../core/plan/procedure.ts';
import { openJob } from '../../core/steps/openJob.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import { seeded } from '../../core/simulation/random.ts';
import { settle } from '../../core/steps/settle.ts';
import { daysLater, momentOnDay } from '../../core/quantities/zonedTime.ts';

/** What a planner is asked: the shop and its jobs as they stand. */
export interface PlanQuestion {
  shop: PlannedShop;
  jobs: readonly Pick<JobWire, 'id' | 'battery' | 'plan' | 'state' | 'procedureId' | 'seq'>[];
  procedures: Readonly<Record<string, Procedure>>;
  upkeep: Upkeep;
  now: number;
  horizonH: number;
  /** What is set by hand. */
  pins: readonly Pin[];
}

const SEED = 1;
/** What is only tried is made better for so long, ms: an answer within a moment is worth more than the last walk saved. */
const TRY_MS = 250;

/**
 * Plans one question after another, and keeps what it has worked out: how each battery may charge, until something of it
 * changes, and what was said last, so that the next plan moves little of it.
 */
export class Planning {
  readonly #random = seeded(SEED);
  readonly #ways = new Map<string, readonly Way[]>();
  #last: Proposal | null = null;
  #announced: ReadonlyMap<string, Planned> = new Map();
  #lastFrom = 0;
  #problem: PlanProblem | null = null;
  #shop: PlannedShop | null = null;

  /** The first answer, at once. */
  begin({ shop, jobs, procedures, upkeep, now, horizonH, pins }: PlanQuestion): {
    problem: PlanProblem;
    first: Proposal;
  } {
    const keyOf = new Map<Job, string>();
    const shopText = JSON.stringify([shop.chargers, shop.rules]);
    const items = jobs.map((wire) => {
      const procedure = procedures[wire.procedureId];
      if (!procedure) throw new Error(`Job ${wire.id} has no procedure.`);
      const job = settle({ procedure, plan: wire.plan, state: wire.state }, now);
      keyOf.set(job, `${wire.id} ${wire.seq} ${shopText}`);
      const { tag, owner, promisedAt } = wire.battery;
      return { id: wire.id, tag, whose: owner, promisedAt, job };
    });
    const known = (job: Job): readonly Way[] => {
      // What stands on the shelf is known by its model: one of it charges like another.
      const key = keyOf.get(job) ?? `${job.plan.model.code} ${job.procedure.id} ${shopText}`;
      keyOf.set(job, key);
      const ways = this.#ways.get(key) ?? waysOf(job, shop);
      this.#ways.set(key, ways);
      return ways;
    };
    const bench = planProblem(shop, items, now, horizonH, known);
    const others = upkeepWorks(upkeep, shop, now, bench.horizon, known);
    const problem = withPins({ ...bench, works: [...bench.works, ...others] }, pins);
    this.#problem = problem;
    this.#shop = shop;
    const used = new Set(keyOf.values());
    for (const key of this.#ways.keys()) if (!used.has(key)) this.#ways.delete(key);

    this.#announced = shifted(this.#announced, Math.round((now - this.#lastFrom) / 60_000));
    this.#lastFrom = now;
    const usual = propose(problem, usualOrder(problem), new Map(), this.#announced);
    // What was found before is mostly still good.
    const again =
      this.#last && propose(problem, this.#last.order, this.#last.posts, this.#announced);
    return { problem, first: again && again.cost.total < usual.cost.total ? again : usual };
  }

  better(problem: PlanProblem, first: Proposal, goOn: () => number | null): Proposal {
    return improve(problem, withAll(problem, first), this.#random, goOn, this.#announced);
  }

  /** What can be promised of batteries that are not there yet; null before the first plan. */
  ask({ model, purpose, count, wantedAt }: AskQuestion): (AskedPromise & { from: number }) | null {
    const [problem, last, shop] = [this.#problem, this.#last, this.#shop];
    if (!problem || !last || !shop) return null;
    const { from } = problem;
    const job = openJob(
      procedureFor(model.kind, purpose),
      jobPlan(model, shop.rules, purpose),
      from,
      'asked',
    );
    const activities = activitiesOf(job, from, shop, null, (j) => waysOf(j, shop));
    const asked = Array.from({ length: count }, (_, i): Work => ({
      id: `asked ${i}`,
      of: 'job',
      tag: '',
      whose: '',
      promise: null,
      activities,
    }));
    const wanted = wantedAt === null ? null : Math.floor((wantedAt - from) / 60_000);
    return { ...askPromise(problem, last, asked, wanted), from };
  }

  /** What the plan would be with these pins instead of those that are kept; nothing is kept. Null before the first plan. */
  tryOut(pins: readonly Pin[]): ToldPlan | null {
    const [problem, last] = [this.#problem, this.#last];
    if (!problem || !last) return null;
    const tried = withPins(problem, pins);
    const pinned = new Set(pins.map((p) => p.jobId));
    const posts = new Map([...last.posts].filter(([id]) => !pinned.has(id)));
    return tellPlan(tried, propose(tried, last.order, posts, this.#announced), this.#announced);
  }

  /** What the plan would be in a shop that is otherwise; nothing is kept. Null before the first plan. */
  suppose(supposed: Supposed): ToldPlan | null {
    const [problem, last] = [this.#problem, this.#last];
    if (!problem || !last) return null;
    const other = suppose(problem, supposed, (day) => this.#dayOf(day, problem.from));
    const from = performance.now();
    const made = improve(
      other,
      propose(other, last.order, last.posts, this.#announced),
      seeded(SEED),
      () => {
        const used = (performance.now() - from) / TRY_MS;
        return used >= 1 ? null : used;
      },
      this.#announced,
    );
    return tellPlan(other, made, this.#announced);
  }

  /** What would make a promise safer, the best first. */
  helps(workId: string): Help[] {
    const [problem, last, shop] = [this.#problem, this.#last, this.#shop];
    if (!problem || !last || !shop) return [];
    return helpsFor(problem, last, workId, {
      dayOf: (day) => this.#dayOf(day, problem.from),
      timeZone: shop.rules.timeZone,
    });
  }

  #dayOf(day: string, from: number): Span {
    const zone = this.#shop?.rules.timeZone ?? 'UTC';
    const minute = (date: string): Minute =>
      Math.round((momentOnDay(date, 0, zone) - from) / 60_000);
    return { from: minute(day), to: minute(daysLater(day, 1)) };
  }

  /** Sets a plan out, and keeps it as what was said. */
  tell(problem: PlanProblem, proposal: Proposal): ToldPlan {
    const told = tellPlan(problem, proposal, this.#announced);
    this.#last = proposal;
    this.#announced = plannedByKey(proposal.plan);
    return told;
  }
}

/** What is asked of a plan that is there: could so many of these be ready then? */
export interface AskQuestion {
  model: BatteryModel;
  purpose: Purpose;
  count: number;
  wantedAt: number | null;
}

/** The order with every work in it: those that came since stand last. */
function withAll({ works }: PlanProblem, proposal: Proposal): Proposal {
  const known = new Set(proposal.order);
  return {
    ...proposal,
    order: [
      ...proposal.order.filter((id) => works.some((w) => w.id === id)),
      ...works.filter((w) => !known.has(w.id)).map((w) => w.id),
    ],
  };
}

/** What was planned, counted from a later minute. */
function shifted(planned: ReadonlyMap<string, Planned>, by: number): ReadonlyMap<string, Planned> {
  return new Map([...planned].map(([key, p]) => [key, { ...p, from: p.from - by, to: p.to - by }]));
}
