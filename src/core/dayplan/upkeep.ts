import type { BatteryModel } from '../batteries/model.ts';
import { procedureFor } from '../catalogue/catalogue.ts';
import type { Job } from '../job/job.ts';
import { jobPlan } from '../plan/plan.ts';
import type { Moment } from '../quantities/moment.ts';
import { momentOnDay, onTheWall } from '../quantities/zonedTime.ts';
import { openJob } from '../steps/openJob.ts';
import type { StockStanding } from '../storage/stock.ts';
import { activitiesOf } from './activities.ts';
import type { Activity, Hands, Minute, Way, Work } from './problem.ts';
import type { PlannedShop } from './plannedShop.ts';

/** What the shop owes its stock and its suppliers, as a day plan meets it. */
export interface Upkeep {
  /** What stands on the shelf and is not in process. */
  shelf: readonly { standing: StockStanding; model: BatteryModel }[];
  /** Claims that are not sent yet, and the last day for it, YYYY-MM-DD. */
  claims: readonly { id: string; tag: string; sendBy: string }[];
  /** Owners to be asked for their service this season, and since when; null between seasons. */
  services: { count: number; from: string; name: string } | null;
}

const MINUTE_MS = 60_000;
const DAY_MIN = 1440;
/** A round: the way there, and each battery on it, min. Bench experience. */
const ROUND_MIN = 5;
const ROUND_EACH_MIN = 2;
/** A claim is read over, its pictures chosen, and sent, min. */
const CLAIM_MIN = 15;
/** One owner is called, min; and the most that is called in one go. */
const CALL_MIN = 3;
const MOST_CALLS_MIN = 45;
/** So many recharges are planned at once, the most urgent; the others come as these are done. */
const MOST_RECHARGES = 40;

/**
 * Recharges that fall due, rounds of the shelf, claims to be sent: each not before its day, and nobody waits at the counter.
 *
 * @param now minute 0
 * @param ways how a battery of a model may be recharged
 */
export function upkeepWorks(
  { shelf, claims, services }: Upkeep,
  shop: PlannedShop,
  now: Moment,
  horizon: Minute,
  ways: (job: Job) => readonly Way[],
): Work[] {
  const { timeZone, hours } = shop.rules;
  const minuteOf = (at: Moment): Minute => Math.ceil((at - now) / MINUTE_MS);
  /** When the shop opens on the day of a moment; now, where that is over. */
  const opensOn = (at: Moment): Minute =>
    Math.max(
      0,
      minuteOf(momentOnDay(onTheWall(Math.max(at, now), timeZone).date, hours.from, timeZone)),
    );
  return [...recharges(), ...rounds(), ...sendings(), ...calls()];

  function recharges(): Work[] {
    return shelf
      .filter(({ standing }) => minuteOf(standing.rechargeAt) < horizon)
      .toSorted((a, b) => a.standing.rechargeAt - b.standing.rechargeAt)
      .slice(0, MOST_RECHARGES)
      .flatMap(({ standing, model }): Work[] => {
        const { tag, batteryId } = standing.item;
        const job = openJob(
          procedureFor(model.kind, 'recharge'),
          jobPlan(model, shop.rules, 'recharge'),
          now,
          'day plan',
        );
        const activities = activitiesOf(job, now, shop, null, ways);
        return [
          {
            ...noPromise(`recharge ${batteryId}`, 'recharge', tag, 'Shelf'),
            activities: notBefore(activities, opensOn(standing.rechargeAt)),
          },
        ];
      });
  }

  function rounds(): Work[] {
    const byDay = new Map<Minute, number>();
    for (const { standing } of shelf) {
      if (minuteOf(standing.checkAt) >= horizon || standing.wants === 'charge') continue;
      const from = opensOn(standing.checkAt);
      byDay.set(from, (byDay.get(from) ?? 0) + 1);
    }
    return [...byDay].map(([from, count]) => ({
      ...noPromise(`round ${from}`, 'round', 'Shelf', 'Round of the shelf'),
      activities: [
        hands(
          `read ${count} on the shelf`,
          Math.min(DAY_MIN / 4, ROUND_MIN + count * ROUND_EACH_MIN),
          from,
        ),
      ],
    }));
  }

  function calls(): Work[] {
    if (!services || services.count === 0) return [];
    const { count, name, from } = services;
    return [
      {
        ...noPromise(`services ${from}`, 'services', 'Services', `Service of ${name}`),
        activities: [
          hands(
            `ask for ${count === 1 ? 'one battery' : `${count} batteries`}`,
            Math.min(MOST_CALLS_MIN, count * CALL_MIN),
            0,
          ),
        ],
      },
    ];
  }

  function sendings(): Work[] {
    return claims.flatMap(({ id, tag, sendBy }): Work[] => {
      const at = minuteOf(momentOnDay(sendBy, hours.to, timeZone));
      if (at >= horizon) return [];
      return [
        {
          ...noPromise(`claim ${id}`, 'claim', tag, 'Claim to be sent'),
          promise: { at, weight: 1 },
          activities: [hands('send the claim', CLAIM_MIN, 0)],
        },
      ];
    });
  }
}

const noPromise = (
  id: string,
  of: Work['of'],
  tag: string,
  whose: string,
): Omit<Work, 'activities'> => ({ id, of, tag, whose, promise: null });

const hands = (what: string, minutes: Minute, least: Minute): Hands => ({
  kind: 'hands',
  stepIds: [],
  what,
  minutes,
  lead: false,
  tool: null,
  gap: { least, most: null },
});

/** The first of them waits for its day. */
const notBefore = ([first, ...others]: readonly Activity[], from: Minute): Activity[] =>
  first
    ? [{ ...first, gap: { least: Math.max(first.gap.least, from), most: null } }, ...others]
    : [];
