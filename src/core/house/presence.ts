import type { Moment } from '../quantities/moment.ts';
import { daysLater, momentOnDay, onTheWall } from '../quantities/zonedTime.ts';
import type { HouseRules, WorkingHours } from './rules.ts';

/** From the first moment to before the last. */
export interface Stretch {
  from: Moment;
  to: Moment;
}

type Rules = Pick<HouseRules, 'hours' | 'timeZone' | 'closedOn' | 'personHours' | 'absences'>;

/**
 * When somebody is at the bench between two moments, by the clock on the shop's wall: their own hours where they have some, else
 * the shop's; without their break, their absences and the days on which the shop is closed. A shop open on no day has not said,
 * and is taken as open always.
 */
export function presenceOf(personId: string, rules: Rules, from: Moment, to: Moment): Stretch[] {
  const own = rules.personHours.find((h) => h.personId === personId);
  const away = rules.absences.filter((a) => a.personId === personId);
  const stretches = openOn(own ?? rules.hours, rules, from, to, (date) =>
    away.some((a) => a.from <= date && date <= a.to),
  );
  if (!own || own.breakMinutes <= 0) return stretches;
  return stretches.flatMap((s) => {
    const { date } = onTheWall(s.from, rules.timeZone);
    const pause = {
      from: momentOnDay(date, own.breakFrom, rules.timeZone),
      to: momentOnDay(date, own.breakFrom + own.breakMinutes, rules.timeZone),
    };
    return [
      { from: s.from, to: Math.min(s.to, pause.from) },
      { from: Math.max(s.from, pause.to), to: s.to },
    ].filter((part) => part.to > part.from);
  });
}

/** When the shop is open between two moments. */
export const openBetween = (rules: Rules, from: Moment, to: Moment): Stretch[] =>
  openOn(rules.hours, rules, from, to, () => false);

function openOn(
  hours: WorkingHours,
  { timeZone, closedOn, hours: shop }: Rules,
  from: Moment,
  to: Moment,
  away: (date: string) => boolean,
): Stretch[] {
  const always = !shop.days.includes(true);
  const stretches: Stretch[] = [];
  // A day earlier: one that runs past midnight began then.
  let { date, weekday } = onTheWall(from - 86_400_000, timeZone);
  for (;;) {
    const opens = momentOnDay(date, always ? 0 : hours.from, timeZone);
    if (opens >= to) return stretches;
    const closes = momentOnDay(date, always ? 1440 : hours.to, timeZone);
    const works = always || hours.days[weekday] === true;
    if (works && closes > from && !closedOn.includes(date) && !away(date))
      stretches.push({ from: Math.max(opens, from), to: Math.min(closes, to) });
    date = daysLater(date, 1);
    weekday = (weekday + 1) % 7;
  }
}
