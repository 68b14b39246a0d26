import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import {
  CONNECT_MIN,
  type Minute,
  OFF_MIN,
  type PlanProblem,
  type Way,
  type Work,
} from '../../src/core/dayplan/problem.ts';

/**
 * The least lateness a small shop can have, proven by a constraint engine (MiniZinc with Chuffed, as WebAssembly) that knows
 * nothing of how plans are made here: the rules are written down once more, for the engine. Chargers that are read by the hour
 * are left out; air and fuse are taken to be enough.
 */

const require = createRequire(import.meta.url);

const MODEL = `
include "globals.mzn";
int: horizon;
int: tasks;                                   % hands, connecting and taking off
array[1..tasks] of int: minutes;
array[1..tasks] of bool: lead;
array[1..tasks] of int: tool;                 % 0: none
int: spans;                                   % of people at the bench
array[1..spans] of int: opens;
array[1..spans] of int: closes;
array[1..spans] of int: person;
array[1..spans] of bool: isLead;
int: runs;
array[1..runs] of int: connect;               % its tasks
array[1..runs] of int: off;
int: ways;
array[1..ways] of int: wayRun;
array[1..ways] of int: wayPost;
array[1..ways] of int: wayMinutes;
array[1..ways] of bool: wayHolds;             % what follows waits until it is taken off
int: orders;                                  % task b begins so long after task a
array[1..orders] of int: before;
array[1..orders] of int: after;
array[1..orders] of int: least;
array[1..orders] of int: most;                % -1: any
int: runOrders;                               % task b begins so long after run a
array[1..runOrders] of int: runBefore;
array[1..runOrders] of int: runAfter;
array[1..runOrders] of int: runLeast;
int: promises;
array[1..promises] of int: lastTask;
array[1..promises] of int: due;
array[1..promises] of int: weight;
int: broken;
int: most_cost;

array[1..tasks] of var 0..horizon: start;
array[1..tasks] of var 1..spans: inSpan;
array[1..runs] of var 1..ways: way;
array[1..runs] of var 0..horizon: over;

constraint forall(t in 1..tasks)(
  start[t] >= opens[inSpan[t]] /\\ start[t] + minutes[t] <= closes[inSpan[t]] /\\ (lead[t] -> isLead[inSpan[t]]));
constraint forall(a, b in 1..tasks where a < b)(
  person[inSpan[a]] != person[inSpan[b]] \\/ start[a] + minutes[a] <= start[b] \\/ start[b] + minutes[b] <= start[a]);
constraint forall(a, b in 1..tasks where a < b /\\ tool[a] > 0 /\\ tool[a] = tool[b])(
  start[a] + minutes[a] <= start[b] \\/ start[b] + minutes[b] <= start[a]);
constraint forall(r in 1..runs)(
  wayRun[way[r]] = r /\\ over[r] = start[connect[r]] + minutes[connect[r]] + wayMinutes[way[r]] /\\ start[off[r]] >= over[r]);
constraint forall(a, b in 1..runs where a < b)(
  wayPost[way[a]] != wayPost[way[b]]
  \\/ start[off[a]] + minutes[off[a]] <= start[connect[b]] \\/ start[off[b]] + minutes[off[b]] <= start[connect[a]]);
constraint forall(o in 1..orders)(
  start[after[o]] >= start[before[o]] + minutes[before[o]] + least[o]
  /\\ (most[o] < 0 \\/ start[after[o]] <= start[before[o]] + minutes[before[o]] + most[o]));
constraint forall(o in 1..runOrders)(
  start[runAfter[o]] >= over[runBefore[o]] + runLeast[o]
  /\\ (wayHolds[way[runBefore[o]]] -> start[runAfter[o]] >= start[off[runBefore[o]]] + minutes[off[runBefore[o]]] + runLeast[o]));
array[1..promises] of var int: late = [max(0, start[lastTask[p]] + minutes[lastTask[p]] - due[p]) | p in 1..promises];
var 0..most_cost: cost = sum(p in 1..promises)(weight[p] * late[p] + broken * (late[p] > 0));
solve minimize cost;
`;

/** What the engine found. */
export interface Proven {
  cost: number | null;
  /** Nothing is better. */
  proven: boolean;
}

/** A plan's lateness as the engine counts it: a broken promise costs so much by itself. */
const BROKEN_COST = 60;
export const latenessOf = (
  { works, horizon }: PlanProblem,
  ready: ReadonlyMap<string, Minute>,
): number =>
  works.reduce((sum, { id, promise }) => {
    const late = promise ? Math.max(0, (ready.get(id) ?? horizon) - promise.at) : 0;
    return sum + (late > 0 ? BROKEN_COST + (promise?.weight ?? 1) * late : 0);
  }, 0);

/**
 * The least lateness of a shop.
 *
 * @param most what has been found already: the engine looks for what is not dearer
 * @param allowed what the plan allows for a way, whole minutes
 */
export async function leastLateness(
  problem: PlanProblem,
  most: number,
  allowed: (way: Way) => Minute,
  limitMs: number,
): Promise<Proven> {
  const data = dataOf(problem, most, allowed);
  const worker = new Worker(new URL('./engineThread.mjs', import.meta.url));
  try {
    return await new Promise<Proven>((resolve, reject) => {
      let cost: number | null = null;
      let proven = false;
      worker.on('error', reject);
      worker.on('message', (message: EngineMessage) => {
        if (message.type === 'ready')
          worker.postMessage({
            jsonStream: true,
            files: { 'shop.mzn': MODEL, 'shop.json': JSON.stringify(data) },
            args: [
              ...['--solver', 'chuffed', '-f', '--time-limit', String(limitMs), '-i'],
              ...['--output-mode', 'json', '--output-objective', 'shop.mzn', 'shop.json'],
            ],
          });
        if (message.type === 'error') reject(new Error(message.message));
        if (message.type === 'solution') cost = message.output?.json?._objective ?? null;
        if (message.type === 'status')
          proven = message.status === 'OPTIMAL_SOLUTION' || message.status === 'UNSATISFIABLE';
        if (message.type === 'exit') resolve({ cost, proven });
      });
      worker.postMessage({
        wasmURL: require.resolve('minizinc/minizinc.wasm'),
        dataURL: require.resolve('minizinc/minizinc.data'),
      });
    });
  } finally {
    await worker.terminate();
  }
}

interface EngineMessage {
  type: 'ready' | 'solution' | 'status' | 'exit' | 'error';
  status?: string;
  message?: string;
  output?: { json?: { _objective?: number } };
}

function dataOf(
  { works, people, horizon }: PlanProblem,
  most: number,
  allowed: (way: Way) => Minute,
): Record<string, unknown> {
  const minutes: number[] = [];
  const lead: boolean[] = [];
  const tool: number[] = [];
  const tools: string[] = [];
  const connect: number[] = [];
  const off: number[] = [];
  const way = {
    run: [] as number[],
    post: [] as number[],
    minutes: [] as number[],
    holds: [] as boolean[],
  };
  const order = {
    before: [] as number[],
    after: [] as number[],
    least: [] as number[],
    most: [] as number[],
  };
  const runOrder = { before: [] as number[], after: [] as number[], least: [] as number[] };
  const promise = { last: [] as number[], due: [] as number[], weight: [] as number[] };
  const posts = new Map<string, number>();
  const task = (takes: Minute, needsLead: boolean, key: string | null): number => {
    minutes.push(takes);
    lead.push(needsLead);
    if (key !== null && !tools.includes(key)) tools.push(key);
    tool.push(key === null ? 0 : tools.indexOf(key) + 1);
    return minutes.length;
  };
  const follow = (
    last: { task?: number; run?: number },
    next: number,
    gap: Work['activities'][number]['gap'],
  ) => {
    if (last.task !== undefined) {
      order.before.push(last.task);
      order.after.push(next);
      order.least.push(gap.least);
      order.most.push(gap.most ?? -1);
    }
    if (last.run !== undefined) {
      runOrder.before.push(last.run);
      runOrder.after.push(next);
      runOrder.least.push(gap.least);
    }
  };
  for (const work of works) {
    let last: { task?: number; run?: number } = {};
    for (const activity of work.activities) {
      if (activity.kind === 'hands') {
        const t = task(activity.minutes, activity.lead, activity.tool);
        follow(last, t, activity.gap);
        last = { task: t };
        continue;
      }
      const on = task(CONNECT_MIN, false, null);
      const taken = task(OFF_MIN, false, null);
      connect.push(on);
      off.push(taken);
      follow(last, on, activity.gap);
      for (const w of activity.ways) {
        const id = w.postId ?? '';
        if (!posts.has(id)) posts.set(id, posts.size + 1);
        way.run.push(connect.length);
        way.post.push(posts.get(id) as number);
        way.minutes.push(allowed(w));
        way.holds.push(w.watch !== 'none');
      }
      last = { run: connect.length };
    }
    if (work.promise && last.task !== undefined) {
      promise.last.push(last.task);
      promise.due.push(work.promise.at);
      promise.weight.push(work.promise.weight);
    }
  }
  const there = people.flatMap((p, i) =>
    p.there.map((s) => ({ ...s, person: i + 1, lead: p.lead })),
  );
  return {
    horizon,
    tasks: minutes.length,
    minutes,
    lead,
    tool,
    spans: there.length,
    opens: there.map((s) => s.from),
    closes: there.map((s) => s.to),
    person: there.map((s) => s.person),
    isLead: there.map((s) => s.lead),
    runs: connect.length,
    connect,
    off,
    ways: way.run.length,
    wayRun: way.run,
    wayPost: way.post,
    wayMinutes: way.minutes,
    wayHolds: way.holds,
    orders: order.before.length,
    before: order.before,
    after: order.after,
    least: order.least,
    most: order.most,
    runOrders: runOrder.before.length,
    runBefore: runOrder.before,
    runAfter: runOrder.after,
    runLeast: runOrder.least,
    promises: promise.last.length,
    lastTask: promise.last,
    due: promise.due,
    weight: promise.weight,
    broken: BROKEN_COST,
    most_cost: most,
  };
}
