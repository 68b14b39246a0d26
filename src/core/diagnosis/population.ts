import { type Random, seeded } from '../simulation/random.ts';
import type { Evidence } from './evidence.ts';
import { likelihood, mostLikelihood } from './readings/readings.ts';
import { Showing } from './showing.ts';
import { drawChances, possibleFaults, priorWeight } from './chances.ts';
import type { Subject } from './subject.ts';
import { suspectOf } from './suspect.ts';

/** A suspect with what each piece of evidence says of it. */
export interface Member {
  showing: Showing;
  /** Log likelihood of each piece of evidence, in the order it came. */
  said: number[];
  weight: number;
}

/** Evidence that takes a simulated charge to weigh: it weighs the population, and moves nobody. */
const LATE: readonly Evidence['of'][] = ['charging', 'cycled'];
/** Where whole cycles are simulated, this share of those kept. */
const CYCLED_SHARE = 0.22;

/** Sizes of a population: first drawn, then kept; and tries to move each member at each stage. */
export interface Size {
  drawn: number;
  kept: number;
  moves: number;
}
export const SETTLED_SIZE: Size = { drawn: 2600, kept: 420, moves: 2 };
export const FIRST_SIZE: Size = { drawn: 1600, kept: 220, moves: 1 };

/** How far the evidence is trusted: less than 1 makes up for what the measurement model leaves out. */
export const TRUST = 0.7;
/** Share of it that must still count after evidence that moves nobody. */
const LATE_COUNTING = 0.12;
/** Share of the population that must still count before the next stage is reached. */
const KEEP_COUNTING = 0.35;

/**
 * Suspects weighed by evidence. Drawn from the prior, then brought to the evidence in stages: at each, those
 * that explain it badly give way to those that explain it well, and everyone moves a little, as far as
 * the evidence lets them (sequential Monte Carlo with prior-preserving moves; Del Moral, Doucet and Jasra 2006,
 * Cotter et al. 2013).
 */
export class Population {
  /** Drawn from the prior alone, and never moved: a part of the odds stays with them. */
  readonly drawn: Member[] = [];
  members: Member[] = [];
  readonly #random: Random;
  #stage = 0;
  #evidence: Evidence[];
  #settling: Generator<number, void> | null;

  constructor(
    readonly subject: Subject,
    evidence: readonly Evidence[],
    readonly size: Size = SETTLED_SIZE,
    seed = 11,
    /** Drawn before, for the same battery with the same seed: what they show need not be simulated again. */
    private readonly known: readonly Member[] = [],
  ) {
    this.#evidence = [...evidence];
    this.#random = seeded(seed);
    this.#settling = this.#settle();
  }

  get evidence(): readonly Evidence[] {
    return this.#evidence;
  }

  /** Works on for a little; false when it has settled. */
  next(): boolean {
    if (!this.#settling) return false;
    if (!this.#settling.next().done) return true;
    this.#settling = null;
    return false;
  }

  settle(): this {
    while (this.next());
    return this;
  }

  /** Members that count: 1 when one has all the weight. */
  get counting(): number {
    return effective(this.members.map((m) => m.weight));
  }

  /** One more piece of evidence, weighed at once by those who are here. */
  add(evidence: Evidence): void {
    this.#evidence.push(evidence);
    let best = -Infinity;
    for (const member of this.members) {
      const said = likelihood(member.showing, evidence);
      member.said.push(said);
      if (said > best) best = said;
    }
    for (const member of this.members)
      member.weight *= Math.exp(TRUST * ((member.said.at(-1) as number) - best));
    normalise(this.members);
  }

  *#settle(): Generator<number, void> {
    const { subject, size } = this;
    const faults = possibleFaults(subject);
    const usual = this.#evidence.filter((e) => !LATE.includes(e.of));
    for (let i = 0; i < size.drawn; i++) {
      // Half of them as they come, half with one fault after the other; their weights put that right again.
      const chances = drawChances(
        subject,
        this.#random,
        i % 2 === 0 ? null : (faults[((i - 1) / 2) % faults.length] ?? null),
      );
      const showing = this.known[i]?.showing ?? this.#showing(chances);
      this.drawn.push({
        showing,
        said: sayAll(showing, usual),
        weight: priorWeight(subject, chances),
      });
      if (i % 20 === 19) yield 0;
    }
    let members = this.drawn.map(copyOf);
    let reached = 0;
    for (let stage = 0; reached < TRUST && stage < 24; stage++) {
      const step = this.#reach(members, reached);
      weigh(members, step - reached);
      reached = step;
      members = this.#resample(members, size.kept);
      for (let move = 0; move < size.moves; move++)
        for (let i = 0; i < members.length; i++) {
          members[i] = this.#move(members[i] as Member, reached, usual);
          if (i % 20 === 19) yield 0.1 + 0.8 * reached;
        }
      this.#stage = stage + 1;
    }
    const late = this.#evidence.filter((e) => LATE.includes(e.of));
    const cycled = late.some((e) => e.of === 'cycled');
    const few = Math.round(CYCLED_SHARE * size.kept);
    if (cycled) members = this.#resample(members, few);
    for (const evidence of late) {
      let n = 0;
      for (const member of members) {
        member.said.push(likelihood(member.showing, evidence));
        if (n++ % (cycled ? 2 : 10) === 0) yield 0.95;
      }
    }
    if (late.length > 0) {
      // In the order the evidence came.
      const order = [...usual, ...late];
      this.#evidence = order;
      const said = members.map((m) => m.said.slice(usual.length).reduce((a, b) => a + b, 0));
      weighBy(members, said, trusted(said));
    }
    normalise(members);
    this.members = members;
  }

  #showing(chances: Float64Array): Showing {
    return new Showing(suspectOf(this.subject, chances), this.subject);
  }

  /** A member whose evidence adds up to more than `least`, else null; one that cannot come to it is not put under load. */
  #memberOver(least: number, chances: Float64Array, evidence: readonly Evidence[]): Member | null {
    const showing = this.#showing(chances);
    const said: number[] = [];
    let most = 0;
    const simulated = evidence.flatMap((e, i) => {
      const bound = mostLikelihood(e, this.subject.cells);
      most += bound ?? (said[i] = likelihood(showing, e));
      return bound === null ? [] : [i];
    });
    if (most < least) return null;
    for (const i of simulated) said[i] = likelihood(showing, evidence[i] as Evidence);
    const member = { showing, said, weight: 1 };
    return heard(member) > least ? member : null;
  }

  /** How far towards the evidence the next stage can go while enough members still count. */
  #reach(members: readonly Member[], from: number): number {
    const heardMembers = members.map(heard);
    const counting = (to: number): number => {
      const best = Math.max(...heardMembers);
      let sum = 0;
      let squares = 0;
      for (const [i, l] of heardMembers.entries()) {
        const w = (members[i] as Member).weight * Math.exp((to - from) * (l - best));
        sum += w;
        squares += w * w;
      }
      return (sum * sum) / squares;
    };
    const enough = Math.min(members.length, this.size.kept) * KEEP_COUNTING;
    if (counting(TRUST) >= enough) return TRUST;
    let low = from;
    let high = TRUST;
    for (let i = 0; i < 20; i++) {
      const mid = (low + high) / 2;
      if (counting(mid) >= enough) low = mid;
      else high = mid;
    }
    return Math.min(TRUST, Math.max(low, from + 0.01));
  }

  /** As many members as wanted, each as often as its weight says (systematic). */
  #resample(members: readonly Member[], count: number): Member[] {
    const total = members.reduce((sum, m) => sum + m.weight, 0);
    const out: Member[] = [];
    let at = this.#random.even();
    let sum = 0;
    for (const member of members) {
      sum += (member.weight / total) * count;
      while (at < sum && out.length < count) {
        out.push({ ...copyOf(member), weight: 1 });
        at += 1;
      }
    }
    return out;
  }

  /** A small or a partly new set of chances, kept if the evidence so far likes it as well. */
  #move(member: Member, reached: number, evidence: readonly Evidence[]): Member {
    const old = member.showing.suspect.chances;
    const fresh = new Float64Array(old.length);
    const how = this.#random.even();
    if (how < 0.6) {
      const keep = how < 0.3 ? 0.97 : 0.85;
      const other = Math.sqrt(1 - keep * keep);
      for (let j = 0; j < old.length; j++)
        fresh[j] = keep * (old[j] as number) + other * this.#random.normal();
    } else {
      const share = how < 0.8 ? 0.06 : 0.2;
      for (let j = 0; j < old.length; j++)
        fresh[j] = this.#random.even() < share ? this.#random.normal() : (old[j] as number);
    }
    const least = heard(member) + Math.log(this.#random.even()) / reached;
    return this.#memberOver(least, fresh, evidence) ?? member;
  }

  /** Stages it took to reach the evidence. */
  get stages(): number {
    return this.#stage;
  }
}

const sayAll = (showing: Showing, evidence: readonly Evidence[]): number[] =>
  evidence.map((e) => likelihood(showing, e));

/** A copy with a record of its own: what is said later is said to it alone. */
const copyOf = (member: Member): Member => ({ ...member, said: [...member.said] });

/** How many equal members these weights are worth. */
export function effective(weights: readonly number[]): number {
  let sum = 0;
  let squares = 0;
  for (const weight of weights) {
    sum += weight;
    squares += weight * weight;
  }
  return squares > 0 ? (sum * sum) / squares : 0;
}

function weighBy(members: readonly Member[], said: readonly number[], trust: number): void {
  const best = Math.max(...said);
  members.forEach((m, i) => (m.weight = Math.exp(trust * ((said[i] as number) - best))));
}

/**
 * How far evidence that moves nobody is trusted: as far as the rest, but never so far that a handful speaks for all. Where
 * none of them explains it well, the likeliest of them is no better known for it.
 */
function trusted(said: readonly number[]): number {
  const best = Math.max(...said);
  const counting = (trust: number): number =>
    effective(said.map((s) => Math.exp(trust * (s - best))));
  let [low, high] = [0, TRUST];
  if (counting(high) >= LATE_COUNTING * said.length) return high;
  for (let i = 0; i < 20; i++) {
    const mid = (low + high) / 2;
    if (counting(mid) >= LATE_COUNTING * said.length) low = mid;
    else high = mid;
  }
  return low;
}

const heard = (member: Member): number => {
  let sum = 0;
  for (const said of member.said) sum += said;
  return sum;
};

function weigh(members: readonly Member[], by: number): void {
  const best = Math.max(...members.map(heard));
  for (const member of members) member.weight *= Math.exp(by * (heard(member) - best));
}

function normalise(members: readonly Member[]): void {
  const total = members.reduce((sum, m) => sum + m.weight, 0);
  for (const member of members)
    member.weight = total > 0 ? member.weight / total : 1 / members.length;
}
