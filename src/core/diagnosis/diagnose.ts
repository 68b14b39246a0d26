import type { Band } from '../rehearsal/outlook.ts';
import { type Evidence } from './evidence.ts';
import { type CauseOdds, causeOdds, type RouteOdds, RouteTrial } from './findings.ts';
import type { Ratings } from './readings/reading.ts';
import { canBeTaken, type NextReading, nextReadings, paidPerMinute } from './nextReading.ts';
import { familyNamed, ruledCauses, ruledFamilies } from './ruledOdds.ts';
import { FIRST_SIZE, type Member, Population, SETTLED_SIZE, type Size } from './population.ts';
import { type AfterCharge, contradictions, plainRules, type RuleFinding } from './plainRules.ts';
import { oddByPractice, oddOnesOut } from './oddReadings.ts';
import type { RouteKey } from './routes.ts';
import { priceOf, type Stakes } from './stakes.ts';
import { type FamilyKey, type FamilyOdds, type PictureKey } from './practice/families.ts';
import { featuresOf, type Sound } from './practice/features.ts';
import { clearingByPractice } from './practice/nextByPractice.ts';
import { seeded } from '../simulation/random.ts';
import type { Learnt } from './practice/experience.ts';
import { practiceOdds, recoverable } from './practice/judge.ts';
import { familiesOf, pooledFamilies, type Said, saidOf } from './practice/pooled.ts';
import { signOdds } from './practice/signs.ts';
import {
  fitsNothing,
  type Why,
  whatWouldChange,
  whysOf,
  type WouldChange,
} from './practice/whys.ts';
import { type TradeRule, tradeRules } from './practice/tradeRules.ts';
import { type Proposal, propose } from './propose.ts';
import { soundOhmsOf } from './showing.ts';
import type { Subject } from './subject.ts';

/** All that is asked of a diagnosis. */
export interface DiagnosisQuestion {
  subject: Subject;
  evidence: Evidence[];
  after: AfterCharge | null;
  /** Its cells are open to a hydrometer. */
  open: boolean;
  /** Routes this shop offers, and the one its school takes with sulfate. */
  routes: RouteKey[];
  prefer: RouteKey;
  stakes: Stakes;
  ratings: Ratings;
  /** What this shop's own batteries have taught; null or absent where nothing has. */
  learnt?: Learnt | null;
}

/** What is believed of a battery, how surely, and what to do. */
export interface Diagnosis {
  /** `practice`: by ranges of practice alone, before any battery has been simulated. */
  stage: 'practice' | 'first' | 'reweighed' | 'settled';
  /** What a person acts on, likeliest first; several may hold. */
  families: FamilyOdds[];
  /** How likely the first of them is to practice, to the signs of simulated batteries, and to those simulated for this one. */
  said: Said;
  /** The family that a plain rule names for sure, whatever each of those says of it. */
  named: FamilyKey | null;
  /** What practice says of each picture within the families. */
  pictures: Record<PictureKey, number>;
  /** Each reading beside what the likeliest families would have read, those that tell them apart first. */
  whys: Why[];
  /** Readings not taken yet, and what they would have to be for another family to come first. */
  would: WouldChange[];
  proposal: Proposal;
  /** The plain rules of the trade, each with what this battery says to it. */
  trade: TradeRule[];
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
  next: NextReading[];
  /** Further readings would cost more than they would save. */
  enough: boolean;
  suspects: number;
  twins: number;
  /** What of this shop's own batteries its odds and routes stand on, beside practice; null where there are none. */
  learnt: Learnt | null;
}

const FIRST_TWINS = 10;
/** The same question has the same answer. */
const PRACTICE_SEED = 41;
const CROWD_SEED = 11;
const SETTLED_TWINS = 54;
/** Families that readings are compared with. */
const COMPARED = 3;
/**
 * A diagnosis under way. `work` yields often, with an answer now and then: a first one soon, a settled one
 * at the end. A reading more is weighed at once by `add`; working again settles it.
 */
export class DiagnosisRun {
  #population: Population;
  #trial: RouteTrial;
  #stage: Diagnosis['stage'] = 'first';
  #next: NextReading[] = [];
  /** Suspects of this battery that have been drawn, the same for every crowd: what they show is known. */
  #drawn: readonly Member[];

  readonly #sound: Sound;

  /** @param before an answer to an earlier question: of the same battery, those drawn for it are drawn already */
  constructor(
    public question: DiagnosisQuestion,
    before: DiagnosisRun | null = null,
  ) {
    const { subject } = question;
    this.#drawn =
      before && JSON.stringify(before.question.subject) === JSON.stringify(subject)
        ? before.#drawn
        : [];
    this.#sound = { ...subject, milliohm: 1000 * soundOhmsOf(subject) };
    this.#population = this.#crowd(FIRST_SIZE);
    this.#trial = this.#trialOf(this.#population, 0);
  }

  /** What practice says, before anything is simulated; what to measure next goes by the family alone. */
  atOnce(): Diagnosis {
    this.#next = this.#nextByPractice();
    return this.#answer('practice');
  }

  /** The same, without what to measure next: that costs fifty times as much. */
  byReadings(): Diagnosis {
    return this.#answer('practice');
  }

  #nextByPractice(): NextReading[] {
    const { subject, evidence, after, ratings, open, stakes, learnt } = this.question;
    if (after !== null || evidence.some((e) => e.of === 'cycled')) return [];
    const price = priceOf(subject.c20Ah, stakes);
    return clearingByPractice(
      subject,
      featuresOf(this.#sound, evidence, after),
      new Set(evidence.map((e) => e.of)),
      (kind) => canBeTaken(kind, ratings, open),
      seeded(PRACTICE_SEED),
      learnt?.times,
    )
      .map(({ kind, minutes, clears }): NextReading => ({
        kind,
        minutes,
        gain: 0,
        clears,
        perMinute: paidPerMinute(0, clears, minutes, price, stakes),
      }))
      .sort((a, b) => b.perMinute - a.perMinute);
  }

  #crowd(size: Size): Population {
    const { subject, evidence } = this.question;
    return new Population(subject, evidence, size, CROWD_SEED, this.#drawn);
  }

  #trialOf(population: Population, twins: number): RouteTrial {
    const { open, routes, learnt } = this.question;
    return new RouteTrial(population, open, routes, twins, learnt?.gains ?? {});
  }

  /** Works; yields how far it is (0–1), with an answer when there is a new one. */
  *work(): Generator<{ progress: number; diagnosis: Diagnosis | null }, Diagnosis> {
    yield* this.#round(FIRST_SIZE, FIRST_TWINS, 'first', 0, 0.2);
    yield { progress: 0.2, diagnosis: this.#answer() };
    yield* this.#round(SETTLED_SIZE, SETTLED_TWINS, 'settled', 0.2, 1);
    return this.#answer();
  }

  /** The answer that stands when everything has been simulated, without a pause. */
  settle(): Diagnosis {
    const work = this.work();
    for (;;) {
      const { done, value } = work.next();
      if (done) return value;
    }
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
    if (population.drawn.length > this.#drawn.length) this.#drawn = population.drawn;
    this.#population = population;
    this.#trial = trial;
    this.#stage = stage;
    yield progressAt(0.92);
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

  #answer(stage: Diagnosis['stage'] = this.#stage): Diagnosis {
    const { subject, evidence, after, stakes, open, prefer, learnt } = this.question;
    const { members } = this.#population;
    const rules = plainRules(subject, evidence, after);
    const never = rules.some((r) => r.weight === 'never');
    const [best] = this.#next;
    const simulated = stage !== 'practice';
    const causes = simulated ? causeOdds(this.#population) : [];
    const features = featuresOf(this.#sound, evidence, after);
    const times = learnt?.times ?? {};
    const practice = practiceOdds(subject, features, times);
    const opinions = {
      practice,
      signs: signOdds(subject, features),
      causes: simulated ? causes : null,
    };
    const pooled = pooledFamilies(opinions, after !== null, times);
    const families = ruledFamilies(pooled, rules);
    if (simulated) this.#trial.lean(pooled, familiesOf(causes));
    const routes = simulated ? this.#trial.odds(stakes) : [];
    const ranked = families.map((f) => f.family);
    const compared = ranked.slice(0, COMPARED);
    const strange = features.filter((f) => fitsNothing(this.#sound, f)).map((f) => f.from);
    return {
      stage,
      rules,
      never,
      contradictions: contradictions(subject, evidence),
      odd: simulated
        ? oddOnesOut(members, evidence, subject)
        : oddByPractice(evidence, subject, strange),
      families,
      said: saidOf(families[0]?.family ?? 'nothing', opinions),
      named: familyNamed(rules),
      pictures: practice.pictures,
      whys: whysOf(this.#sound, features, compared, practice.pictures),
      would: whatWouldChange(
        this.#sound,
        new Set(features.map((f) => f.key)),
        compared,
        practice.pictures,
        open,
      ),
      trade: tradeRules(this.#sound, features, subject.temperatureC, open),
      proposal: propose(families, practice.pictures, {
        offered: this.#trial.routes.map((r) => r.route.key),
        prefer,
        routes,
        trial: this.#trial,
        never,
        price: priceOf(subject.c20Ah, stakes),
      }),
      causes: ruledCauses(causes, rules),
      routes,
      capacity: simulated ? this.#trial.capacity() : recoverable(practice.pictures),
      next: this.#next,
      enough: simulated && this.#stage !== 'reweighed' && (!best || best.perMinute <= 0),
      suspects: members.length,
      twins: this.#trial.tried.length,
      learnt: learnt ?? null,
    };
  }
}
