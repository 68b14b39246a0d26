import type { AskedPromise } from '../../core/dayplan/ask.ts';
import type { Pin } from '../../core/dayplan/pins.ts';
import type { ToldPlan } from '../../core/dayplan/told.ts';
import type { AskQuestion, PlanQuestion } from './planning.ts';

/** What goes to the planner's thread: a plan to make, which ends the making of the one before; or a question to the plan that is there. */
export type ToPlanner =
  | { id: number; plan: PlanQuestion; forMs: number }
  | { id: number; ask: AskQuestion }
  | { id: number; tryOut: readonly Pin[] };

/** What a question to the plan is answered; null where there is no plan. */
export type Answer = (AskedPromise & { from: number }) | ToldPlan | null;

export type FromPlanner =
  | { id: number; standing: 'first' | 'settled'; plan: ToldPlan }
  | { id: number; answer: Answer }
  | { id: number; fault: string };
