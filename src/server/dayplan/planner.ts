import { parentPort } from 'node:worker_threads';
import type { Proposal } from '../../core/dayplan/improve.ts';
import type { PlanProblem } from '../../core/dayplan/problem.ts';
import { Planning } from './planning.ts';
import { answerQuestion, type FromPlanner, type ToPlanner } from './plannerLine.ts';

/**
 * The planner's own thread. A plan is answered at once and then made better, a slice of time after another, so that a question
 * in between is heard; a newer plan ends it.
 */

const planning = new Planning();
const say = (message: FromPlanner): void => parentPort?.postMessage(message);

/** The plan that is being made better. */
interface Making {
  id: number;
  problem: PlanProblem;
  best: Proposal;
  begun: number;
  forMs: number;
}
let making: Making | null = null;
const SLICE_MS = 60;

parentPort?.on('message', (message: ToPlanner) => {
  try {
    if ('question' in message) {
      say({ id: message.id, answer: answerQuestion(planning, message.question) });
      return;
    }
    const { problem, first } = planning.begin(message.plan);
    say({ id: message.id, standing: 'first', plan: planning.tell(problem, first) });
    const idle = making === null;
    making = {
      id: message.id,
      problem,
      best: first,
      begun: performance.now(),
      forMs: message.forMs,
    };
    if (idle) setImmediate(makeBetter);
  } catch (error) {
    say({ id: message.id, fault: error instanceof Error ? error.message : String(error) });
  }
});

function makeBetter(): void {
  if (!making) return;
  const { id, problem, best, begun, forMs } = making;
  const from = performance.now();
  let cut = false;
  making.best = planning.better(problem, best, () => {
    const now = performance.now();
    cut = now - from >= SLICE_MS;
    return cut || now - begun >= forMs ? null : (now - begun) / forMs;
  });
  // It ended by itself before its slice was over: it found nothing better for long.
  if (cut && performance.now() - begun < forMs) {
    setImmediate(makeBetter);
    return;
  }
  const done = making.best;
  making = null;
  try {
    say({ id, standing: 'settled', plan: planning.tell(problem, done) });
  } catch (error) {
    say({ id, fault: error instanceof Error ? error.message : String(error) });
  }
}
