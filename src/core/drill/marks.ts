import { DiagnosisRun } from '../diagnosis/diagnose.ts';
import { DEFAULT_STAKES } from '../diagnosis/stakes.ts';
import type { DeviationWhat } from '../job/deviation.ts';
import { diagnosisQuestion } from '../recovery/question.ts';
import type { Moment } from '../quantities/moment.ts';
import { MARK_KEYS, type Decision, type MarkKey } from './case.ts';
import type { Fact, FactAt } from './facts.ts';
import type { DrillBench } from './drillBench.ts';

/**
 * What was done at a case, in five marks. A mark begins at 100 and loses points by what happened, each with its moment; an unsafe
 * act fails the case, whatever the others say.
 */

/** Something a mark goes by. */
export interface MarkEvent {
  at: Moment;
  /** What it cost, points; 0 where it is only told. */
  lost: number;
  what: MarkReason;
}

/** Why points were lost; words are made at the edge. */
export type MarkReason =
  | { kind: 'fact'; fact: Fact }
  | { kind: 'minutes'; yours: number; good: number }
  | { kind: 'hours'; yours: number; good: number }
  | { kind: 'late'; promisedH: number; byH: number }
  | {
      kind: 'decision';
      yours: Decision | null;
      right: readonly Decision[];
      defensible: boolean;
      /** What was read spoke against the truth, and no reading that was left would have changed that. */
      misled: boolean;
    }
  | { kind: 'family'; said: string; was: string }
  | { kind: 'unfinished' };

export interface Mark {
  points: number;
  passed: boolean;
  events: MarkEvent[];
}

export interface Marks {
  by: Record<MarkKey, Mark>;
  /** Every mark is passed, and nothing unsafe was done. */
  passed: boolean;
}

/** From here on a mark is passed. */
const PASSES = 60;
/** Up to so many times a good technician's minutes or hours cost nothing; at so many all of it is lost. */
const FREE_TIMES = 1.3;
const ALL_TIMES = 4;
/** Minutes and hours so short that nobody counts them. */
const FREE_MIN = 20;
const FREE_H = 2;
/** Of economy, what lies in a person's minutes and what in the hours until it is done. */
const IN_MINUTES = 50;
const IN_HOURS = 50;
/** What a broken promise costs, where a good technician keeps it. */
const LATE = 45;

/** Which mark a fact belongs to, and what it costs there. */
function costOf(fact: Fact): { mark: MarkKey; lost: number } {
  switch (fact.kind) {
    case 'charged-never':
    case 'filled-wrong':
    case 'spark':
    case 'left-hot':
    case 'boost':
    case 'strip-pressed':
      return { mark: 'safety', lost: 100 };
    case 'sent-out':
      return { mark: fact.strands ? 'safety' : 'judgement', lost: 100 };
    case 'not-looked':
      return { mark: 'procedure', lost: 15 };
    case 'read-early':
      return { mark: 'procedure', lost: 15 };
    case 'overdischarged':
      return { mark: 'procedure', lost: 30 };
    case 'lost-water':
      return { mark: 'procedure', lost: 30 };
    case 'deviation':
      return { mark: 'procedure', lost: deviationCosts(fact.what) };
    case 'answered-otherwise':
      return { mark: 'record', lost: 50 };
    case 'not-measured':
      return { mark: 'record', lost: 20 };
    case 'written-otherwise':
      return { mark: 'record', lost: 30 };
  }
}

/** A wait that was cut or a step that was left out costs most; what was put right or could not be helped costs little. */
function deviationCosts(what: DeviationWhat | string): number {
  if (typeof what === 'string') return 10;
  switch (what.kind) {
    case 'wait-cut':
      return what.remainingS > 600 ? 45 : 15;
    case 'step-skipped':
      return 30;
    case 'temperature':
    case 'acid':
      return 45;
    case 'ceiling':
    case 'current':
    case 'overrun':
      return 25;
    case 'charger':
      return 25;
    case 'ended-early':
      return 20;
    case 'readings-missed':
      return 15;
    case 'found-off':
    case 'ports':
    case 'route':
    case 'refusal-taken-back':
    case 'corrected-late':
    case 'step-reopened':
    case 'still-topped-up':
      return 5;
  }
}

/**
 * Marks what was done.
 *
 * @param good what a good technician needed on the same case
 */
export function markCase(bench: DrillBench, good: Pick<DrillBench, 'handsMin' | 'now'>): Marks {
  const events = Object.fromEntries(MARK_KEYS.map((key) => [key, [] as MarkEvent[]])) as Record<
    MarkKey,
    MarkEvent[]
  >;
  for (const { at: when, fact } of worstOnce(bench.facts)) {
    const { mark, lost } = costOf(fact);
    events[mark].push({ at: when, lost, what: { kind: 'fact', fact } });
  }
  events.economy.push(...economy(bench, good));
  events.judgement.push(...judgement(bench));
  if (!bench.isOver)
    for (const key of ['procedure', 'judgement', 'record'] as const)
      events[key].push({ at: bench.now, lost: 100, what: { kind: 'unfinished' } });
  const by = Object.fromEntries(
    MARK_KEYS.map((key) => {
      const points = Math.max(0, 100 - events[key].reduce((sum, e) => sum + e.lost, 0));
      return [
        key,
        {
          points: Math.round(points),
          passed: key === 'safety' ? points >= 100 : points >= PASSES,
          events: events[key],
        },
      ];
    }),
  ) as unknown as Record<MarkKey, Mark>;
  return { by, passed: MARK_KEYS.every((key) => by[key].passed) };
}

/** The same slip is counted once for each step and value, not for each time a page sent it. */
function worstOnce(facts: readonly FactAt[]): FactAt[] {
  const seen = new Set<string>();
  return facts.filter(({ stepId, fact }) => {
    if (fact.kind === 'deviation') return true;
    const slip =
      'value' in fact
        ? `${fact.kind} ${fact.value}`
        : 'what' in fact
          ? `${fact.kind} ${String(fact.what)}`
          : fact.kind;
    const key = `${stepId} ${slip}`;
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

function economy(bench: DrillBench, good: Pick<DrillBench, 'handsMin' | 'now'>): MarkEvent[] {
  const hours = (now: Moment): number => (now - bench.beganAt) / 3_600_000;
  const [yours, goods] = [hours(bench.now), hours(good.now)];
  const { promisedH } = bench.drillCase;
  return [
    {
      at: bench.now,
      lost: IN_MINUTES * over(bench.handsMin, good.handsMin, FREE_MIN),
      what: { kind: 'minutes', yours: bench.handsMin, good: good.handsMin },
    },
    {
      at: bench.now,
      lost: IN_HOURS * over(yours, goods, FREE_H),
      what: { kind: 'hours', yours, good: goods },
    },
    ...(promisedH !== undefined && yours > promisedH && goods <= promisedH
      ? [
          {
            at: bench.now,
            lost: LATE,
            what: { kind: 'late', promisedH, byH: yours - promisedH } as const,
          },
        ]
      : []),
  ];
}

/** 0 up to what is free, 1 where all of it is lost. */
function over(yours: number, good: number, free: number): number {
  const allowed = Math.max(FREE_TIMES * good, good + free);
  const most = Math.max(ALL_TIMES * good, good + 4 * free);
  return Math.min(1, Math.max(0, (yours - allowed) / (most - allowed)));
}

/** What it was called in the end, and what became of it. */
function judgement(bench: DrillBench): MarkEvent[] {
  const { drillCase, decision, now } = bench;
  const { right, defensible = [], truth } = drillCase;
  const isRight = decision !== null && right.includes(decision);
  const isDefensible = decision !== null && defensible.includes(decision);
  const found = bench.job.state.recovery?.outcomes.at(-1)?.found;
  const misled = !isRight && !isDefensible && decision !== null && wasMisled(bench);
  return [
    {
      at: now,
      lost: isRight ? 0 : isDefensible || misled ? 20 : 60,
      what: { kind: 'decision', yours: decision, right, defensible: isDefensible, misled },
    },
    ...(found && found !== truth.family
      ? [
          {
            at: now,
            lost: 20,
            what: { kind: 'family', said: found, was: truth.family } as const,
          },
        ]
      : []),
  ];
}

/** Below this chance the truth was not to be seen; a reading that clears more than the other was still to be taken. */
const NOT_SEEN = 0.2;
const WOULD_CLEAR = 0.05;

/** Did everything that was worth reading speak against what it truly was? A battery that was sent out is tested: there it could be known. */
function wasMisled({ job, drillCase, decision }: DrillBench): boolean {
  if (drillCase.purpose !== 'recover' || decision === 'passed' || decision === 'light')
    return false;
  const { families, next } = new DiagnosisRun(diagnosisQuestion(job, DEFAULT_STAKES)).atOnce();
  const truth = families.find((f) => f.family === drillCase.truth.family)?.chance ?? 0;
  return truth < NOT_SEEN && next.every((n) => n.clears < WOULD_CLEAR);
}

/** The mark a case is failed by first, in the order of weight; null where it is passed. */
export const failedBy = ({ by }: Marks): MarkKey | null =>
  MARK_KEYS.find((key) => !by[key].passed) ?? null;
