import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { BatteryModel } from '../../core/batteries/model.ts';
import { DEFAULT_RULES, type HouseRules } from '../../core/house/rules.ts';
import type { Job } from '../../core/procedures/job.ts';
import { settle } from '../../core/procedures/settle.ts';
import type { Person } from '../../contract/wire.ts';
import { Changes } from '../http/changes.ts';
import type { Context } from '../context.ts';
import { writeRules } from '../context.ts';
import { takeIn } from '../resources/batteries/batteries.ts';
import { jobWire, procedureOf, sendCommand } from '../resources/jobs/jobs.ts';
import type { Store } from '../store/store.ts';
import { commandOf, readStoryLine, type StoryLine } from './storyteller.ts';

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
  /** Minutes from the demo's start; null for shelf stock. */
  promised: number | null;
  by: string;
  story: string[];
  /** Charged on the instrument of a place from that minute on. */
  live?: { minute: number; place: number; mischief?: { what: string; from: number; to: number } };
}

interface PastBattery {
  tag: string;
  model: string;
  owner: string;
  dateCode: string;
  daysAgo: number;
  by: string;
  restV: number;
  loadV: number;
  temperatureC: number;
  destination: 'customer' | 'shelf' | 'claim' | 'recover';
}

const MINUTE_MS = 60_000;
const DAY_MINUTES = 1440;

const readJson = async <T>(folder: URL, name: string): Promise<T> => JSON.parse(await readFile(new URL(name, folder), 'utf8')) as T;

/** When the demo begins, ms. */
export async function demoStart(folder: URL): Promise<number> {
  return Date.parse((await readJson<ShopFile>(folder, 'shop.json')).start);
}

/** A charge the demo's rack is to have begun before the demo's hour. */
export interface LiveStory {
  jobId: string;
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
  const stories = [...(await readJson<PastBattery[]>(folder, 'history.json')).map(storyOfPast), ...(await readJson<BenchStory[]>(folder, 'bench.json'))];
  const start = Date.parse(shop.start);
  const blank = { kind: 'agm-dry', cca: null, ccaStandard: null, fillSg: null, chargeA: null, ceilingV: null, dwellS: null, soakS: null, passV: null };

  await store.write(async (transaction) => {
    await writeRules(store, { ...DEFAULT_RULES, ...shop.rules }, transaction);
    await store.tables.people.bulkCreate(shop.people, { transaction });
    await store.tables.models.bulkCreate(models.map((m) => ({ id: randomUUID(), ...blank, ...m })) as never[], { transaction });
  });

  let now = start;
  const context: Context = { store, changes: new Changes(), clock: { now: () => now, rate: 1, demo: true, setRate: () => undefined } };
  const known = await store.tables.models.findAll({ raw: true });
  const jobs = new Map<string, string>();
  const acts = stories.flatMap((battery) => {
    const lines = battery.story.flatMap(readStoryLine);
    const takenIn: StoryLine = { minute: (lines[0]?.minute ?? 0) - 4, verb: 'taken-in', words: [] };
    return [takenIn, ...lines].map((line) => ({ battery, line }));
  });
  acts.sort((a, b) => a.line.minute - b.line.minute);

  for (const { battery, line } of acts) {
    now = start + line.minute * MINUTE_MS;
    const write = { commandId: randomUUID(), by: line.verb === 'lead' ? 'greta' : battery.by };
    if (line.verb === 'taken-in') {
      const modelId = known.find((m) => m.code === battery.model)?.id ?? '';
      const promisedAt = battery.promised === null ? null : start + battery.promised * MINUTE_MS;
      jobs.set(battery.tag, (await takeIn(context, { ...write, purpose: 'commission', count: 1, tag: battery.tag, modelId, dateCode: battery.dateCode, owner: battery.owner, promisedAt })).jobId);
      continue;
    }
    const jobId = jobs.get(battery.tag) as string;
    const wire = await jobWire(store, jobId);
    const job: Job = settle({ procedure: await procedureOf(store, wire.procedureId), plan: wire.plan, state: wire.state }, now);
    try {
      await sendCommand(context, jobId, { ...write, command: commandOf(line, job) });
    } catch (error) {
      throw new Error(`${battery.tag} at ${line.minute} min, ${line.verb}: ${(error as Error).message}`, { cause: error });
    }
  }
  const at = (minute: number) => start + minute * MINUTE_MS;
  return stories.flatMap(({ tag, by, live }) => {
    if (!live) return [];
    const mischief = live.mischief && { ...live.mischief, from: at(live.mischief.from), to: at(live.mischief.to) };
    return [{ jobId: jobs.get(tag) as string, by, place: live.place, at: at(live.minute), ...(mischief ? { mischief } : {}) }];
  });
}

/** A battery of the past as a story: an ordinary day, its own results at the end. */
function storyOfPast(past: PastBattery): BenchStory {
  const t = -past.daysAgo * DAY_MINUTES - 240;
  const six = past.model.startsWith('LF-B') ? 0.5 : 1;
  const amps = { 'LF-A4': 0.4, 'LF-B6': 0.6, 'LF-A8': 0.8, 'LF-A12': 1.2, 'LF-A14': 1.4, 'LF-A18': 1.8, 'LF-A20': 2, 'LF-A30': 3 }[past.model] ?? 1;
  const read = (minute: number, volts: number, share: number) => `${minute} read ${(volts * six).toFixed(2)} ${(amps * share).toFixed(2)} ${past.temperatureC + 3}`;
  const charge = (from: number) => [`${from} charge 1`, read(from + 60, 13.5, 1), read(from + 120, 14.2, 1), read(from + 180, 14.6, 0.4), read(from + 240, 14.68, 0.18), `${from + 242} full`];
  const test = (from: number, restV: number) => [`${from} rest ${restV}`, `${from + 5} load ${past.loadV} ${past.temperatureC}`, `${from + 7} verdict`];
  const failed = past.destination === 'claim' || past.destination === 'recover';
  const story = [`${t} ok 6`, `${t + 70} ok`, ...charge(t + 195), `${t + 445} ok`, ...test(t + 510, past.restV)];
  if (failed) story.push(...charge(t + 520), ...test(t + 840, past.restV + 0.02), `${t + 850} lead ${past.destination} Failed twice, ${past.dateCode} stock`);
  else story.push(`${t + 525} handover ${past.destination}`);
  return { tag: past.tag, model: past.model, owner: past.owner, dateCode: past.dateCode, promised: failed ? null : -past.daysAgo * DAY_MINUTES + 600, by: past.by, story };
}
