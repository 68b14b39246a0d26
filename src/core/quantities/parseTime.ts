/**
 * A time of day as people type it, by either clock: `14:05`, `1405`, `2 pm`, `2:05pm`, `2.05 p.m.`, `14`.
 *
 * @returns minutes after midnight, or null when it is no time
 */
export function parseTimeOfDay(text: string): number | null {
  const match = /^(\d{1,2})(?:[:.h ]?(\d{2}))?\s*(?:([ap])\.?\s?m\.?)?$/.exec(
    text.trim().toLowerCase(),
  );
  if (!match) return null;
  const [, hours = '', minutes = '0', half] = match;
  const [hour, minute] = [Number(hours), Number(minutes)];
  if (minute > 59) return null;
  if (half === undefined) return hour > 23 ? null : hour * 60 + minute;
  if (hour < 1 || hour > 12) return null;
  return ((hour % 12) + (half === 'p' ? 12 : 0)) * 60 + minute;
}
