import { seeded } from '../simulation/random.ts';
import { type Prospect, prospects } from './chance.ts';
import { SAFE } from './planWords.ts';
import { propose, type Proposal } from './improve.ts';
import type { Minute, PlanProblem, Work } from './problem.ts';
import { everyDayLonger, withAnother } from './suppose.ts';

/** When something that is not there yet could be ready: not before these minutes in 5, 8 and 19 of 10 or 20. */
export interface Earliest {
  half: Minute;
  eight: Minute;
  nineteen: Minute;
}

/** A promise of somebody else that would suffer. */
export interface Suffers {
  workId: string;
  tag: string;
  whose: string;
  /** Its chance now, and then. */
  before: number;
  after: number;
}

/** What can honestly be promised. */
export interface AskedPromise {
  /** With everything else kept as it is; null where the shop cannot do it within the plan. */
  earliest: Earliest | null;
  /** Chance of the time that is wanted; null where none is. */
  kept: number | null;
  /** Put before everything else: the chance then, and who pays for it. */
  rush: { earliest: Earliest | null; kept: number | null; suffers: Suffers[] } | null;
  /** With one charger more like the one it would have, and with everybody an hour longer. */
  more: { charger: Earliest | null; overtime: Earliest | null };
}

const DRAWS = 300;
const SEED = 5;
/** A chance that falls by less than this is the same. */
const FELT = 0.05;

/**
 * What can be promised of works that are not there yet.
 *
 * @param plan what is planned without them
 * @param asked the works that would come; each counts until the last of them is ready
 * @param wanted when they are wanted, min; null where the first possible hour is
 */
export function askPromise(
  problem: PlanProblem,
  plan: Pick<Proposal, 'order' | 'posts' | 'plan'>,
  asked: readonly Work[],
  wanted: Minute | null,
): AskedPromise {
  const ids = asked.map((w) => w.id);
  const withThem = { ...problem, works: [...problem.works, ...asked] };
  const before = prospects(problem, plan.plan, seeded(SEED), DRAWS);
  const tried = (p: PlanProblem, order: readonly string[]) => {
    const { plan: made } = propose(p, order, plan.posts);
    return { made, chances: prospects(p, made, seeded(SEED), DRAWS) };
  };
  const last = tried(withThem, [...plan.order, ...ids]);
  const first = tried(withThem, [...ids, ...plan.order]);
  const suffers = suffersBy(problem, before, first.chances);
  const readyIn = (chances: ReadonlyMap<string, Prospect>) => readyTogether(ids, chances);
  const rush = {
    earliest: earliestOf(readyIn(first.chances)),
    kept: keptBy(readyIn(first.chances), wanted),
  };
  const easy = {
    earliest: earliestOf(readyIn(last.chances)),
    kept: keptBy(readyIn(last.chances), wanted),
  };
  const gains =
    rush.earliest !== null &&
    (easy.earliest === null || rush.earliest.eight < easy.earliest.eight - 15);
  const used = last.made.planned.find((p) => ids.includes(p.workId) && p.run)?.run;
  const another = anotherPost(withThem, asked, used?.way);
  return {
    earliest: easy.earliest,
    kept: easy.kept,
    rush: gains && (easy.kept === null || easy.kept < SAFE) ? { ...rush, suffers } : null,
    more: {
      charger: another && earliestOf(readyIn(tried(another, [...plan.order, ...ids]).chances)),
      overtime: earliestOf(
        readyIn(tried(everyDayLonger(withThem), [...plan.order, ...ids]).chances),
      ),
    },
  };
}

/** Promises whose chance is felt to fall. */
export function suffersBy(
  { works }: Pick<PlanProblem, 'works'>,
  before: ReadonlyMap<string, Prospect>,
  after: ReadonlyMap<string, Prospect>,
): Suffers[] {
  return works.flatMap(({ id, tag, whose }): Suffers[] => {
    const [was, is] = [before.get(id)?.kept ?? null, after.get(id)?.kept ?? null];
    if (was === null || is === null) return [];
    return was - is > FELT ? [{ workId: id, tag, whose, before: was, after: is }] : [];
  });
}

/** When the last of several is ready, draw by draw; null where one of them cannot be planned. */
function readyTogether(
  ids: readonly string[],
  chances: ReadonlyMap<string, Prospect>,
): readonly Minute[] | null {
  const drawsOfEach = ids.map((id) => chances.get(id)?.draws ?? null);
  if (drawsOfEach.length === 0 || drawsOfEach.some((d) => d === null)) return null;
  const [head, ...others] = drawsOfEach as (readonly Minute[])[];
  return (head as readonly Minute[]).map((t, i) =>
    Math.max(t, ...others.map((d) => d[i] as Minute)),
  );
}

function earliestOf(draws: readonly Minute[] | null): Earliest | null {
  if (!draws || draws.length === 0) return null;
  const sorted = draws.toSorted((a, b) => a - b);
  const quantileAt = (share: number): Minute =>
    sorted[Math.ceil(share * sorted.length) - 1] as Minute;
  return { half: quantileAt(0.5), eight: quantileAt(0.8), nineteen: quantileAt(0.95) };
}

const keptBy = (draws: readonly Minute[] | null, wanted: Minute | null): number | null =>
  wanted === null ? null : draws ? draws.filter((t) => t <= wanted).length / draws.length : 0;

/** The shop with one charger more, like the one that was used; null where none was. */
function anotherPost(
  problem: PlanProblem,
  asked: readonly Work[],
  number: number | undefined,
): PlanProblem | null {
  const [run] = asked.flatMap((w) => w.activities.filter((a) => a.kind === 'run'));
  const used = number === undefined ? undefined : run?.ways[number];
  return used?.postId ? withAnother(problem, used.postId) : null;
}
