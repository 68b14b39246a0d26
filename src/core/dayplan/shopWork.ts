import { type ChargerOption, chargerOptions, fits, hoursOn } from '../chargers/fit.ts';
import type { ShopCharger } from '../chargers/charger.ts';
import { type InstrumentSetting, instrumentAt } from '../house/instruments.ts';
import { presenceOf, type Stretch } from '../house/presence.ts';
import type { HouseRules } from '../house/rules.ts';
import { chargeStatus } from '../job/chargeStatus.ts';
import { type ChargeState, chargeStartedAt } from '../job/chargeState.ts';
import { stillComes } from '../job/comes.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import type { Step } from '../plan/procedure.ts';
import { fillText } from '../plan/words.ts';
import type { Moment } from '../quantities/moment.ts';
import { chargerNeed } from '../recovery/chargerNeed.ts';
import type { Band } from '../rehearsal/outlook.ts';
import { ventilationNeed } from '../safety/ventilation.ts';
import { moduleOf } from '../steps/registry.ts';
import { chargingAir } from '../watch/chargingAir.ts';
import { labelOf, plannedS } from '../watch/timeline.ts';
import type {
  Activity,
  Gap,
  Look,
  Minute,
  PlanPerson,
  PlanProblem,
  Post,
  Run,
  Span,
  ToolKey,
  Watch,
  Way,
  Work,
} from './problem.ts';

/** A battery in process, as a day plan meets it. */
export interface PlannedJob {
  id: string;
  tag: string;
  whose: string;
  promisedAt: Moment | null;
  /** Settled at the plan's beginning. */
  job: Job;
}

/** What the shop does its work with. */
export interface PlannedShop {
  rules: HouseRules;
  people: readonly { id: string; name: string; role: 'technician' | 'lead' }[];
  chargers: readonly ShopCharger[];
}

const MINUTE_MS = 60_000;
/** How much sooner or later than a sound battery of its model one is full: 8 in 10. Bench experience. */
const BATTERY_SPREAD = { low: 0.85, high: 1.3 };
/** A discharge ends sooner where the battery holds less than it should. */
const TEST_SPREAD = { low: 0.5, high: 1.1 };
/** What a charger takes from the mains for what it gives. Usual of transformers and small switched supplies. */
const EFFICIENCY = 0.75;
/** What a lead takes to decide, min. */
const DECIDE_MIN = 15;

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
    posts: [...postsOf(chargers, rules.instruments, horizon), ...places.unsaid],
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
      return [
        {
          id: item.id,
          tag: item.tag,
          whose: item.whose,
          promise:
            item.promisedAt === null
              ? null
              : { at: Math.floor((item.promisedAt - now) / MINUTE_MS), weight: 1 },
          activities,
        },
      ];
    }),
  };
}

const outputPost = (chargerId: string, output: number): string => `${chargerId}#${output}`;
const placePost = (place: number): string => `place#${place}`;

/** Every output of every charger, and every place an instrument charges at. */
function postsOf(
  chargers: readonly ShopCharger[],
  instruments: readonly InstrumentSetting[],
  horizon: Minute,
): Post[] {
  const outputs = chargers.flatMap((charger) =>
    Array.from({ length: charger.outputs }, (_, i): Post => ({
      id: outputPost(charger.id, i + 1),
      name: charger.outputs > 1 ? `${charger.name} ${i + 1}` : charger.name,
      about: charger.where,
      out: charger.standing === 'ready' ? [] : [{ from: 0, to: horizon + 1 }],
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

/**
 * What is still to do of a job, in its procedure's order: hands that follow one another are one task, waits are gaps between.
 *
 * @param post where its charge under way stands; null where none is
 */
export function activitiesOf(
  job: Job,
  now: Moment,
  shop: PlannedShop,
  post: string | null,
  ways: (job: Job) => readonly Way[],
): Activity[] {
  const { state, procedure } = job;
  const run = state.current;
  if (!run || state.status === 'closed') return [];
  const activities: Activity[] = [];
  let gap: Gap = { least: 0, most: null };
  // Minutes of hands since a step was done, for waits that count from its end.
  const since = new Map<string, Minute>();
  const pass = (minutes: Minute): void => {
    for (const [id, before] of since) since.set(id, before + minutes);
  };
  const add = (activity: Activity): void => {
    const last = activities.at(-1);
    if (
      last?.kind === 'hands' &&
      activity.kind === 'hands' &&
      activity.gap.least === 0 &&
      last.lead === activity.lead &&
      (last.tool === null || activity.tool === null || last.tool === activity.tool)
    )
      activities[activities.length - 1] = {
        ...last,
        stepIds: [...last.stepIds, ...activity.stepIds],
        minutes: last.minutes + activity.minutes,
        tool: last.tool ?? activity.tool,
      };
    else activities.push(activity);
    gap = { least: 0, most: null };
  };
  if (state.status === 'with-lead')
    add({
      kind: 'hands',
      stepIds: [run.stepId],
      what: 'Lead decides',
      minutes: DECIDE_MIN,
      lead: true,
      tool: null,
      gap,
    });

  const first = procedure.steps.findIndex((s) => s.id === run.stepId);
  for (const step of procedure.steps.slice(first)) {
    const inHand = step.id === run.stepId;
    if (!inHand && !stillComes(state, step)) continue;
    const module = moduleOf(step);
    const what = fillText(step.title, job.plan);
    const minutes = Math.max(1, Math.ceil(plannedS(step, job) / 60));
    const within = step.withinS === undefined ? null : gap.least + Math.ceil(step.withinS / 60);
    const due: Gap = { ...gap, most: within };
    const as: Look = { kind: step.segment, label: labelOf(step, job.plan) };
    if (module.takes === 'charger') {
      const { charge } = state;
      const runs = inHand && charge !== null && charge.mode !== 'ended' && post !== null;
      add(
        runs
          ? { ...chargeUnderWay(job, charge, post, now, what, shop), as }
          : { kind: 'run', stepIds: [step.id], what, ways: ways(job), gap: due, as },
      );
    } else if (module.takes === 'discharge-load') {
      add({ ...dischargeOf(job, step, inHand, now, what, minutes, due), as });
    } else if (module.byItself && module.near?.(step) && !inHand) {
      add({ kind: 'run', stepIds: [step.id], what, ways: [nearRun(minutes, null)], gap: due, as });
    } else if (module.byItself) {
      const left = inHand
        ? Math.max(0, Math.ceil(((run.dueAt ?? now) - now) / MINUTE_MS))
        : Math.max(0, minutes - (since.get(module.countsFrom?.(step) ?? '') ?? 0));
      gap = { least: gap.least + left, most: null, as };
      pass(left);
      continue;
    } else {
      add({
        kind: 'hands',
        stepIds: [step.id],
        what,
        minutes,
        lead: false,
        tool: (module.takes ?? null) as ToolKey | null,
        gap: due,
        as,
      });
      pass(minutes);
      since.set(step.id, 0);
    }
  }
  return activities;
}

/** Something that runs under somebody's eye, at no place of its own. */
const nearRun = (minutes: Minute, tool: ToolKey | null, spread = { low: 1, high: 1 }): Way => ({
  postId: null,
  tool,
  watch: 'near',
  minutes: { low: spread.low * minutes, middle: minutes, high: spread.high * minutes },
  airM3h: 0,
  mainsA: 0,
  setting: '',
});

function dischargeOf(
  job: Job,
  step: Step,
  inHand: boolean,
  now: Moment,
  what: string,
  minutes: Minute,
  gap: Gap,
): Run {
  const discharge = inHand ? recoveryOf(job).discharge : null;
  const left = discharge && Math.max(1, Math.ceil((discharge.expectedEndAt - now) / MINUTE_MS));
  return {
    kind: 'run',
    stepIds: [step.id],
    what,
    ways: [nearRun(left ?? minutes, 'discharge-load', left === null ? TEST_SPREAD : undefined)],
    gap,
    ...(discharge
      ? { since: Math.min(0, Math.ceil((discharge.startedAt - now) / MINUTE_MS)) }
      : {}),
  };
}

function chargeUnderWay(
  job: Job,
  charge: ChargeState,
  postId: string,
  now: Moment,
  what: string,
  { chargers, rules }: PlannedShop,
): Run {
  const { expectedEndAt, progress } = chargeStatus(job, now);
  const done = progress.agrees && !charge.live;
  const middle = done ? 1 : Math.max(1, ((expectedEndAt ?? now) - now) / MINUTE_MS);
  const charger = chargers.find((c) => c.id === charge.charger?.id);
  return {
    kind: 'run',
    stepIds: [job.state.current?.stepId ?? ''],
    what,
    gap: { least: 0, most: null },
    since: Math.min(0, Math.ceil((chargeStartedAt(charge) - now) / MINUTE_MS)),
    ways: [
      {
        postId,
        tool: null,
        watch: charge.live ? 'none' : watchOf(charger, charge.charger?.own?.program?.ends ?? null),
        minutes: {
          low: BATTERY_SPREAD.low * middle,
          middle,
          high: done ? middle : BATTERY_SPREAD.high * middle,
        },
        airM3h: ventilationNeed([chargingAir(job)]),
        mainsA: mainsCurrent(charge.setA, charge.setV, rules),
        setting: `${charge.setA} A`,
      },
    ],
  };
}

/** One that holds its battery, or stops, needs nobody; on any other somebody looks each hour. */
function watchOf(
  charger: ShopCharger | undefined,
  ends: 'stops' | 'floats' | 'never' | null,
): Watch {
  if (!charger || charger.range || ends === null || ends === 'never') return 'hourly';
  return 'off';
}

const mainsCurrent = (amps: number, volts: number, { mainsV }: HouseRules): number =>
  (amps * volts) / (EFFICIENCY * mainsV);

/** Every place and charger a job's battery may charge at, as it would be set there, and how long it takes. */
export function waysOf(job: Job, { rules, chargers }: PlannedShop): Way[] {
  const need = chargerNeed(job);
  const airM3h = ventilationNeed([chargingAir(job)]);
  const spread = (hours: Band): Band => ({
    low: 60 * hours.low * BATTERY_SPREAD.low,
    middle: 60 * hours.middle,
    high: 60 * hours.high * BATTERY_SPREAD.high,
  });
  const byHandWays = (option: ChargerOption): Way[] => {
    const minutes = spread(hoursOn(option, need));
    return Array.from({ length: option.charger.outputs }, (_, i) => ({
      postId: outputPost(option.charger.id, i + 1),
      tool: null,
      watch: watchOf(option.charger, option.program?.ends ?? null),
      minutes,
      airM3h,
      mainsA: mainsCurrent(option.amps, option.volts, rules),
      setting: settingOf(option),
    }));
  };
  const options = chargerOptions(chargers, need).filter(fits);
  const byHand = options.filter((o) => !leavesItShort(o)).flatMap(byHandWays);
  const { plannedA, ceilingV, readsV } = need;
  const itself = rules.instruments
    .filter(
      (i) =>
        i.kind === 'charger' && i.mostV >= ceilingV && (readsV === null || readsV >= i.leastStartV),
    )
    .flatMap((instrument): Way[] => {
      const amps = Math.min(plannedA, instrument.mostA);
      const middle = need.supplyHours(amps, ceilingV);
      const { low, high } = need.sizeSpan;
      const minutes = spread({ low: low * middle, middle, high: high * middle });
      return Array.from({ length: instrument.outputs }, (_, i) => ({
        postId: placePost(instrument.firstPlace + i),
        tool: null,
        watch: 'none' as const,
        minutes,
        airM3h,
        mainsA: mainsCurrent(amps, ceilingV, rules),
        setting: `${Number(amps.toFixed(1))} A`,
      }));
    });
  const ways = [...itself, ...byHand];
  return ways.length > 0 ? ways : options.flatMap(byHandWays);
}

/** A charger that ends before a sound battery is full saves hours and costs the pass. */
const leavesItShort = ({ cautions }: ChargerOption): boolean =>
  cautions.some(
    (c) =>
      c.kind === 'stops-short' ||
      c.kind === 'timer' ||
      c.kind === 'endless' ||
      (c.kind === 'says-full' && !c.sulfated),
  );

const settingOf = ({ setting, program, amps }: ChargerOption): string =>
  [setting?.name ?? `${Number(amps.toFixed(1))} A`, program?.name].filter(Boolean).join(', ');
