import type { Band } from '../rehearsal/outlook.ts';
import { type Evidence } from './evidence.ts';
import { type CauseOdds, causeOdds, type RouteOdds, RouteTrial } from './findings.ts';
import type { Ratings } from './readings/reading.ts';
import { type NextReading, nextReadings } from './nextReading.ts';
import { FIRST_SIZE, Population, SETTLED_SIZE, type Size } from './population.ts';
import { type AfterCharge, contradictions, plainRules, type RuleFinding } from './plainRules.ts';
import { oddOnesOut, type Reason, reasonsFor } from './reasons.ts';
import type { RouteKey } from './routes.ts';
import { priceOf, type Stakes } from './stakes.ts';
import type { Subject } from './subject.ts';

/** All that is asked of a diagnosis. */
export interface DiagnosisQuestion {
  subject: Subject;
  evidence: Evidence[];
  after: AfterCharge | null;
  /** Its cells are open to a hydrometer. */
  open: boolean;
  /** Routes this shop offers. */
  routes: RouteKey[];
  stakes: Stakes;
  ratings: Ratings;
}

/** What is believed of a battery, how surely, and what to do. */
export interface Diagnosis {
  stage: 'first' | 'reweighed' | 'settled';
  /** Plain rules first; they are never outvoted. */
  rules: RuleFinding[];
  /** Some rule forbids every route. */
  never: boolean;
  contradictions: string[];
  odd: { index: number; sentence: string }[];
  causes: CauseOdds[];
  routes: RouteOdds[];
  /** Charge that can be had back, share of C20: middle and 8 of 10. */
  capacity: Band;
  reasons: Reason[];
  next: NextReading[];
  /** Further readings would cost more than they would save. */
  enough: boolean;
  suspects: number;
  twins: number;
}

const FIRST_TWINS = 10;
const SETTLED_TWINS = 72;
/** This much is left to the odds where a rule has named the cause: somebody may have swapped the leads of the meter. */
const AGAINST_A_RULE = 0.03;

/** Odds under the plain rules, which are never outvoted: a cause that one names as beyond help stands first. */
function ruled(odds: CauseOdds[], rules: readonly RuleFinding[]): CauseOdds[] {
  const named = rules.find((r) => r.weight === 'never')?.cause;
  if (!named) return odds;
  return odds
    .map(({ cause, holds, gravest }) =>
      cause === named
        ? {
            cause,
            holds: 1 - AGAINST_A_RULE * (1 - holds),
            gravest: 1 - AGAINST_A_RULE * (1 - gravest),
          }
        : { cause, holds, gravest: AGAINST_A_RULE * gravest },
    )
    .sort((a, b) => b.holds - a.holds || b.gravest - a.gravest);
}

/**
 * A diagnosis under way. `work` yields often, with an answer now and then: a first one soon, a settled one
 * at the end. A reading more is weighed at once by `add`; working again settles it.
 */
export class DiagnosisRun {
  #population: Population;
  #trial: RouteTrial;
  #stage: Diagnosis['stage'] = 'first';
  #reasons: Reason[] = [];
  #next: NextReading[] = [];

  constructor(public question: DiagnosisQuestion) {
    this.#population = this.#crowd(FIRST_SIZE);
    this.#trial = this.#trialOf(this.#population, 0);
  }

  #crowd(size: Size): Population {
    return new Population(this.question.subject, this.question.evidence, size);
  }

  #trialOf(population: Population, twins: number): RouteTrial {
    return new RouteTrial(population, this.question.open, this.question.routes, twins);
  }

  /** Works; yields how far it is (0–1), with an answer when there is a new one. */
  *work(): Generator<{ progress: number; diagnosis: Diagnosis | null }, Diagnosis> {
    yield* this.#round(FIRST_SIZE, FIRST_TWINS, 'first', 0, 0.2);
    yield { progress: 0.2, diagnosis: this.#answer() };
    yield* this.#round(SETTLED_SIZE, SETTLED_TWINS, 'settled', 0.2, 1);
    return this.#answer();
  }

  *#round(
    size: Size,
    twins: number,
    stage: Diagnosis['stage'],
    from: number,
    to: number,
  ): Generator<{ progress: number; diagnosis: null }> {
    const progressAt = (share: number): { progress: number; diagnosis: null } => ({
      progress: from + share * (to - from),
      diagnosis: null,
    });
    const population = this.#crowd(size);
    let i = 0;
    // Slices get fewer as the crowd tightens; the share is a guess that only ever grows.
    while (population.next()) yield progressAt(0.5 * (1 - Math.exp(-i++ / (0.012 * size.drawn))));
    const trial = this.#trialOf(population, twins);
    while (trial.next()) yield progressAt(0.5 + (0.4 * trial.tried.length) / twins);
    this.#population = population;
    this.#trial = trial;
    this.#stage = stage;
    yield progressAt(0.92);
    this.#reasons = reasonsFor(population, causeOdds(population));
    yield progressAt(0.96);
    this.#next = this.#nextReadings();
  }

  #nextReadings(): NextReading[] {
    const { evidence, ratings, open, stakes, subject } = this.question;
    // Readings of a battery that has been worked on are the cycle's own, and weighed with it.
    if (evidence.some((e) => e.of === 'cycled')) return [];
    return nextReadings(
      this.#trial,
      new Set(evidence.map((e) => e.of)),
      ratings,
      open,
      stakes,
      priceOf(subject.c20Ah, stakes),
    );
  }

  /** One more reading, weighed at once by the crowd that is here. */
  add(evidence: Evidence): Diagnosis {
    this.question = { ...this.question, evidence: [...this.question.evidence, evidence] };
    this.#population.add(evidence);
    this.#trial.add();
    this.#stage = 'reweighed';
    this.#next = this.#next.filter((n) => n.kind !== evidence.of);
    return this.#answer();
  }

  #answer(): Diagnosis {
    const { subject, evidence, after, stakes } = this.question;
    const { members } = this.#population;
    const rules = plainRules(subject, evidence, after);
    const [best] = this.#next;
    return {
      stage: this.#stage,
      rules,
      never: rules.some((r) => r.weight === 'never'),
      contradictions: contradictions(subject, evidence),
      odd: oddOnesOut(members, evidence, subject),
      causes: ruled(causeOdds(this.#population), rules),
      routes: this.#trial.odds(stakes),
      capacity: this.#trial.capacity(),
      reasons: this.#reasons,
      next: this.#next,
      enough: this.#stage !== 'reweighed' && (!best || best.perMinute <= 0),
      suspects: members.length,
      twins: this.#trial.tried.length,
    };
  }
}
