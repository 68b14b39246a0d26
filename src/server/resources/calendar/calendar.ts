import { randomBytes } from 'node:crypto';
import { ICalAlarmType, ICalCalendarMethod, type ICalEventData } from 'ical-generator';
import type { CalendarAddress } from '../../../contract/asks.ts';
import { pageOfWork } from '../../../contract/pages.ts';
import { handsAt } from '../../../core/house/hours.ts';
import { personLines } from '../../../core/dayplan/personLines.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { nextHand } from '../../../core/watch/hands.ts';
import { settle } from '../../../core/steps/settle.ts';
import { leadsNowhere } from '../../../core/steps/stepsAhead.ts';
import { readyAt } from '../../../core/watch/timeline.ts';
import type { StockItem, StockStanding } from '../../../core/storage/stock.ts';
import { type Context, once, readRules } from '../../context.ts';
import { HttpProblem } from '../../http/problem.ts';
import { benchJobs } from '../jobs/jobWires.ts';
import { procedureOf } from '../jobs/jobs.ts';
import { shelfStandings } from '../shelf/shelf.ts';
import { feedFile } from './feedFile.ts';
import { onTheWall } from '../../../core/quantities/zonedTime.ts';

/** Due times as a feed that a calendar can follow. */

const HANDS_MINUTES = 10;
const DAY_MS = 86_400_000;
/** A calendar rings this long before: hands in time to walk over, a promise in time to do something about it. s */
const HANDS_ALARM_S = 5 * 60;
const PROMISE_ALARM_S = 2 * 3600;
/** The shelf is told this far ahead. */
const SHELF_DAYS = 60;

/** The address of a person's own feed: who has it may read when hands are due, and nothing else. It ends with a new one, and with the person. */
export async function calendarToken(context: Context, body: CalendarAddress): Promise<string> {
  const { people } = context.store.tables;
  return once(context, body, async ({ by, transaction }) => {
    const kept = (await people.findByPk(by.id, { raw: true, transaction }))?.calendarToken;
    if (kept && !body.renew) return kept;
    const token = randomBytes(18).toString('base64url');
    await people.update({ calendarToken: token }, { where: { id: by.id }, transaction });
    return token;
  });
}

/**
 * @param guarded open to other machines: only an address of somebody's own is answered
 * @param origin where the pages are reached from, for the link of each event
 * @throws HttpProblem where the address is nobody's
 */
export async function calendarFeed(
  context: Context,
  token: string | undefined,
  guarded: boolean,
  origin: string,
): Promise<string> {
  const { store, clock } = context;
  let owner: { id: string } | null = null;
  if (guarded || token !== undefined) {
    // Looked up by the whole of it: nothing is told of an address that is nearly right.
    owner = token
      ? await store.tables.people.findOne({
          where: { calendarToken: token, active: true },
          raw: true,
        })
      : null;
    if (!owner)
      throw new HttpProblem(401, {
        code: 'forbidden',
        message: 'That is not the address of a feed.',
        fields: {},
      });
  }
  const now = clock.now();
  const rules = await readRules(store);
  const hands = handsAt(rules);
  const events: ICalEventData[] = [];
  const tasks = owner && plannedTasks(context.dayPlan?.() ?? null, owner.id, now, origin);
  events.push(...(tasks ?? []));
  for (const wire of await benchJobs(store, now)) {
    const job = settle(
      { procedure: await procedureOf(store, wire.procedureId), plan: wire.plan, state: wire.state },
      now,
    );
    const { tag, owner, promisedAt } = wire.battery;
    const url = `${origin}/jobs/${wire.id}`;
    const add = (what: string, at: number, summary: string, description: string, alarmS: number) =>
      events.push({
        id: `${wire.id}-${what}`,
        start: new Date(at),
        end: new Date(at + HANDS_MINUTES * 60_000),
        stamp: new Date(now),
        summary,
        // The address again in the text: not every calendar shows an event's link.
        description: `${description}\n${url}`,
        url,
        alarms: [{ type: ICalAlarmType.display, triggerBefore: alarmS, description: summary }],
      });
    const hand = nextHand(job, now);
    // Whose tasks are planned has those, and not everybody's.
    if (hand?.dueAt && !tasks)
      add(
        'hand',
        hand.dueAt,
        `${tag}: ${hand.title}`,
        `${wire.battery.modelCode}, for ${owner}.`,
        HANDS_ALARM_S,
      );
    if (promisedAt === null) continue;
    const nowhere = leadsNowhere(job);
    const ready = context.plannedReady?.(wire.id) ?? readyAt(job, now, hands);
    if (nowhere !== null || ready !== null)
      add(
        'promise',
        promisedAt,
        `${tag} promised to ${owner}`,
        nowhere ??
          (Number(ready) > promisedAt ? 'It will be late by the plan.' : 'In time by the plan.'),
        PROMISE_ALARM_S,
      );
  }
  events.push(...shelfEvents(await shelfStandings(store, rules, now), rules, now, origin));
  return feedFile(
    {
      name: `${rules.shopName}: to do`,
      prodId: { company: 'Cork Ember', product: 'Bench', language: 'EN' },
      method: ICalCalendarMethod.PUBLISH,
      ttl: 15 * 60,
    },
    events,
  );
}

/** What one person does by the day plan; null where it plans nothing for them. */
function plannedTasks(
  plan: ToldPlan | null,
  personId: string,
  now: number,
  origin: string,
): ICalEventData[] | null {
  if (!plan?.people.some((p) => p.id === personId)) return null;
  const lines = personLines(plan).filter((l) => l.personId === personId);
  return lines.map((line, i) => {
    const [first] = line.works;
    const summary = `${line.works.map((w) => w.tag).join(', ')}: ${line.what}`;
    const page = first && line.works.length === 1 ? pageOfWork(first) : '/plan';
    const url = `${origin}${page}`;
    return {
      id: `plan-${personId}-${i}`,
      start: new Date(plan.from + line.from * 60_000),
      end: new Date(plan.from + line.to * 60_000),
      stamp: new Date(now),
      summary,
      description: `By the day plan.\n${url}`,
      url,
      alarms: [{ type: ICalAlarmType.display, triggerBefore: HANDS_ALARM_S, description: summary }],
    };
  });
}

/** What the shelf asks for, one event a day and kind: forty batteries to read on a Monday are one walk. */
function shelfEvents(
  shelf: readonly { item: StockItem; standing: StockStanding }[],
  rules: HouseRules,
  now: number,
  origin: string,
): ICalEventData[] {
  const walks = new Map<string, { day: string; kind: 'read' | 'recharge'; tags: string[] }>();
  for (const { item, standing } of shelf) {
    if (item.jobId !== null) continue;
    for (const [kind, at] of [
      ['read', standing.checkAt],
      ['recharge', standing.rechargeAt],
    ] as const) {
      if (at >= now + SHELF_DAYS * DAY_MS) continue;
      const day = onTheWall(Math.max(at, now), rules.timeZone).date;
      const walk = walks.get(`${kind} ${day}`) ?? { day, kind, tags: [] };
      walk.tags.push(item.tag);
      walks.set(`${kind} ${day}`, walk);
    }
  }
  return [...walks.values()].map(({ day, kind, tags }) => {
    const url = `${origin}${kind === 'read' ? '/shelf/round' : '/shelf'}`;
    const summary = `Shelf: ${kind} ${tags.length === 1 ? tags[0] : `${tags.length} batteries`}`;
    return {
      id: `shelf-${kind}-${day}`,
      start: new Date(`${day}T00:00:00Z`),
      allDay: true,
      stamp: new Date(now),
      summary,
      description: `${tags.sort().join(', ')}\n${url}`,
      url,
      // When the shop opens that day.
      alarms: [
        { type: ICalAlarmType.display, triggerAfter: rules.hours.from * 60, description: summary },
      ],
    };
  });
}
