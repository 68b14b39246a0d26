import type { Hands, PlanProblem, Run, Watch, Way, Work } from '../../src/core/dayplan/problem.ts';
import { START } from './battery.ts';

/** A shop of one lead, two chargers and one of each tool, as cases of the day plan are made of. */

/** Open from minute 0 for ten hours, and again each day. */
const DAYS = [0, 1, 2, 3].map((d) => ({ from: d * 1440, to: d * 1440 + 600 }));

export function shop(works: Work[], changed: Partial<PlanProblem> = {}): PlanProblem {
  return {
    from: START,
    horizon: 4 * 1440,
    people: [{ id: 'ann', name: 'Ann', lead: true, there: DAYS }],
    posts: ['a', 'b'].map((id) => ({ id, name: id, about: '', out: [] })),
    tools: { 'load-tester': 1, 'discharge-load': 1, hydrometer: 1 },
    airM3h: 10,
    fuseA: 16,
    works,
    ...changed,
  };
}

export const way = (
  postId: string,
  watch: Watch,
  middle: number,
  changed: Partial<Way> = {},
): Way => ({
  postId,
  tool: null,
  watch,
  minutes: { low: 0.9 * middle, middle, high: middle },
  airM3h: 1,
  mainsA: 1,
  setting: '',
  ...changed,
});

export const charge = (ways: Way[], least = 0, most: number | null = null): Run => ({
  kind: 'run',
  stepIds: ['charge'],
  what: 'charge',
  ways,
  gap: { least, most },
});

export const hands = (minutes: number, changed: Partial<Hands> = {}): Hands => ({
  kind: 'hands',
  stepIds: ['x'],
  what: 'work',
  minutes,
  lead: false,
  tool: null,
  gap: { least: 0, most: null },
  ...changed,
});

export const work = (
  id: string,
  activities: Work['activities'],
  promise: number | null = null,
): Work => ({
  id,
  of: 'job',
  tag: id,
  whose: id,
  promise: promise === null ? null : { at: promise, weight: 1 },
  activities,
});
