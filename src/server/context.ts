import { createHash } from 'node:crypto';
import type { Transaction } from 'sequelize';
import type { MachineClock, Person } from '../contract/wire.ts';
import type { Write } from '../contract/asks.ts';
import type { ToldPlan } from '../core/dayplan/told.ts';
import { DEFAULT_RULES, type HouseRules } from '../core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../core/house/schools.ts';
import type { BenchClock } from './clock.ts';
import type { Changes } from './http/changes.ts';
import { conflict, invalid } from './http/problem.ts';
import type { LiveDesk } from './live/liveDesk.ts';
import type { Store } from './store/store.ts';

/** What every resource works with. */
export interface Context {
  store: Store;
  clock: BenchClock;
  changes: Changes;
  /** The charges on instruments: asked before a person's command is decided, told after. */
  live?: Pick<LiveDesk, 'before' | 'sync'>;
  /** The day plan that was made last, where one has been; and when it says a job is ready, null where it does not. */
  dayPlan?: () => ToldPlan | null;
  plannedReady?: (jobId: string) => number | null;
  /** The machine's clock, where it has parted from the bench's; a demo asks no machine. */
  machineClock?: () => MachineClock | null;
}

/** What is logged: what happened, and its facts. */
type Logged = { type: string } & Record<string, unknown>;

/** Who signs a write, when, in which transaction, and how it is written into the log; with its battery, where it has one. */
export interface Signed {
  by: Person;
  now: number;
  transaction: Transaction;
  log: (data: Logged, batteryId?: string | null) => Promise<void>;
}

/**
 * Carries out a write once. A retry with the same id gets the first answer; the same id with
 * another body is refused.
 */
export function once<B extends Write, R>(
  context: Context,
  body: B,
  work: (signed: Signed) => Promise<R>,
): Promise<R> {
  return onceUnsigned(context, body, async ({ now, transaction }) => {
    const by = await context.store.tables.people.findByPk(body.by, { transaction, raw: true });
    if (!by) throw invalid('by', 'Say who you are first.');
    if (!by.active) throw invalid('by', `${by.name} signs here no more.`);
    const hand = { at: now, by: by.id, commandId: body.commandId };
    return work({
      by,
      now,
      transaction,
      log: (data, batteryId = null) =>
        logEvent(context.store, { ...hand, batteryId }, data, transaction),
    });
  });
}

/** As {@link once}, for the one write that nobody can sign yet: a new shop's first person. */
export function onceUnsigned<R>(
  context: Context,
  body: { commandId: string },
  work: (moment: { now: number; transaction: Transaction }) => Promise<R>,
): Promise<R> {
  const { store, clock } = context;
  const bodyHash = createHash('sha256').update(JSON.stringify(body)).digest('base64url');
  return store.write(async (transaction) => {
    const before = await store.tables.commands.findByPk(body.commandId, { transaction, raw: true });
    if (before) {
      if (before.bodyHash !== bodyHash)
        throw conflict('That id was used for something else.', { commandId: 'Used already.' });
      return parsed(before.response) as R;
    }
    const now = clock.now();
    const response = await work({ now, transaction });
    await store.tables.commands.create(
      { id: body.commandId, at: now, bodyHash, response: response as object },
      { transaction },
    );
    return response;
  });
}

/** JSON columns come back from a raw query as text or as objects, depending on the driver. */
export function parsed(value: unknown): unknown {
  return typeof value === 'string' ? JSON.parse(value) : value;
}

const RULES = 'houseRules';

export async function readRules(store: Store, transaction?: Transaction): Promise<HouseRules> {
  const row = await store.tables.settings.findByPk(RULES, transaction ? { transaction } : {});
  // A new shop's clock is on the wall of the machine it runs on, until it says otherwise.
  if (row) {
    const kept = row.value as HouseRules;
    return { ...DEFAULT_RULES, ...kept, schools: { ...DEFAULT_SCHOOLS, ...kept.schools } };
  }
  return {
    ...DEFAULT_RULES,
    timeZone: new Intl.DateTimeFormat().resolvedOptions().timeZone,
    setUp: 'shop',
  };
}

/** Tells one text of the rules from another. */
export const rulesVersion = (rules: HouseRules): string =>
  createHash('sha256').update(JSON.stringify(rules)).digest('base64url').slice(0, 16);

export async function writeRules(
  store: Store,
  rules: HouseRules,
  transaction: Transaction,
): Promise<void> {
  await store.tables.settings.upsert({ key: RULES, value: rules }, { transaction });
}

/** Who did something when, by which command, and to which battery where it is about one. */
export interface LogHand {
  at: number;
  by: string;
  commandId: string;
  batteryId?: string | null;
}

/** Appends to the log what was done outside any job. */
export async function logEvent(
  store: Pick<Store, 'tables'>,
  { at, by, commandId, batteryId = null }: LogHand,
  data: Logged,
  transaction: Transaction,
): Promise<void> {
  await store.tables.events.create(
    { at, by, batteryId, jobId: null, commandId, type: data.type, data },
    { transaction },
  );
}
