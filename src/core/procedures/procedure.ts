import type { HazardKey } from '../safety/hazards.ts';
import type { FigureKey } from './plan.ts';

/** How a stretch of a job looks on the ribbon. */
export type SegmentKind = 'hands' | 'fill' | 'dwell' | 'soak' | 'charge' | 'rest' | 'test';

interface StepBase {
  id: string;
  /** What to do, as an order. `{figure}` and `{word}` are filled from the plan. */
  title: string;
  /** What to do in detail, and why. */
  detail: string;
  /** The verb on the button. */
  act: string;
  segment: SegmentKind;
  /** Usual length when it is hands work, s; waits and charges take theirs from the plan. */
  handsS?: number;
  hazards?: readonly HazardKey[];
  /** May be skipped with a reason. Matches, refusals and verdicts may not. */
  skippable?: boolean;
  /** Done once in a job's life, left out when a charge is repeated. */
  once?: boolean;
}

export interface Check {
  id: string;
  text: string;
  /** Words for the two answers, yes first. */
  answers: readonly [string, string];
  /** What a “no” means. A refusal ends the job and cannot be waved through. */
  refusal: string;
}

export interface PortAnswer {
  id: string;
  label: string;
  good: boolean;
}

export type Step = StepBase &
  (
    | { kind: 'acknowledge' }
    | { kind: 'checks'; checks: readonly Check[] }
    | { kind: 'pack' }
    | { kind: 'do'; temperature?: { label: string; range: readonly [number, number]; outside: string } }
    | { kind: 'ports'; question: string; answers: readonly PortAnswer[]; hold: string }
    | { kind: 'wait'; figure: FigureKey; early: string; /** Counts from the end of this earlier step instead of its own beginning. */ since?: string }
    | { kind: 'charge' }
    | { kind: 'measure' }
    | { kind: 'load' }
    | { kind: 'verdict'; repeatFrom: string; maxAttempts: number }
    | { kind: 'handover' }
  );

export type StepKind = Step['kind'];
export type StepOf<K extends StepKind> = Extract<Step, { kind: K }>;

/** A way of working as data; the runner walks it in order. */
export interface Procedure {
  id: string;
  version: number;
  name: string;
  steps: readonly Step[];
}

/** @throws Error when the procedure has no such step */
export function stepById(procedure: Procedure, id: string): Step {
  const step = procedure.steps.find((s) => s.id === id);
  if (!step) throw new Error(`No step “${id}” in ${procedure.id}.`);
  return step;
}
