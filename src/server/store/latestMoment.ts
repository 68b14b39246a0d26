import type { Store } from './store.ts';

/** Looked at to find the latest moment: so many of the last entries. */
const LAST = 1000;

/**
 * The latest moment on record, ms; 0 when there is none. Entries are logged as they happen, so it is among the last
 * of them. What was dated before the clock was put right does not count.
 */
export async function latestMoment({ tables }: Store): Promise<number> {
  const last = await tables.events.findAll({
    attributes: ['at', 'type'],
    order: [['seq', 'DESC']],
    limit: LAST,
    raw: true,
  });
  const set = last.findIndex((e) => e.type === 'clock.put-right');
  const since = set < 0 ? last : last.slice(0, set + 1);
  return Math.max(0, ...since.map((e) => e.at));
}
