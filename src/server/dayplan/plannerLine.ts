import type { Pin } from '../../core/dayplan/pins.ts';
import type { Supposed } from '../../core/dayplan/suppose.ts';
import type { ToldPlan } from '../../core/dayplan/told.ts';
import type { AskQuestion, Planning, PlanQuestion } from './planning.ts';

/** A question to the plan that is there; nothing of it is kept. */
export type PlannerQuestion =
  | { ask: AskQuestion }
  | { tryOut: readonly Pin[] }
  | { suppose: Supposed }
  | { helps: string };

/** What goes to the planner's thread: a plan to make, which ends the making of the one before; or a question. */
export type ToPlanner =
  | { id: number; plan: PlanQuestion; forMs: number }
  | { id: number; question: PlannerQuestion };

/** What a question is answered; null where there is no plan. */
export type Answer = ReturnType<typeof answerQuestion>;

export function answerQuestion(planning: Planning, question: PlannerQuestion) {
  if ('ask' in question) return planning.ask(question.ask);
  if ('tryOut' in question) return planning.tryOut(question.tryOut);
  if ('suppose' in question) return planning.suppose(question.suppose);
  return planning.helps(question.helps);
}

export type FromPlanner =
  | { id: number; standing: 'first' | 'settled'; plan: ToldPlan }
  | { id: number; answer: Answer }
  | { id: number; fault: string };
