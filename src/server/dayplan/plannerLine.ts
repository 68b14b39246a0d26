import type { ToldPlan } from '../../core/dayplan/told.ts';
import type { PlanQuestion } from './planning.ts';

/** What goes to the planner's thread. `stop` holds the number of the newest question: an older one is given up. */
export interface ToPlanner {
  id: number;
  question: PlanQuestion;
  stop: SharedArrayBuffer;
  forMs: number;
}

export type FromPlanner =
  { id: number; standing: 'first' | 'settled'; plan: ToldPlan } | { id: number; fault: string };
