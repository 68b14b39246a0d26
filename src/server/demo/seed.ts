import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { BatteryModel } from '../../core/batteries/model.ts';
import { DEFAULT_RULES, type HouseRules } from '../../core/house/rules.ts';
import type { JobCommand, JobCommandType } from '../../core/job/commands.ts';
import type { Job } from '../../core/job/job.ts';
import { settle } from '../../core/steps/settle.ts';
import { BATTERY_FIELDS } from '../../core/exchange/imports.ts';
import { parseTable } from '../../contract/parseTable.ts';
import { matchColumns, readTable } from '../../core/exchange/table.ts';
import { type Purpose, stepOfKind } from '../../core/plan/procedure.ts';
import type { ImportedBattery } from '../../contract/asks.ts';
import type { LotKind, Person } from '../../contract/wire.ts';
import type { ChargerFacts } from '../../core/chargers/charger.ts';
import { chargerOptions } from '../../core/chargers/fit.ts';
import { CHARGER_TEMPLATES } from '../../core/chargers/templates.ts';
import { chargerNeed } from '../../core/recovery/chargerNeed.ts';
import { addCharger, changeCharger, shopChargers } from '../resources/chargers/chargers.ts';
import { Changes } from '../http/changes.ts';
import { type Context, writeRules } from '../context.ts';
import { openJobFor, takeIn, placeBattery } from '../resources/batteries/batteries.ts';
import { importBatteries } from '../resources/exchange/imports.ts';
import { CLOCK } from '../../core/job/signers.ts';
import { jobWire } from '../resources/jobs/jobWires.ts';
import { procedureOf, recordInJob, sendCommand, readJob } from '../resources/jobs/jobs.ts';
import { readOnShelf, shelfItems } from '../resources/shelf/shelf.ts';
import { addLot } from '../resources/wetroom/lots.ts';
import type { Store } from '../store/store.ts';
import { seedPapers } from './papers.ts';
import { commandOf, foreseen, readStoryLine, type StoryLine } from './storyteller.ts';

interface ShopFile {
  start: string;
  rules: Omit<HouseRules, 'schools'>;
  people: Person[];
}

interface BenchStory {
  tag: string;
  model: string;
  owner: string;
  dateCode: string;
  /** Who sold it; absent where nobody asked. */
  supplier?: string;
  /** Minutes from the demo's start; null for shelf stock. */
  promised: number | null;
  /** A tray of so many, its tags running on; each line is told of every one of them. */
  count?: number;
  purpose?: Purpose;
  by: string;
  story: string[];
  /** Charged on the instrument of a place from that minute on. */
  live?: { minute: number; place: number; mischief?: { what: string; from: number; to: number } };
}

interface PastBattery {
  tag: string;
  model: string;
  owner: string;
  supplier: string;
  dateCode: string;
  daysAgo: number;
  by: string;
  restV: number;
  loadV: number;
  temperatureC: number;
  destination: 'customer' | 'shelf' | 'claim' | 'recover';
}

const ASKED: ReadonlySet<JobCommandType> = new Set([
  'matchPack',
  'matchAcid',
  'topUp',
  'confirmDone',
  'endCharge',
]);
const MINUTE_MS = 60_000;
const DAY_MINUTES = 1440;

const readJson = async <T>(folder: URL, name: string): Promise<T> =>
  JSON.parse(await readFile(new URL(name, folder), 'utf8')) as T;

/** When the demo begins, ms. */
export async function demoStart(folder: URL): Promise<number> {
  return Date.parse((await readJson<ShopFile>(folder, 'shop.json')).start);
}

/** A charge the demo's rack is to have begun before the demo's hour. */
export interface LiveStory {
  jobId: string;
  stepId: string;
  by: string;
  place: number;
  at: number;
  /** What the stand-in does wrong meanwhile. */
  mischief?: { what: string; from: number; to: number };
}

/** Loads the demo shop into an empty store by playing its stories, oldest first; what its instruments did is left to {@link seedLive}. */
export async function seedDemo(store: Store, folder: URL): Promise<LiveStory[]> {
  const shop = await readJson<ShopFile>(folder, 'shop.json');
  const models = await readJson<Partial<BatteryModel>[]>(folder, 'models.json');
  const stories = [
    ...(await readJson<PastBattery[]>(folder, 'history.json')).map(storyOfPast),
    ...(await readJson<BenchStory[]>(folder, 'bench.json')),
    ...(await readJson<BenchStory[]>(folder, 'recovery.json')),
  ];
  const start = Date.parse(shop.start);
  const blank = {
    kind: 'agm-dry',
    cca: null,
    ccaStandard: null,
    fillSg: null,
    chargeA: null,
    ceilingV: null,
    dwellS: null,
    soakS: null,
    passV: null,
    electrolyteCode: null,
    electrolyteMl: null,
    caps: null,
  };

  await store.write(async (transaction) => {
    await writeRules(store, { ...DEFAULT_RULES, ...shop.rules }, transaction);
    await store.tables.people.bulkCreate(
      shop.people.map((person) => ({
        ...person,
        active: true,
        pinHash: null,
        calendarToken: null,
      })),
      { transaction },
    );
    await store.tables.models.bulkCreate(
      models.map((m) => ({ id: randomUUID(), ...blank, ...m })) as never[],
      { transaction },
    );
  });

  let now = start;
  const context: Context = {
    store,
    changes: new Changes(),
    clock: { now: () => now, passed: () => now, rate: 1, demo: true, setRate: () => undefined },
  };
  const known = await store.tables.models.findAll({ raw: true });
  await seedStock(context, folder, start, (at) => (now = at));
  now = start - 400 * DAY_MINUTES * MINUTE_MS;
  const breakdowns = await seedChargers(context, folder);
  const jobs = new Map<string, string[]>();
  const acts = stories.flatMap((battery) => {
    const lines = battery.story.flatMap(readStoryLine);
    const takenIn: StoryLine = { minute: (lines[0]?.minute ?? 0) - 4, verb: 'taken-in', words: [] };
    return [takenIn, ...lines].map((line) => ({ battery, line }));
  });
  acts.sort((a, b) => a.line.minute - b.line.minute);

  for (const { battery, line } of acts) {
    now = start + line.minute * MINUTE_MS;
    const by = line.verb === 'lead' ? 'greta' : battery.by;
    const write = () => ({ commandId: randomUUID(), by });
    if (line.verb === 'taken-in') {
      const { tag, dateCode, owner, supplier, purpose = 'commission', count = 1 } = battery;
      const modelId = known.find((m) => m.code === battery.model)?.id ?? '';
      const promisedAt = battery.promised === null ? null : start + battery.promised * MINUTE_MS;
      const onRecord = await store.tables.batteries.count({ where: { tag } });
      const jobIds = onRecord
        ? [(await openJobFor(context, tag, { ...write(), purpose, promisedAt })).jobId]
        : (
            await takeIn(context, {
              ...write(),
              purpose,
              count,
              tag,
              modelId,
              dateCode,
              owner,
              promisedAt,
              ...(supplier ? { supplier } : {}),
            })
          ).jobIds;
      jobs.set(tag, jobIds);
      continue;
    }
    // A charge on a place is told for the first of a tray; the others take the places after it.
    while (breakdowns[0] && breakdowns[0].minute <= line.minute) await breakdowns.shift()?.happen();
    for (const [i, jobId] of (jobs.get(battery.tag) ?? []).entries()) {
      const wire = await jobWire(store, jobId);
      const job: Job = settle(
        {
          procedure: await procedureOf(store, wire.procedureId),
          plan: wire.plan,
          state: wire.state,
        },
        now,
      );
      if (line.verb === 'foresaw') {
        const forecast = foreseen(line, job, now);
        await recordInJob(
          context,
          jobId,
          now,
          () => (forecast ? [{ type: 'forecast.made', forecast }] : []),
          CLOCK,
        );
        continue;
      }
      const told = commandOf(line, job);
      // What its people wrote down then was asked about then.
      const command = ASKED.has(told.type) ? ({ ...told, sure: true } as JobCommand) : told;
      try {
        await sendCommand(context, jobId, {
          ...write(),
          command:
            command.type === 'startCharge'
              ? {
                  ...command,
                  place: command.place + i,
                  ...(await onCharger(store, line.words[1], job)),
                }
              : command,
        });
      } catch (error) {
        throw new Error(
          `${battery.tag} at ${line.minute} min, ${line.verb}: ${(error as Error).message}`,
          { cause: error },
        );
      }
    }
  }
  // Twelve to a rack, six to a shelf of it, oldest first.
  for (const [i, { tag }] of (await shelfItems(store)).entries())
    await placeBattery(context, tag, {
      commandId: randomUUID(),
      by: 'greta',
      place: `Rack ${'ABCD'[Math.floor(i / 12)] ?? 'E'} ${Math.floor((i % 12) / 6) + 1}`,
    });
  await seedPapers(context, folder, (minute) => (now = start + minute * MINUTE_MS));
  const momentAt = (minute: number) => start + minute * MINUTE_MS;
  const toRun: LiveStory[] = [];
  for (const { tag, by, live } of stories) {
    if (!live) continue;
    const jobId = jobs.get(tag)?.[0] ?? '';
    const { procedure } = await readJob(store, jobId);
    const mischief = live.mischief && {
      ...live.mischief,
      from: momentAt(live.mischief.from),
      to: momentAt(live.mischief.to),
    };
    toRun.push({
      jobId,
      stepId: stepOfKind(procedure, 'charge')?.id ?? '',
      by,
      place: live.place,
      at: momentAt(live.minute),
      ...(mischief ? { mischief } : {}),
    });
  }
  return toRun;
}

/** What stood on the shelf before: a table brought in, the rounds read since, and the electrolyte in stock. */
async function seedStock(
  context: Context,
  folder: URL,
  start: number,
  setNow: (at: number) => void,
): Promise<void> {
  const table = async (name: string) => parseTable(await readFile(new URL(name, folder)), 1000);
  const { headings, rows } = await table('stock.csv');
  const stock = readTable(
    rows,
    BATTERY_FIELDS,
    matchColumns(headings, BATTERY_FIELDS),
    'UTC',
    'tag',
  );
  if (stock.faults[0])
    throw new Error(`stock.csv, row ${stock.faults[0].row}: ${stock.faults[0].message}`);
  const rounds = (await table('rounds.csv')).rows.map(
    ([at = '', tag = '', volts = '', by = '']) => ({
      at: Date.parse(at),
      tag,
      voltageV: Number(volts),
      by,
    }),
  );
  const write = (by: string) => ({ commandId: randomUUID(), by });
  // The table came in after its newest reading; rounds walked before that were typed in from paper then.
  setNow(Math.max(...stock.rows.map((r) => r.values['readAt'] as number)) + 3_600_000);
  await importBatteries(context, {
    ...write('greta'),
    batteries: stock.rows.map((r) => r.values as unknown as ImportedBattery),
  });
  const tableIn = Math.max(...stock.rows.map((r) => r.values['readAt'] as number)) + 3_600_000;
  for (const { expires, added, ...lot } of await readJson<LotFile[]>(folder, 'lots.json')) {
    setNow(Date.parse(added));
    await addLot(context, {
      ...write('greta'),
      lot: {
        packCode: null,
        sg: null,
        ...lot,
        expiresAt: expires === null ? null : Date.parse(expires),
      },
    });
  }
  for (const { at, tag, voltageV, by } of rounds.sort((a, b) => a.at - b.at)) {
    setNow(Math.max(at, tableIn));
    await readOnShelf(context, tag, { ...write(by), voltageV, takenAt: at });
  }
  setNow(start);
}

/** A line of `chargers.json`: a template under its own name, and what differs from it. */
interface ChargerFile extends Partial<ChargerFacts> {
  template: string;
  name: string;
  /** When it went out of order, in minutes from the demo's start. */
  outOfOrderAt?: number;
}

/** The wall of chargers as the shop wrote it down; what broke down since is left to happen in its time, soonest first. */
async function seedChargers(
  context: Context,
  folder: URL,
): Promise<{ minute: number; happen: () => Promise<unknown> }[]> {
  const signed = () => ({ commandId: randomUUID(), by: 'greta' });
  const breakdowns: { minute: number; happen: () => Promise<unknown> }[] = [];
  for (const { template, outOfOrderAt, ...own } of await readJson<ChargerFile[]>(
    folder,
    'chargers.json',
  )) {
    const known = CHARGER_TEMPLATES.find((t) => t.key === template);
    if (!known) throw new Error(`No charger template ${template}.`);
    const charger: ChargerFacts = { ...known.facts, ...own };
    const { id } = await addCharger(context, { ...signed(), charger });
    if (outOfOrderAt !== undefined)
      breakdowns.push({
        minute: outOfOrderAt,
        happen: () =>
          changeCharger(context, id, {
            ...signed(),
            charger: { ...charger, standing: 'out-of-order' },
          }),
      });
  }
  return breakdowns.sort((a, b) => a.minute - b.minute);
}

/** The charger a story names by the first letter of its sticker, as it is best set for the battery. */
async function onCharger(
  store: Store,
  letter: string | undefined,
  job: Job,
): Promise<Pick<Extract<JobCommand, { type: 'startCharge' }>, 'charger'>> {
  if (letter === undefined) return {};
  const charger = (await shopChargers(store)).find((c) => c.name.startsWith(letter));
  if (!charger) throw new Error(`No charger ${letter}.`);
  const [option] = chargerOptions([charger], chargerNeed(job));
  return {
    charger: {
      id: charger.id,
      ...(option?.setting ? { setting: option.setting.name } : {}),
      ...(option?.program ? { program: option.program.name } : {}),
    },
  };
}

interface LotFile {
  code: string;
  kind: LotKind;
  packCode?: string;
  sg?: number;
  quantityMl: number;
  expires: string | null;
  added: string;
}

/** A battery of the past as a story: an ordinary day, its own results at the end. */
function storyOfPast(past: PastBattery): BenchStory {
  const t = -past.daysAgo * DAY_MINUTES - 420;
  const six = past.model.startsWith('LF-B') ? 0.5 : 1;
  const amps =
    {
      'LF-A4': 0.4,
      'LF-B6': 0.6,
      'LF-A8': 0.8,
      'LF-A12': 1.2,
      'LF-A14': 1.4,
      'LF-A18': 1.8,
      'LF-A20': 2,
      'LF-A30': 3,
    }[past.model] ?? 1;
  const read = (minute: number, volts: number, share: number) =>
    `${minute} read ${(volts * six).toFixed(2)} ${(amps * share).toFixed(2)} ${past.temperatureC + 3}`;
  // A sound fresh fill at a tenth of C20: at its ceiling within the hour, then the tail, read every hour until it no longer falls.
  const tail = [0.59, 0.34, 0.21, 0.145, 0.105, 0.08, 0.065, 0.06];
  const charge = (from: number) => [
    `${from} charge 1`,
    ...tail.map((share, i) => read(from + 60 * (i + 1), i === 0 ? 14.68 : 14.7, share)),
    `${from + 485} full`,
  ];
  const test = (from: number, restV: number) => [
    `${from} rest ${restV}`,
    `${from + 5} load ${past.loadV} ${past.temperatureC}`,
    `${from + 7} verdict`,
  ];
  const failed = past.destination === 'claim' || past.destination === 'recover';
  const story = [
    `${t} ok 6`,
    `${t + 70} ok`,
    ...charge(t + 195),
    `${t + 690} ok`,
    ...test(t + 755, past.restV),
  ];
  if (failed)
    story.push(
      ...charge(t + 765),
      ...test(t + 1325, past.restV + 0.02),
      `${t + 1335} lead ${past.destination} Failed twice, ${past.dateCode} stock`,
    );
  else story.push(`${t + 770} handover ${past.destination}`);
  return {
    tag: past.tag,
    model: past.model,
    owner: past.owner,
    supplier: past.supplier,
    dateCode: past.dateCode,
    promised: failed ? null : -past.daysAgo * DAY_MINUTES + 900,
    by: past.by,
    story,
  };
}
