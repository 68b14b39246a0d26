import type { RouteKey } from '../diagnosis/routes.ts';
import type { HazardKey } from '../safety/hazards.ts';
import type { FigureKey } from './figures.ts';
import type { WakeKey } from '../diagnosis/wakes.ts';

/** What a job is for. */
export type Purpose = 'commission' | 'recharge' | 'display' | 'service' | 'recover';

export const PURPOSE_WORDS: Readonly<Record<Purpose, string>> = {
  commission: 'Commission',
  recharge: 'Recharge for the shelf',
  display: 'From a display machine',
  service: 'Service',
  recover: 'Recover',
};

/** How a stretch of a job looks on the ribbon. */
export type SegmentKind = 'hands' | 'fill' | 'dwell' | 'soak' | 'charge' | 'rest' | 'test';

/** What is over the ports. `caps` are single ones, `strip` is one for all. */
export type Cover =
  | 'foil'
  | 'torn-foil'
  | 'open'
  | 'caps-loose'
  | 'caps'
  | 'strip-loose'
  | 'sealed';

/** What a step is to its job, besides its kind. Whoever reads a job asks for the role, never for the id of a step. */
export type StepRole = 'main-charge' | 'refill' | 'empty-first' | 'rest-before-verdict' | 'hold';

interface StepBase {
  id: string;
  role?: StepRole;
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
  /** It may not wait longer than this after what comes before it, s. */
  withinS?: number;
  /** May be skipped with a reason. Matches, refusals and verdicts may not. */
  skippable?: boolean;
  /** Done once in a job's life, left out when a charge is repeated. */
  once?: boolean;
  /** Only where the route chosen, or the way of waking, is one of these. */
  only?: { route?: readonly RouteKey[]; wake?: readonly WakeKey[] };
  /** What is over the ports once this step is done. */
  leaves?: Cover;
}

export interface Check {
  id: string;
  text: string;
  /** Words for the two answers, yes first. */
  answers: readonly [string, string];
  /** What a “no” means when it ends the job; such a refusal cannot be waved through. */
  refusal?: string;
  /** What is to be put right before the job goes on, where a “no” only holds it. */
  hold?: string;
  /** What the battery looks like after a refusal here. */
  shows?: Cover;
}

export interface PortAnswer {
  id: string;
  label: string;
  good: boolean;
  /** Liquid in that port, 0–1, as it is drawn. */
  level?: number;
  bubbling?: boolean;
  /** This answer in any port calls for another pass. */
  again?: boolean;
  /** What goes on the record as a deviation when a port gets this answer. */
  deviation?: string;
  /** Water or acid that this answer says went in. */
  added?: 'acid' | 'water';
}

export type Step = StepBase &
  (
    | { kind: 'acknowledge' }
    | { kind: 'checks'; checks: readonly Check[] }
    | { kind: 'pack' }
    /** Bulk acid: its lot, SG and temperature, corrected and judged before it goes in. */
    | { kind: 'acid' }
    | {
        kind: 'do';
        temperature?: { label: string; range: readonly [number, number]; outside: string };
        /** How much went in, mL; taken from the lot of the acid. */
        amount?: {
          label: string;
          expected: FigureKey;
          /** More than expected never goes in. */ most?: true;
          /** Weighed before and after: a gram is a millilitre. */ weighed?: true;
        };
      }
    | {
        kind: 'ports';
        question: string;
        answers: readonly PortAnswer[];
        hold: string;
        /** Where another pass begins, and how many there may be. */
        passes?: { from: string; most: number };
      }
    | {
        kind: 'wait';
        figure: FigureKey;
        early: string;
        /** Counts from the end of this earlier step instead of its own beginning. */
        since?: string;
        /** Its volts are asked for this often while it stands, s. */
        readEveryS?: number;
      }
    /** Rest voltage as it came, before anything is done to it. */
    | { kind: 'arrival' }
    /** `own`: by the figures of the job, whatever plan was chosen for the route. */
    | { kind: 'charge'; own?: true }
    /** What its owner tells of it. */
    | { kind: 'story' }
    /** Odds of causes, and the route that is chosen by them. */
    | { kind: 'diagnose' }
    /** Donor, leads and charger, before the clips go on. */
    | { kind: 'wake' }
    /** Volts and the feel of every cell after an hour; another hour goes back to `from`. */
    | { kind: 'wake-check'; from: string; most: number }
    /** Drained and rinsed; what comes out tells how its plates are. */
    | { kind: 'rinse'; acid: FigureKey }
    | { kind: 'capacity' }
    | { kind: 'hold-measure' }
    /** What becomes of a recovered battery. */
    | { kind: 'outcome'; repeatFrom: string }
    /** SG of every cell. */
    | { kind: 'cells' }
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
  purpose: Purpose;
  /** What is over the ports when it comes. */
  arrives: Cover;
  steps: readonly Step[];
}

/** @throws Error when the procedure has no such step */
export function stepById(procedure: Procedure, id: string): Step {
  const step = procedure.steps.find((s) => s.id === id);
  if (!step) throw new Error(`No step “${id}” in ${procedure.id}.`);
  return step;
}

/** Is the step of this id the one of this role? */
export const hasRole = (
  procedure: Procedure,
  stepId: string | null | undefined,
  role: StepRole,
): boolean => procedure.steps.some((s) => s.id === stepId && s.role === role);

/** The first step of a kind, where the procedure has one. */
export function stepOfKind<K extends StepKind>(
  procedure: Procedure,
  kind: K,
): StepOf<K> | undefined {
  return procedure.steps.find((s): s is StepOf<K> => s.kind === kind);
}
