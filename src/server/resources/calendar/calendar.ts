import { randomBytes, timingSafeEqual } from 'node:crypto';
import ical, { ICalCalendarMethod } from 'ical-generator';
import { handsAt } from '../../../core/house/hours.ts';
import { nextHand } from '../../../core/procedures/hands.ts';
import { settle } from '../../../core/procedures/settle.ts';
import { readyAt } from '../../../core/procedures/timeline.ts';
import { standingOf } from '../../../core/storage/stock.ts';
import { type Context, readRules } from '../../context.ts';
import { HttpProblem } from '../../http/problem.ts';
import { benchJobs, procedureOf } from '../jobs/jobs.ts';
import { shelfItems } from '../shelf/shelf.ts';

/** Due times as a feed that a calendar can follow. */

const TOKEN = 'calendarToken';
const HANDS_MINUTES = 10;
const DAY_MS = 86_400_000;
/** The shelf is told this far ahead. */
const SHELF_DAYS = 60;

/** The feed's own token, made once: who has the address may read when hands are due, and nothing else. */
export async function calendarToken({ store }: Context): Promise<string> {
  const kept = (await store.tables.settings.findByPk(TOKEN))?.value;
  if (typeof kept === 'string') return kept;
  const token = randomBytes(18).toString('base64url');
  await store.write((transaction) => store.tables.settings.upsert({ key: TOKEN, value: token }, { transaction }));
  return token;
}

/** @throws HttpProblem where the server is open to others and the token is not the feed's */
export async function calendarFeed(context: Context, token: string | undefined, guarded: boolean): Promise<string> {
  const { store, clock } = context;
  if (guarded || token !== undefined) {
    const wanted = Buffer.from(await calendarToken(context));
    const given = Buffer.from(token ?? '');
    if (given.length !== wanted.length || !timingSafeEqual(given, wanted))
      throw new HttpProblem(401, { code: 'forbidden', message: 'That is not the address of the feed.', fields: {} });
  }
  const now = clock.now();
  const rules = await readRules(store);
  const hands = handsAt(rules);
  const calendar = ical({
    name: `${rules.shopName}: hands`,
    prodId: { company: 'Cork Ember', product: 'Bench', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: 15 * 60,
  });
  for (const wire of await benchJobs(store, now)) {
    const job = settle({ procedure: await procedureOf(store, wire.procedureId), plan: wire.plan, state: wire.state }, now);
    const hand = nextHand(job, now);
    const { tag, owner, promisedAt } = wire.battery;
    if (hand?.dueAt)
      calendar.createEvent({
        id: `${wire.id}-hand`,
        start: new Date(hand.dueAt),
        end: new Date(hand.dueAt + HANDS_MINUTES * 60_000),
        stamp: new Date(now),
        summary: `${tag}: ${hand.title}`,
        description: `${wire.battery.modelCode}, for ${owner}.`,
      });
    const ready = readyAt(job, now, hands);
    if (ready !== null && promisedAt !== null)
      calendar.createEvent({
        id: `${wire.id}-promise`,
        start: new Date(promisedAt),
        end: new Date(promisedAt + HANDS_MINUTES * 60_000),
        stamp: new Date(now),
        summary: `${tag} promised to ${owner}`,
        description: ready > promisedAt ? 'It will be late by the plan.' : 'In time by the plan.',
      });
  }
  for (const item of await shelfItems(store)) {
    if (item.jobId !== null) continue;
    const { checkAt, rechargeAt, because } = standingOf(item, rules, now);
    for (const [kind, at, summary] of [
      ['check', checkAt, `${item.tag}: read it on the shelf`],
      ['recharge', rechargeAt, `${item.tag}: recharge, ${because}`],
    ] as const)
      if (at < now + SHELF_DAYS * DAY_MS)
        calendar.createEvent({ id: `${item.batteryId}-${kind}`, start: new Date(Math.max(at, now)), allDay: true, stamp: new Date(now), summary });
  }
  return calendar.toString();
}
