import type { ShopCharger } from '../chargers/charger.ts';
import { type InstrumentSetting, instrumentAt } from '../house/instruments.ts';
import { presenceOf, type Stretch } from '../house/presence.ts';
import type { Job } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import { daysLater, momentOnDay } from '../quantities/zonedTime.ts';
import { leadsNowhere } from '../steps/stepsAhead.ts';
import { activitiesOf } from './activities.ts';
import { outputPost, placePost, type PlannedShop } from './plannedShop.ts';
import {
  joined,
  type Minute,
  type PlanPerson,
  type PlanProblem,
  type Post,
  type Span,
  type Way,
  type Work,
} from './problem.ts';
import { waysOf } from './ways.ts';

/** A battery in process, as a day plan meets it. */
export interface PlannedJob {
  id: string;
  tag: string;
  whose: string;
  promisedAt: Moment | null;
  /** Settled at the plan's beginning. */
  job: Job;
}

const MINUTE_MS = 60_000;
/**
 * The whole shop as a planner sees it, from `now` on.
 *
 * @param now whole minutes are counted from it
 * @param horizonH how far ahead is planned, h
 * @param ways how a job's battery may charge; asked for each, so that a caller may keep what it was told
 */
export function planProblem(
  shop: PlannedShop,
  jobs: readonly PlannedJob[],
  now: Moment,
  horizonH: number,
  ways: (job: Job) => readonly Way[] = (job) => waysOf(job, shop),
): PlanProblem {
  const { rules, people, chargers } = shop;
  const horizon = Math.round(horizonH * 60);
  const to = now + horizon * MINUTE_MS;
  const minutesOf = (stretches: readonly Stretch[]): Span[] =>
    stretches.map((s) => ({
      from: Math.ceil((s.from - now) / MINUTE_MS),
      to: Math.floor((s.to - now) / MINUTE_MS),
    }));
  const places = placesInUse(jobs, shop);
  return {
    from: now,
    horizon,
    people: people.map((p): PlanPerson => ({
      id: p.id,
      name: p.name,
      lead: p.role === 'lead',
      there: minutesOf(presenceOf(p.id, rules, now, to)),
    })),
    posts: [
      ...postsOf(chargers, rules.instruments, (charger) => outOf(charger, rules.timeZone, now, to)),
      ...places.unsaid,
    ],
    tools: {
      'load-tester': rules.loadTesters,
      'discharge-load': rules.dischargeLoads,
      hydrometer: rules.hydrometers,
    },
    airM3h: rules.roomAirM3h,
    fuseA: rules.mainsA,
    works: jobs.flatMap((item): Work[] => {
      const activities = activitiesOf(item.job, now, shop, places.postOf(item.id), ways);
      if (activities.length === 0) return [];
      const hopeless = leadsNowhere(item.job) !== null;
      return [
        {
          id: item.id,
          of: 'job',
          tag: item.tag,
          whose: item.whose,
          promise:
            item.promisedAt === null
              ? null
              : { at: Math.floor((item.promisedAt - now) / MINUTE_MS), weight: hopeless ? 0 : 1 },
          ...(hopeless ? { hopeless } : {}),
          activities,
        },
      ];
    }),
  };
}

/** When a charger cannot be used, by what is known now: all the time, or on the days that it is away. */
function outOf(
  { standing, outages }: ShopCharger,
  timeZone: string,
  now: Moment,
  to: Moment,
): readonly Span[] {
  if (standing !== 'ready') return [{ from: 0, to: minutesTo(to, now) + 1 }];
  return joined(
    outages.flatMap((o) => {
      const [from, until] = [o.from, daysLater(o.to, 1)].map((d) =>
        momentOnDay(d, 0, timeZone),
      ) as [Moment, Moment];
      return until <= now || from >= to
        ? []
        : [{ from: Math.max(0, minutesTo(from, now)), to: minutesTo(until, now) }];
    }),
  );
}

const minutesTo = (at: Moment, now: Moment): Minute => Math.ceil((at - now) / MINUTE_MS);

/** Every output of every charger, and every place an instrument charges at. */
function postsOf(
  chargers: readonly ShopCharger[],
  instruments: readonly InstrumentSetting[],
  out: (charger: ShopCharger) => readonly Span[],
): Post[] {
  const outputs = chargers.flatMap((charger) =>
    Array.from({ length: charger.outputs }, (_, i): Post => ({
      id: outputPost(charger.id, i + 1),
      name: charger.outputs > 1 ? `${charger.name} ${i + 1}` : charger.name,
      about: charger.where,
      out: out(charger),
    })),
  );
  const places = instruments
    .filter((i) => i.kind === 'charger')
    .flatMap((instrument) =>
      Array.from({ length: instrument.outputs }, (_, i): Post => ({
        id: placePost(instrument.firstPlace + i),
        name: `Place ${instrument.firstPlace + i}`,
        about: instrument.name,
        out: [],
      })),
    );
  return [...places, ...outputs];
}

/** Where each charge under way stands; a charger nobody named is a post of its own. */
function placesInUse(
  jobs: readonly PlannedJob[],
  { chargers, rules }: PlannedShop,
): { postOf: (jobId: string) => string | null; unsaid: Post[] } {
  const posts = new Map<string, string>();
  const unsaid: Post[] = [];
  const outputs = new Map<string, number>();
  for (const { id, job } of jobs) {
    const { charge } = job.state;
    if (!charge || charge.mode === 'ended') continue;
    if (charge.live && instrumentAt(rules.instruments, 'charger', charge.place)) {
      posts.set(id, placePost(charge.place));
      continue;
    }
    const charger = chargers.find((c) => c.id === charge.charger?.id);
    const output = charger && (outputs.get(charger.id) ?? 0) + 1;
    if (charger && output !== undefined && output <= charger.outputs) {
      outputs.set(charger.id, output);
      posts.set(id, outputPost(charger.id, output));
      continue;
    }
    const post = `other#${charge.place}`;
    posts.set(id, post);
    unsaid.push({
      id: post,
      name: `Place ${charge.place}`,
      about: charge.charger?.name ?? 'another charger',
      out: [],
    });
  }
  return { postOf: (jobId) => posts.get(jobId) ?? null, unsaid };
}
