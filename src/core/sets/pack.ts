/** A set under consideration: members by number, and what it is worth. */
export interface Column {
  members: readonly number[];
  worth: number;
}
const MOST_NODES = 400_000;
const SUBGRADIENT_STEPS = 300;
export const EPS = 1e-9;

export const worthOfSets = (sets: readonly Column[]): number =>
  sets.reduce((sum, s) => sum + s.worth, 0);

/**
 * Sets that share no member, worth most together (weighted set packing). Prices of the members (Lagrange multipliers)
 * bound what any choice can be worth; sets that cannot pay their price are dropped, and the rest is searched.
 *
 * @param n members are numbered below this
 */
export function packSets(
  columns: readonly Column[],
  n: number,
): { chosen: Column[]; bound: number; proven: boolean } {
  let best = greedy(columns);
  if (columns.length === 0) return { chosen: [], bound: 0, proven: true };
  const { prices, bound } = priced(columns, n, (chosen) => {
    if (worthOfSets(chosen) > worthOfSets(best)) best = chosen;
  });
  const reduced = (c: Column): number =>
    c.worth - c.members.reduce((sum, m) => sum + (prices[m] as number), 0);
  // A set whose price exceeds its worth by more than the gap is in no better choice.
  const open = columns.filter((c) => bound + Math.min(0, reduced(c)) > worthOfSets(best) + EPS);
  const gain = open.reduce((sum, c) => sum + Math.max(0, reduced(c)), 0);
  const byMember = Array.from({ length: n }, () => [] as { column: Column; reduced: number }[]);
  for (const column of open)
    for (const m of column.members)
      (byMember[m] as { column: Column; reduced: number }[]).push({
        column,
        reduced: reduced(column),
      });
  for (const list of byMember) list.sort((a, b) => b.reduced - a.reduced);
  const members = [...new Set(open.flatMap((c) => c.members))].sort(
    (a, b) => (byMember[a]?.length ?? 0) - (byMember[b]?.length ?? 0),
  );
  const taken = new Uint8Array(n);
  const chosen: Column[] = [];
  let worth = 0;
  let nodes = 0;
  const search = (at: number, price: number): void => {
    if (nodes++ > MOST_NODES) return;
    if (worth > worthOfSets(best) + EPS) best = [...chosen];
    let k = at;
    while (k < members.length && taken[members[k] as number]) k++;
    const member = members[k];
    if (member === undefined) return;
    // Whatever is chosen of the rest is worth no more than the prices of those still free, and what sets gain on them.
    if (worth + price + gain <= worthOfSets(best) + EPS) return;
    for (const { column } of byMember[member] ?? []) {
      if (column.members.some((m) => taken[m])) continue;
      for (const m of column.members) taken[m] = 1;
      chosen.push(column);
      worth += column.worth;
      search(k + 1, price - column.members.reduce((sum, m) => sum + (prices[m] as number), 0));
      worth -= column.worth;
      chosen.pop();
      for (const m of column.members) taken[m] = 0;
    }
    taken[member] = 1;
    search(k + 1, price - (prices[member] as number));
    taken[member] = 0;
  };
  search(
    0,
    members.reduce((sum, m) => sum + (prices[m] as number), 0),
  );
  const proven = nodes <= MOST_NODES;
  return {
    chosen: best,
    bound: proven ? worthOfSets(best) : Math.max(bound, worthOfSets(best)),
    proven,
  };
}

function greedy(columns: readonly Column[], by: (c: Column) => number = (c) => c.worth): Column[] {
  const used = new Set<number>();
  return [...columns]
    .sort((a, b) => by(b) - by(a))
    .filter((c) => {
      if (c.worth <= 0 || c.members.some((m) => used.has(m))) return false;
      for (const m of c.members) used.add(m);
      return true;
    });
}

/** Prices of the members that bound the worth most tightly (subgradient steps), and that bound. */
function priced(
  columns: readonly Column[],
  n: number,
  offer: (chosen: Column[]) => void,
): { prices: Float64Array; bound: number } {
  const size = columns[0]?.members.length ?? 1;
  let prices = new Float64Array(n);
  for (const c of columns)
    for (const m of c.members) prices[m] = Math.max(prices[m] as number, c.worth / size);
  let best = { prices, bound: Infinity };
  let target = 0;
  let stride = 1;
  const slack = new Float64Array(n);
  for (let step = 0; step < SUBGRADIENT_STEPS; step++) {
    let bound = 0;
    slack.fill(1);
    for (let m = 0; m < n; m++) bound += prices[m] as number;
    for (const c of columns) {
      let reduced = c.worth;
      for (const m of c.members) reduced -= prices[m] as number;
      if (reduced <= 0) continue;
      bound += reduced;
      for (const m of c.members) slack[m] = (slack[m] as number) - 1;
    }
    if (bound < best.bound - EPS) best = { prices: prices.slice(), bound };
    else if (step % 10 === 9) stride *= 0.8;
    if (step % 25 === 0) {
      const now = prices;
      const chosen = greedy(
        columns,
        (c) => c.worth - 0.999 * c.members.reduce((sum, m) => sum + (now[m] as number), 0),
      );
      target = Math.max(target, worthOfSets(chosen));
      offer(chosen);
    }
    let norm = 0;
    for (let m = 0; m < n; m++)
      if ((prices[m] as number) > 0 || (slack[m] as number) < 0) norm += (slack[m] as number) ** 2;
    if (norm < EPS || bound - target < EPS) break;
    const move = (stride * (bound - target)) / norm;
    prices = prices.map((p, m) => Math.max(0, p - move * (slack[m] as number)));
  }
  return best;
}
