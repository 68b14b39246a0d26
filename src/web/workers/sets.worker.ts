import { expose } from 'comlink';
import type { Candidate, Partition } from '../../core/sets/candidate.ts';
import { partition } from '../../core/sets/match.ts';
import type { SetScales } from '../../core/house/setScales.ts';
import { breathe } from './breathe.ts';

let turn = 0;
/** Spent on more candidates than can be proven, ms. */
const BUDGET_MS = 3500;

const api = {
  /** The best partition; `tell` hears of better ones on the way. Null when another was asked for meanwhile. */
  async match(
    candidates: Candidate[],
    size: number,
    scales: SetScales,
    tell: (best: Partition) => void,
  ): Promise<Partition | null> {
    turn += 1;
    const mine = turn;
    const work = partition(candidates, size, scales, BUDGET_MS, () => performance.now());
    let told = 0;
    for (;;) {
      const { value, done } = work.next();
      if (done) return value;
      if (performance.now() - told > 250) {
        told = performance.now();
        tell(value);
        await breathe();
        if (turn !== mine) return null;
      }
    }
  },

  cancel(): void {
    turn += 1;
  },
};

export type SetsWorker = typeof api;
expose(api);
