import { Op } from 'sequelize';
import { thinOldCharges } from '../live/samples.ts';
import type { Store } from './store.ts';

/** An answered write is remembered this long, so that a retry is answered again: longer than any page stays away. ms */
const RETRIES_FOR_MS = 90 * 86_400_000;
const YEAR_MS = 365.25 * 86_400_000;

export interface Tidied {
  commands: number;
  sessions: number;
  charges: number;
}

/**
 * Takes out what nobody will ask for again, and thins what is old: remembered answers, sessions that have run
 * out, samples of charges beyond the years the shop keeps in full. Events and readings are never touched.
 *
 * @param now bench time, ms
 * @param sessionsBefore sessions last seen before this moment of the machine's clock have run out, ms
 */
export async function tidy(
  store: Store,
  {
    now,
    sessionsBefore,
    samplesYears,
  }: { now: number; sessionsBefore: number; samplesYears: number },
): Promise<Tidied> {
  const { commands, sessions } = store.tables;
  const tidied = {
    commands: await store.write((transaction) =>
      commands.destroy({ where: { at: { [Op.lt]: now - RETRIES_FOR_MS } }, transaction }),
    ),
    sessions: await store.write((transaction) =>
      sessions.destroy({ where: { seenAt: { [Op.lt]: sessionsBefore } }, transaction }),
    ),
    charges: 0,
  };
  for (;;) {
    const thinned = await thinOldCharges(store, now - samplesYears * YEAR_MS);
    tidied.charges += thinned;
    if (thinned === 0) return tidied;
  }
}
