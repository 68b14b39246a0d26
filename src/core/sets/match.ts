import type { Candidate } from './candidate.ts';
import { packSets, worthOfSets } from './pack.ts';
import type { SetScales } from '../house/setScales.ts';
import { EPS, type Column } from './pack.ts';
import { resistances, apart, type Partition } from './candidate.ts';

const PROVABLE = 24;

/**
 * The best partition into sets of `size`. A set is worth the mean over its pairs of how far within the limit they are;
 * the sum over all sets is what is maximised: two fair sets beat one close one, but not if they are at the limit.
 * Up to 24 candidates of a model it is proven best (branch and bound with a Lagrangian bound); beyond, parts of it
 * are solved so again and again, and the gap to a bound is told. Yields now and then with the best so far.
 *
 * @param budgetMs that may be spent on candidates beyond 24, by `clock`
 */
export function* partition(
  candidates: readonly Candidate[],
  size: number,
  scales: SetScales,
  budgetMs: number,
  clock: () => number,
): Generator<Partition, Partition> {
  const byModel = new Map<string, Candidate[]>();
  for (const c of candidates) byModel.set(c.modelCode, [...(byModel.get(c.modelCode) ?? []), c]);
  const groups = [...byModel.values()].map((group) => new Group(group, size, scales));
  const candidateCount = groups.reduce((sum, g) => sum + g.candidates.length, 0);
  for (const group of groups) {
    if (group.candidates.length <= PROVABLE) group.solve();
    else {
      const until = clock() + (budgetMs * group.candidates.length) / candidateCount;
      group.start();
      while (clock() < until && group.improve()) yield together(groups, scales);
    }
    yield together(groups, scales);
  }
  return together(groups, scales);
}

function together(groups: readonly Group[], scales: SetScales): Partition {
  const parts = groups.map((g) => g.result(scales));
  return {
    sets: parts.flatMap((p) => p.sets).sort((a, b) => a.apart - b.apart),
    leftOver: parts.flatMap((p) => p.leftOver),
    worth: parts.reduce((sum, p) => sum + p.worth, 0),
    bound: parts.reduce((sum, p) => sum + p.bound, 0),
    proven: parts.every((p) => p.proven),
  };
}

/** Candidates of one model. */
class Group {
  readonly distance: Float64Array;
  #best: Column[] = [];
  #bound: number;
  #proven = false;
  #turn = 0;

  constructor(
    readonly candidates: readonly Candidate[],
    readonly size: number,
    readonly scales: SetScales,
  ) {
    const n = candidates.length;
    this.distance = new Float64Array(n * n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++)
        this.distance[i * n + j] =
          i === j ? 0 : apart(candidates[i] as Candidate, candidates[j] as Candidate, scales);
    this.#bound = this.#simpleBound();
  }

  #at(i: number, j: number): number {
    return this.distance[i * this.candidates.length + j] as number;
  }

  /**
   * No set is worth more than the shares of its members, each half of what its nearest neighbours give it; and no
   * more than n ÷ size sets can be made.
   */
  #simpleBound(): number {
    const n = this.candidates.length;
    const pairs = (this.size * (this.size - 1)) / 2;
    const shares = Array.from({ length: n }, (_, i) => {
      const near = Array.from({ length: n }, (_unused, j) =>
        j === i ? Infinity : this.#at(i, j),
      ).sort((a, b) => a - b);
      const nearest = near.slice(0, this.size - 1);
      if (nearest.length < this.size - 1 || nearest.some((d) => d > this.scales.limit)) return 0;
      return nearest.reduce((sum, d) => sum + (this.scales.limit - d), 0) / 2 / pairs;
    }).sort((a, b) => b - a);
    return shares.slice(0, Math.floor(n / this.size) * this.size).reduce((a, b) => a + b, 0);
  }

  /** Every set of these whose members are all within the limit of each other. */
  #columns(among: readonly number[]): Column[] {
    const out: Column[] = [];
    const pairs = (this.size * (this.size - 1)) / 2;
    const chosen: number[] = [];
    const grow = (from: number, sum: number): void => {
      if (chosen.length === this.size) {
        out.push({ members: [...chosen], worth: this.scales.limit - sum / pairs });
        return;
      }
      for (let k = from; k < among.length; k++) {
        const next = among[k] as number;
        let more = 0;
        if (
          !chosen.every(
            (c) => (more += this.#at(c, next)) < Infinity && this.#at(c, next) <= this.scales.limit,
          )
        )
          continue;
        chosen.push(next);
        grow(k + 1, sum + more);
        chosen.pop();
      }
    };
    grow(0, 0);
    return out;
  }

  solve(): void {
    const { chosen, bound, proven } = packSets(
      this.#columns(this.candidates.map((_, i) => i)),
      this.candidates.length,
    );
    this.#best = chosen;
    this.#bound = proven ? worthOfSets(chosen) : Math.min(this.#bound, bound);
    this.#proven = proven;
  }

  /** A first partition: the closest set that is left, again and again. */
  start(): void {
    const free = new Set(this.candidates.map((_, i) => i));
    for (;;) {
      let best: Column | null = null;
      for (const i of free) {
        const set = this.#around(i, free);
        if (set && (!best || set.worth > best.worth)) best = set;
      }
      if (!best) break;
      this.#best.push(best);
      for (const m of best.members) free.delete(m);
    }
  }

  /** A set of one and its nearest that are free, if they may share one. */
  #around(i: number, free: ReadonlySet<number>): Column | null {
    const members = [i];
    for (const j of [...free]
      .filter((k) => k !== i && this.#at(i, k) <= this.scales.limit)
      .sort((a, b) => this.#at(i, a) - this.#at(i, b))) {
      if (members.every((m) => this.#at(m, j) <= this.scales.limit)) members.push(j);
      if (members.length === this.size)
        return this.#columns(members.sort((a, b) => a - b))[0] ?? null;
    }
    return null;
  }

  /** Takes some neighbouring sets and leftovers apart and solves them again; false when nothing is left to try. */
  improve(): boolean {
    const n = this.candidates.length;
    const centre = (this.#turn * 7919) % n;
    this.#turn++;
    const near = Array.from({ length: n }, (_, j) => j).sort(
      (a, b) => this.#at(centre, a) - this.#at(centre, b),
    );
    const most = this.size <= 3 ? 18 : 16;
    const part = new Set<number>();
    const opened = new Set<Column>();
    for (const j of near) {
      const set = this.#best.find((s) => s.members.includes(j));
      const adds = set ? set.members.filter((m) => !part.has(m)) : [j];
      if (part.size + adds.length > most) break;
      for (const m of adds) part.add(m);
      if (set) opened.add(set);
    }
    const among = [...part].sort((a, b) => a - b);
    const { chosen } = packSets(this.#columns(among), n);
    if (worthOfSets(chosen) > worthOfSets([...opened]) + EPS)
      this.#best = [...this.#best.filter((s) => !opened.has(s)), ...chosen];
    if (worthOfSets(this.#best) >= this.#bound - EPS) {
      this.#proven = true;
      return false;
    }
    return this.#turn < 40 * n;
  }

  result(scales: SetScales): Partition {
    const used = new Set(this.#best.flatMap((s) => s.members));
    const worth = worthOfSets(this.#best);
    return {
      sets: this.#best.map(({ members }) => {
        const distances = members.flatMap((a, i) =>
          members.slice(i + 1).map((b) => this.#at(a, b)),
        );
        return {
          members: members.map((m) => this.candidates[m] as Candidate),
          apart: distances.reduce((a, b) => a + b, 0) / distances.length,
          worst: Math.max(...distances),
        };
      }),
      leftOver: this.candidates.flatMap((candidate, i) =>
        used.has(i) ? [] : [{ candidate, because: this.#why(i, used, scales) }],
      ),
      worth,
      bound: Math.max(worth, this.#bound),
      proven: this.#proven,
    };
  }

  /** Why one is left over. */
  #why(i: number, used: ReadonlySet<number>, { limit }: SetScales): string {
    const n = this.candidates.length;
    if (n < this.size)
      return n === 1
        ? 'The only one of its model.'
        : `Only ${n} of its model; a set takes ${this.size}.`;
    const close = Array.from({ length: n }, (_, j) => j).filter(
      (j) => j !== i && this.#at(i, j) <= limit,
    );
    if (close.length < this.size - 1) {
      const [nearest] = Array.from({ length: n }, (_, j) => j)
        .filter((j) => j !== i)
        .sort((a, b) => this.#at(i, a) - this.#at(i, b));
      return `Too far from the others: ${this.#furthest(i, nearest as number)}.`;
    }
    return close.every((j) => used.has(j))
      ? 'Those it would go with are closer to each other.'
      : `Fewer than ${this.size} that are alike are left.`;
  }

  /** In what two differ most. */
  #furthest(i: number, j: number): string {
    const [a, b] = [this.candidates[i] as Candidate, this.candidates[j] as Candidate];
    const { scales } = this;
    const ways: [number, string][] = [
      [
        Math.abs(a.ageYears - b.ageYears) / scales.ageYears,
        `its age, ${a.ageYears.toFixed(1)} years against ${b.ageYears.toFixed(1)}`,
      ],
      [
        Math.abs(a.capacityAh - b.capacityAh) /
          ((a.capacityAh + b.capacityAh) / 2) /
          scales.capacity,
        `its capacity, ${a.capacityAh.toFixed(1)} Ah against ${b.capacityAh.toFixed(1)}`,
      ],
      [
        Math.abs(a.restV - b.restV) / scales.restV,
        `its rest voltage, ${a.restV.toFixed(2)} V against ${b.restV.toFixed(2)}`,
      ],
    ];
    const both = resistances(a, b);
    if (both) {
      const [x, y] = both;
      ways.push([
        Math.abs(x - y) / ((x + y) / 2) / scales.resistance,
        `its resistance, ${x.toFixed(1)} mΩ against ${y.toFixed(1)}`,
      ]);
    }
    return (ways.sort((x, y) => y[0] - x[0])[0] as [number, string])[1];
  }
}
