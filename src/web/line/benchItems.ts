import type { BenchWire, JobWire } from '../../contract/wire.ts';
import { type HandLine, handLines, nextHand } from '../../core/watch/hands.ts';
import type { Hand } from '../../core/job/hand.ts';
import type { Job } from '../../core/job/job.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import { benchClock, useNow } from './benchClock.ts';
import { inPieces } from './inPieces.ts';
import { benchQuery, jobOf, queryClient, useBench } from './queries.ts';

/** A job on the bench with its state as the clock has settled it. */
export interface BenchItem {
  wire: JobWire;
  job: Job;
}

/**
 * Everything on the bench at one moment: worked out once a tick, whoever draws it. What says the same as a tick before is the
 * same list, so that nothing is drawn anew for it.
 */
export interface BenchMoment {
  now: number;
  items: readonly BenchItem[];
  /** Those in process. */
  open: readonly BenchItem[];
  /** Those that ended within a day. */
  ended: readonly BenchItem[];
  lines: readonly HandLine<BenchItem>[];
  /** Those in process as they want hands, most pressing first. */
  order: readonly BenchItem[];
}

const knownItems = new WeakMap<JobWire, BenchItem>();

/** The same item as at the last tick unless something has fallen due since: what draws it need not draw it again. */
function itemAt(wire: JobWire, procedure: Procedure, now: number): BenchItem {
  const known = knownItems.get(wire);
  const job = jobOf(wire, procedure, now);
  if (known?.job === job) return known;
  const item = { wire, job };
  knownItems.set(wire, item);
  return item;
}

const knownHands = new WeakMap<Job, { now: number; hand: Hand | null }>();

/** What a job wants of a person at a tick, worked out once. */
function handAt(job: Job, now: number): Hand | null {
  const known = knownHands.get(job);
  if (known?.now === now) return known.hand;
  const hand = nextHand(job, now);
  knownHands.set(job, { now, hand });
  return hand;
}

/** Fetches the bench and works it out, a few milliseconds at a time, before anybody draws it. */
export async function benchAhead(): Promise<void> {
  const bench = await queryClient.ensureQueryData(benchQuery);
  const now = benchClock.tick();
  await inPieces(bench.jobs, (wire) => {
    const procedure = bench.procedures[wire.procedureId] as Procedure;
    handAt(itemAt(wire, procedure, now).job, now);
  });
}

let last: { bench: BenchWire; moment: BenchMoment } | null = null;

/** @param now ms; the same as the last time gives the same answer */
export function benchAt(bench: BenchWire, now: number): BenchMoment {
  if (last?.bench === bench && last.moment.now === now) return last.moment;
  const items = bench.jobs.map((wire) =>
    itemAt(wire, bench.procedures[wire.procedureId] as Procedure, now),
  );
  const before = last?.moment;
  const stands = before !== undefined && sameItems(before.items, items);
  const open = stands ? before.open : items.filter(inProcess);
  const lines = handLines(open, now, handAt);
  const asBefore = before !== undefined && sameLines(before.lines, lines);
  const moment: BenchMoment = {
    now,
    items: stands ? before.items : items,
    open,
    ended: stands ? before.ended : items.filter((item) => !inProcess(item)),
    lines: asBefore ? before.lines : lines,
    // Rows stand in the order in which they want hands, so the eye runs down both lists together.
    order: asBefore ? before.order : lines.flatMap((line) => line.jobs),
  };
  last = { bench, moment };
  return moment;
}

const inProcess = ({ job: { state } }: BenchItem): boolean =>
  state.status === 'running' || state.status === 'with-lead';

const sameItems = (a: readonly BenchItem[], b: readonly BenchItem[]): boolean =>
  a.length === b.length && a.every((item, i) => item === b[i]);

/** Whether two hands lists say the same of the same batteries. */
function sameLines(a: readonly HandLine<BenchItem>[], b: readonly HandLine<BenchItem>[]): boolean {
  const sameLine = (one: HandLine<BenchItem>, other: HandLine<BenchItem>): boolean =>
    one.urgency === other.urgency &&
    sameItems(one.jobs, other.jobs) &&
    shallowEqual(one.hand, other.hand);
  return a.length === b.length && a.every((line, i) => sameLine(line, b[i] as typeof line));
}

const shallowEqual = (a: Hand, b: Hand): boolean =>
  (Object.keys(a) as (keyof Hand)[]).every((key) => a[key] === b[key]);

/** The bench at this tick; null while it is on its way. */
export function useBenchMoment(wanted = true): BenchMoment | null {
  const { data } = useBench(wanted);
  const now = useNow();
  return data ? benchAt(data, now) : null;
}
