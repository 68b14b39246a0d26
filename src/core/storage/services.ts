import type { HouseRules } from '../house/rules.ts';
import type { Moment } from '../quantities/moment.ts';
import { momentOnDay, onTheWall } from '../quantities/zonedTime.ts';

/** The service twice a year, before the cold and before the heat: whose batteries are to be asked in. */

/** A battery in its owner's hands that has not been in for long. */
export interface ServiceDue {
  tag: string;
  owner: string;
  modelCode: string;
  /** When it was last handed over. */
  since: Moment;
}

/** The time in which batteries are asked in. */
export interface ServiceSeason {
  /** YYYY-MM-DD. */
  from: string;
  begins: Moment;
  /** `March`. */
  name: string;
  /** Batteries handed over later need none yet; those handed over before the second moment are taken as gone. */
  freshFrom: Moment;
  goneBefore: Moment;
}

/** A season lasts so many months; who has not come by then comes with the next one. Usual care. */
const SEASON_MONTHS = 2;
const DAY_MS = 86_400_000;
const FRESH_MS = 90 * DAY_MS;
const GONE_MS = 4 * 365.25 * DAY_MS;

/** The season that a moment lies in; null between two of them, and where the shop has none. */
export function serviceSeason(
  { serviceMonths, timeZone }: Pick<HouseRules, 'serviceMonths' | 'timeZone'>,
  now: Moment,
): ServiceSeason | null {
  const [year, month] = onTheWall(now, timeZone).date.split('-').map(Number) as [number, number];
  for (let back = 0; back < SEASON_MONTHS; back++) {
    const began = ((month - 1 - back + 12) % 12) + 1;
    if (!serviceMonths.includes(began)) continue;
    const from = `${began > month ? year - 1 : year}-${String(began).padStart(2, '0')}-01`;
    const begins = momentOnDay(from, 0, timeZone);
    return {
      from,
      begins,
      name: new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone }).format(begins),
      freshFrom: begins - FRESH_MS,
      goneBefore: now - GONE_MS,
    };
  }
  return null;
}
