import type { BenchWire, JobWire } from '../../contract/wire.ts';
import { type HandLine, handLines } from '../../core/watch/hands.ts';
import type { Job } from '../../core/job/job.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import { settle } from '../../core/steps/settle.ts';
import { useNow } from './benchClock.ts';
import { useBench } from './queries.ts';

/** A job on the bench with its state as the clock has settled it. */
export interface BenchItem {
  wire: JobWire;
  job: Job;
}

/** Everything on the bench at one moment: worked out once a tick, whoever draws it. */
export interface BenchMoment {
  now: number;
  items: BenchItem[];
  /** Those in process. */
  open: BenchItem[];
  /** Those that ended within a day. */
  ended: BenchItem[];
  lines: HandLine<BenchItem>[];
}

const standing = new WeakMap<JobWire, BenchItem>();

/** The same item as at the last tick unless something has fallen due since: what draws it need not draw it again. */
function itemAt(wire: JobWire, procedure: Procedure, now: number): BenchItem {
  const known = standing.get(wire);
  const job = settle(known?.job ?? { procedure, plan: wire.plan, state: wire.state }, now);
  if (known?.job === job) return known;
  const item = { wire, job };
  standing.set(wire, item);
  return item;
}

let last: { bench: BenchWire; moment: BenchMoment } | null = null;

/** @param now ms; the same as the last time gives the same answer */
export function benchAt(bench: BenchWire, now: number): BenchMoment {
  if (last?.bench === bench && last.moment.now === now) return last.moment;
  const items = bench.jobs.map((wire) =>
    itemAt(wire, bench.procedures[wire.procedureId] as Procedure, now),
  );
  const inProcess = ({ job: { state } }: BenchItem) =>
    state.status === 'running' || state.status === 'with-lead';
  const open = items.filter(inProcess);
  const moment = {
    now,
    items,
    open,
    ended: items.filter((i) => !inProcess(i)),
    lines: handLines(open, now),
  };
  last = { bench, moment };
  return moment;
}

/** The bench at this tick; null while it is on its way. */
export function useBenchMoment(wanted = true): BenchMoment | null {
  const { data } = useBench(wanted);
  const now = useNow();
  return data ? benchAt(data, now) : null;
}
