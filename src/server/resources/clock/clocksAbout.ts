import { type ZoneClocks, zoneClocks } from '../../../core/quantities/zonedTime.ts';

/** So many years before this one and after it are told of. */
const YEARS = 3;

let known: { asked: string; clocks: ZoneClocks } | null = null;

/** The clocks of a zone some years about a moment; worked out once for a zone and a year. */
export function clocksAbout(timeZone: string, now: number): ZoneClocks {
  const year = new Date(now).getUTCFullYear();
  const asked = `${timeZone} ${year}`;
  if (known?.asked !== asked) {
    const [from, until] = [Date.UTC(year - YEARS, 0), Date.UTC(year + YEARS + 1, 0)];
    known = { asked, clocks: zoneClocks(timeZone, from, until) };
  }
  return known.clocks;
}
