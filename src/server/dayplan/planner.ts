import { parentPort } from 'node:worker_threads';
import { Planning } from './planning.ts';
import type { FromPlanner, ToPlanner } from './plannerLine.ts';

/** The planner's own thread: a question at a time, a first answer at once, a better one within seconds. A newer question ends it. */

const planning = new Planning();
const say = (message: FromPlanner): void => parentPort?.postMessage(message);

parentPort?.on('message', ({ id, question, stop, forMs }: ToPlanner) => {
  const stopped = new Int32Array(stop);
  const superseded = (): boolean => Atomics.load(stopped, 0) > id;
  if (superseded()) return;
  try {
    const { problem, first } = planning.begin(question);
    say({ id, standing: 'first', plan: planning.tell(problem, first) });
    const begins = performance.now();
    const better = planning.better(problem, first, () => {
      const used = (performance.now() - begins) / forMs;
      return used >= 1 || superseded() ? null : used;
    });
    if (!superseded()) say({ id, standing: 'settled', plan: planning.tell(problem, better) });
  } catch (error) {
    say({ id, fault: error instanceof Error ? error.message : String(error) });
  }
});
