/** `2026-03-10T14:05` as the clock on the wall of a time zone shows it. For date-time fields. */
export function wallTimeOf(at: number, timeZone: string): string {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).formatToParts(at);
  const part = (type: Intl.DateTimeFormatPartTypes) => parts.find((p) => p.type === type)?.value ?? '';
  return `${part('year')}-${part('month')}-${part('day')}T${part('hour')}:${part('minute')}`;
}

/**
 * The moment at which the wall clock of a time zone shows this. A time the zone skips in spring is
 * read as the one an hour later; of a time it has twice in autumn, the first.
 *
 * @returns ms since the epoch, or null when the text is no date and time
 */
export function momentOfWallTime(text: string, timeZone: string): number | null {
  const wanted = Date.parse(`${text}:00Z`);
  if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(text) || Number.isNaN(wanted)) return null;
  const offsetAt = (at: number) => Date.parse(`${wallTimeOf(at, timeZone)}:00Z`) - Math.floor(at / 60_000) * 60_000;
  const early = wanted - offsetAt(wanted - 86_400_000);
  const late = wanted - offsetAt(wanted + 86_400_000);
  if (wallTimeOf(early, timeZone) === text) return early;
  return wallTimeOf(late, timeZone) === text ? late : early;
}
