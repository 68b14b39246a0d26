import type { AskedPromise } from '../../core/dayplan/ask.ts';
import type { ToldPlan } from '../../core/dayplan/told.ts';
import type { AskQuestion, PlanQuestion } from './planning.ts';

/** What goes to the planner's thread: a plan to make, which ends the making of the one before; or a question to the plan that is there. */
export type ToPlanner =
  { id: number; plan: PlanQuestion; forMs: number } | { id: number; ask: AskQuestion };

export type FromPlanner =
  | { id: number; standing: 'first' | 'settled'; plan: ToldPlan }
  | { id: number; asked: (AskedPromise & { from: number }) | null }
  | { id: number; fault: string };
