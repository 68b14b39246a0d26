import { randomUUID } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pino from 'pino';
import type { BenchWire, JobWire, Problem, Shop } from '../../src/contract/wire.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import type { Job } from '../../src/core/job/job.ts';
import { settle } from '../../src/core/steps/settle.ts';
import type { HouseRules } from '../../src/core/house/rules.ts';
import { createApp } from '../../src/server/app.ts';
import { demoStart } from '../../src/server/demo/seed.ts';
import type { Context } from '../../src/server/context.ts';
import { plugInRack, seedLive } from '../../src/server/demo/standInRack.ts';
import { Instruments } from '../../src/server/instruments/channel.ts';
import { Forecaster } from '../../src/server/live/forecaster.ts';
import { LiveBench } from '../../src/server/live/liveBench.ts';
import { Changes } from '../../src/server/http/changes.ts';
import { readJob } from '../../src/server/resources/jobs/jobs.ts';
import { catchUpSummaries } from '../../src/server/resources/recoveries/recoveries.ts';
import { shopClock, WallWatch } from '../../src/server/clock.ts';
import { latestMoment } from '../../src/server/store/latestMoment.ts';
import { openStore, type Store } from '../../src/server/store/store.ts';
import { PLAIN, START } from './battery.ts';
import { copyDemo, DEMO } from './demoFile.ts';
import { againstPublished } from './published.ts';
import { TestRack } from './rack.ts';
import { scratch } from './scratch.ts';

const PAGES = fileURLToPath(new URL('../../dist/web', import.meta.url));

/** A busy machine takes its time over a thread, and over a page. */
const DRAWS_WITHIN_MS = 60_000;
const DRAWING = { answerMs: 5000, drawnMs: 20_000 };

export interface Answer<T = { error: Problem }> {
  status: number;
  body: T;
}

/** A server on a real file and a free port, its clock in the test's hand. */
export class TestBench {
  now = START;
  readonly file: string;
  store!: Store;
  live!: LiveBench;
  forecaster!: Forecaster;
  /** So does the thread that draws first pages. */
  static drawsPages = false;
  /** A planner's thread costs a second to start; only what is about it has one. */
  static plansInThread = false;
  /** Instruments in a test are on this machine: what they do not say at once they will not say. */
  static instrumentTimeoutMs = 100;
  /** Stand-in instruments, in a test that has them. */
  rack: TestRack | null = null;
  url = '';
  /** Listening wider than this machine, as far as its doors know. */
  wide = false;
  /** Holds bench time against the machine's clock, in a test that has one. */
  wall: WallWatch | null = null;
  #machine: (() => number) | null = null;
  #server!: Server;
  readonly #changes = new Changes();

  /** @param waitsForDisk the file goes with the test: only what is about the disk waits for it */
  private constructor(
    readonly folder: string,
    readonly waitsForDisk = false,
  ) {
    this.file = join(folder, 'bench.sqlite');
  }

  /** A bench with two people and nothing else. */
  static async open(options?: { waitsForDisk: boolean }): Promise<TestBench> {
    const bench = await TestBench.empty(options);
    await bench.store.write((transaction) =>
      bench.store.tables.people.bulkCreate(
        [
          {
            id: 'ann',
            name: 'Ann Test',
            initials: 'AT',
            role: 'technician',
            active: true,
            pinHash: null,
            calendarToken: null,
          },
          {
            id: 'lea',
            name: 'Lea Test',
            initials: 'LT',
            role: 'lead',
            active: true,
            pinHash: null,
            calendarToken: null,
          },
        ],
        { transaction },
      ),
    );
    return bench;
  }

  /** A bench with nothing at all, as a new shop has it. */
  static async empty({ waitsForDisk } = { waitsForDisk: false }): Promise<TestBench> {
    const bench = new TestBench(await mkdtemp(join(scratch(), 'cork-ember-')), waitsForDisk);
    await bench.start();
    return bench;
  }

  /** A bench on the bytes of a file, at the latest moment it knows of. */
  static async on(file: Uint8Array): Promise<TestBench> {
    const bench = new TestBench(await mkdtemp(join(scratch(), 'cork-ember-')));
    await writeFile(bench.file, file);
    await bench.start();
    bench.now = Number(await bench.store.tables.events.max('at'));
    return bench;
  }

  /** The demo shop at its own hour, its live charges under way on stand-ins. */
  static async demo(): Promise<TestBench> {
    const bench = new TestBench(await mkdtemp(join(scratch(), 'cork-ember-')));
    const stories = await copyDemo(bench.file);
    const start = await demoStart(DEMO);
    bench.now = Math.min(start, ...stories.map((s) => s.at));
    await bench.start();
    // Played faster than life on a busy machine: the stand-ins get longer to answer.
    const usual = TestBench.instrumentTimeoutMs;
    TestBench.instrumentTimeoutMs = 10 * usual;
    await bench.plugIn();
    await seedLive(
      stories,
      bench.rack as TestRack,
      bench.live,
      { set: (at) => (bench.now = at) },
      start,
    );
    TestBench.instrumentTimeoutMs = usual;
    return bench;
  }

  /** Puts stand-in instruments on the bench and starts the server anew with them. */
  async plugIn(): Promise<TestRack> {
    const rack = (this.rack = await TestRack.open(() => this.now));
    await plugInRack({ store: this.store }, rack);
    await this.stop();
    await this.start();
    return rack;
  }

  /** Lets bench time pass in looks of so many seconds, the stand-ins and the live charges with it. */
  async pass(seconds: number, everyS = 1): Promise<void> {
    for (let s = 0; s < seconds; s += everyS) {
      this.now += everyS * 1000;
      // Looks are a second apart for the machine, however fast bench time runs.
      if (this.rack) this.rack.machine += 1000;
      await this.live.tick();
    }
  }

  /** Starts the server anew as a shop's: by a machine's clock that may be set, while what goes by is the test's own. */
  async byMachine(machine: () => number): Promise<void> {
    this.#machine = machine;
    await this.stop();
    await this.start();
  }

  /** Moves bench time on and lets open pages know. */
  advance(ms: number): void {
    this.now += ms;
    this.#changes.announce({ topic: 'clock' });
  }

  async start(): Promise<void> {
    this.store = await (this.waitsForDisk
      ? openStore(this.file)
      : openStore(this.file, { waitsForDisk: false }));
    await catchUpSummaries(this.store, (id) => readJob(this.store, id));
    let rate = 1;
    const inHand = {
      now: () => this.now,
      passed: () => this.now,
      get rate() {
        return rate;
      },
      demo: true,
      setRate: (next: number) => void (rate = next),
    };
    const log = pino({ level: 'silent' });
    const steady =
      this.#machine && shopClock(await latestMoment(this.store), this.#machine, () => this.now);
    this.wall = steady && new WallWatch(steady, this.#machine as () => number, () => this.now);
    const clock = steady ?? inHand;
    const machineClock = () => this.wall?.standing() ?? null;
    const context: Context = { store: this.store, clock, changes: this.#changes, machineClock };
    this.live = new LiveBench(
      context,
      new Instruments(TestBench.instrumentTimeoutMs),
      log,
      this.rack ?? undefined,
    );
    context.live = this.live;
    if (steady && this.wall) this.live.keepTime(steady, this.wall);
    this.forecaster = new Forecaster(context, log);
    await this.live.restore();
    const app = createApp(context, {
      log,
      version: 'test',
      file: this.file,
      pages: PAGES,
      live: this.live,
      wide: this.wide,
      plansInThread: TestBench.plansInThread,
      drawsPages: TestBench.drawsPages && DRAWING,
    });
    this.#server = app.listen(0, '127.0.0.1');
    await new Promise((resolve) => this.#server.once('listening', resolve));
    this.url = `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    this.#server.closeAllConnections();
    await new Promise((resolve) => this.#server.close(resolve));
    await this.forecaster.close();
    await this.live.close();
    await this.store.close();
  }

  /** What is open on this bench, and goes with it: a page that stays would ask a server that is gone for ever. */
  readonly guests: { leave: () => Promise<void> }[] = [];

  async close(): Promise<void> {
    await Promise.all(this.guests.map((guest) => guest.leave()));
    await this.stop();
    await this.rack?.close();
    await rm(this.folder, { recursive: true, force: true });
  }

  async ask<T = { error: Problem }>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await fetch(this.url + path, {
      method,
      headers: {
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined
        ? {}
        : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const text = await response.text();
    const type = response.headers.get('content-type') ?? '';
    if (!type.includes('json')) return { status: response.status, body: text as T };
    const answered = JSON.parse(text) as T;
    if (!type.includes('application/json')) return { status: response.status, body: answered };
    // Every answer of every test is what the published document says of it.
    const fault = againstPublished(method, path, response.status, answered);
    if (fault) throw new Error(fault);
    return { status: response.status, body: answered };
  }

  /** The page of an address as a browser without any scripts has it; waits for the thread that draws it. */
  async drawn(path: string, headers: Record<string, string> = {}): Promise<string> {
    const began = performance.now();
    while (performance.now() - began < DRAWS_WITHIN_MS) {
      const text = await (await fetch(this.url + path, { headers })).text();
      if (text.includes('id="drawn-from"')) return text;
      await new Promise((later) => setTimeout(later, 100));
    }
    throw new Error(`${path} was not drawn.`);
  }

  get = <T>(path: string) => this.ask<T>('GET', path);
  post = <T = { error: Problem }>(path: string, body: unknown, headers?: Record<string, string>) =>
    this.ask<T>('POST', path, body, headers);

  async addModel(change: Partial<BatteryModel> = {}): Promise<string> {
    const { body } = await this.post<{ id: string }>('/api/models', {
      commandId: randomUUID(),
      by: 'ann',
      model: { ...PLAIN, ...change },
    });
    return body.id;
  }

  async takeIn(
    modelId: string,
    tag: string,
    promisedAt: number | null = null,
    owner = 'Test',
  ): Promise<string> {
    const { body } = await this.post<{ jobId: string }>('/api/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      tag,
      modelId,
      dateCode: '2026-01',
      owner,
      promisedAt,
    });
    return body.jobId;
  }

  send = (
    jobId: string,
    command: JobCommand | Record<string, unknown>,
    by = 'ann',
    commandId: string = randomUUID(),
  ) =>
    this.post<{ job: JobWire; error: Problem }>(`/api/jobs/${jobId}/commands`, {
      commandId,
      by,
      command,
    });

  /** Changes house rules, as a lead does. */
  async changeRules(changed: Partial<HouseRules>, by = 'greta'): Promise<void> {
    const { body } = await this.get<Shop>('/api/shop');
    const { status } = await this.ask('PUT', '/api/shop/rules', {
      commandId: randomUUID(),
      by,
      version: body.rulesVersion,
      rules: { ...body.rules, ...changed },
    });
    if (status >= 400) throw new Error(`The rules were not taken: ${status}.`);
  }

  /** The newest job of a tag as it stands now, out of the file: cheap enough to be asked for until something has come about. */
  async jobOf(tag: string): Promise<Job> {
    const { batteries, jobs } = this.store.tables;
    const battery = await batteries.findOne({ where: { tag }, attributes: ['id'], raw: true });
    const newest = await jobs.findOne({
      where: { batteryId: battery?.id ?? '' },
      order: [['openedAt', 'DESC']],
      attributes: ['id'],
      raw: true,
    });
    return settle(await readJob(this.store, newest?.id ?? ''), this.now);
  }

  /** The address of a tag's job among those on the bench. */
  async jobPaths(): Promise<(tag: string) => string> {
    const { body } = await this.get<BenchWire>('/api/bench');
    return (tag) => `/jobs/${body.jobs.find((j) => j.battery.tag === tag)?.id}`;
  }

  /** Rows of every table, to show that nothing was left behind. */
  async rowCounts(): Promise<Record<string, number>> {
    const { batteries, jobs, events, readings, models, commands } = this.store.tables;
    return {
      batteries: await batteries.count(),
      jobs: await jobs.count(),
      events: await events.count(),
      readings: await readings.count(),
      models: await models.count(),
      commands: await commands.count(),
    };
  }
}
