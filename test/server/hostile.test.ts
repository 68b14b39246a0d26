import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import pino from 'pino';
import { QueryTypes } from 'sequelize';
import type { JobWire } from '../../src/contract/wire.ts';
import { type Procedure, stepById } from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import type { InstrumentSetting } from '../../src/core/house/instruments.ts';
import { SteadyClock } from '../../src/server/clock.ts';
import { readRules, writeRules } from '../../src/server/context.ts';
import { commandOf } from '../../src/server/demo/storyteller.ts';
import { rackSettings } from '../../src/server/demo/standInRack.ts';
import { Changes } from '../../src/server/http/changes.ts';
import { Instruments } from '../../src/server/instruments/channel.ts';
import { LiveBench } from '../../src/server/live/liveBench.ts';
import { Rack } from '../../src/standins/rack.ts';
import { type RackServers, serveRack } from '../../src/standins/servers.ts';
import { TestBench } from '../support/bench.ts';
import { HOSTILE, type Hostility, TurncoatLine } from '../support/hostile.ts';
import { HostTime } from '../support/hostTime.ts';

const HEALTHY = 16;
const HOSTILE_PLACES = 16;
/** Longer than an instrument may be silent before its charge is switched off. */
const WATCHED_MS = 12_500;
/** A healthy place is looked at each second, give or take this, ms. */
const SLACK_MS = 250;

describe('thirty-two places, sixteen of them on instruments that turn hostile', () => {
  let bench: TestBench;
  let live: LiveBench;
  const servers: RackServers[] = [];
  const lines: TurncoatLine[] = [];
  let ticking: NodeJS.Timeout;

  before(async () => {
    bench = await TestBench.open();
    const start = Date.now();
    const time = { bench: () => start + performance.now(), machine: () => performance.now() };
    // Eight healthy places on each of two racks; every hostile place on an instrument of its own, eight on one.
    const racks = [
      new Rack(8, time),
      new Rack(8, time),
      new Rack(8, time),
      ...Array.from({ length: 8 }, () => new Rack(1, time)),
    ];
    const instruments: InstrumentSetting[] = [];
    let firstPlace = 1;
    for (const [i, rack] of racks.entries()) {
      const served = await serveRack(rack, 0);
      servers.push(served);
      const line = i < 2 ? null : await TurncoatLine.before(served.ports.charger);
      if (line) lines.push(line);
      const [charger] = rackSettings((kind) => served.ports[kind], rack.places.length);
      // Two outputs at least: an instrument of one output is spoken to without a number.
      instruments.push({
        ...charger!,
        id: `c${i}`,
        port: line?.port ?? charger!.port,
        firstPlace,
        outputs: rack.places.length,
      });
      firstPlace += rack.places.length;
    }
    ticking = setInterval(() => racks.forEach((rack) => rack.advance()), 200);
    const rackOf = (place: number) => {
      let first = 1;
      for (const rack of racks) {
        if (place < first + rack.places.length) return { rack, at: place - first + 1 };
        first += rack.places.length;
      }
      throw new Error('No such place.');
    };
    const rules = await readRules(bench.store);
    await bench.store.write((transaction) =>
      writeRules(bench.store, { ...rules, places: 32, instruments }, transaction),
    );

    const jobId = await atItsCharge(bench);
    const clock = new SteadyClock({ bench: bench.now, rate: 1 }, false);
    const hands = {
      clipOn: (place: number, battery: object) => {
        const { rack, at } = rackOf(place);
        return Promise.resolve(rack.clip(at, battery as never));
      },
      setRate: () => Promise.resolve(),
    };
    live = new LiveBench(
      { store: bench.store, clock, changes: new Changes() },
      new Instruments(700),
      pino({ level: 'silent' }),
      hands,
    );
    // Places are watched from the first start on: on a slow disk, starting all of them takes longer than a watchdog waits.
    live.watchOver();
    const jobs = [jobId, ...(await copies(bench, jobId, HEALTHY + HOSTILE_PLACES - 1))];
    for (const [i, id] of jobs.entries())
      await live.start(id, {
        commandId: randomUUID(),
        by: 'ann',
        stepId: 'charge',
        place: i + 1,
        charge: 0.8,
      });
  });
  after(async () => {
    clearInterval(ticking);
    await live.close();
    for (const line of lines) line.close();
    await Promise.all(servers.map((s) => s.close()));
    await bench.close();
  });

  it('keep the pace of the healthy ones, and switch the others off on the record', async () => {
    const host = new HostTime();
    await new Promise((resolve) => setTimeout(resolve, 1500));
    const kinds = Object.keys(HOSTILE) as Hostility[];
    lines.forEach((line, i) => line.turn(i === 0 ? 'frozen' : kinds[i % kinds.length]!));
    await new Promise((resolve) => setTimeout(resolve, WATCHED_MS));

    const looks = await bench.store.sequelize.query<{ place: number; t: number }>(
      'SELECT place, t FROM samples JOIN charges ON charges.seq = samples.charge ORDER BY place, t',
      { type: QueryTypes.SELECT },
    );
    const gapsOf = (place: number) => {
      const times = looks.filter((l) => l.place === place).map((l) => l.t);
      return times.slice(1).map((t, i) => t - times[i]!);
    };
    const gaps = Array.from({ length: HEALTHY }, (_, i) => gapsOf(i + 1)).flatMap((g) =>
      g.slice(1),
    );
    console.log(
      `        ${gaps.length} gaps at ${HEALTHY} healthy places: ${Math.min(...gaps)} to ${Math.max(...gaps)} ms; ${Math.round(100 * host.taken)} % of the machine taken by its host`,
    );
    expect(gaps.length).to.be.at.least(HEALTHY * 8);
    expect(host.worst(gaps.map((gap) => Math.abs(gap - 1000)))).to.be.at.most(SLACK_MS);
    const rows = await bench.store.tables.charges.findAll({ raw: true });
    for (const { place, mode } of rows)
      expect(mode, `place ${place}`).to.equal(place <= HEALTHY ? 'running' : 'asking');
  });
});

/** A job that stands before its charge. */
async function atItsCharge(bench: TestBench): Promise<string> {
  const jobId = await bench.takeIn(await bench.addModel({}), 'H-001');
  for (;;) {
    const { body } = await bench.get<{ job: JobWire; procedure: Procedure }>(`/api/jobs/${jobId}`);
    const job = settle(
      { procedure: body.procedure, plan: body.job.plan, state: body.job.state },
      bench.now,
    );
    const { current } = job.state;
    if (!current || stepById(job.procedure, current.stepId).kind === 'charge') return jobId;
    if (current.dueAt !== null) bench.now = current.dueAt;
    else await bench.send(jobId, commandOf({ minute: 0, verb: 'ok', words: [] }, job));
  }
}

/** The same job again, for so many other batteries. */
async function copies(bench: TestBench, jobId: string, count: number): Promise<string[]> {
  const { jobs, batteries } = bench.store.tables;
  const job = (await jobs.findByPk(jobId, { raw: true }))!;
  const battery = (await batteries.findByPk(job.batteryId, { raw: true }))!;
  const made = Array.from({ length: count }, (_, i) => ({
    job: randomUUID(),
    battery: randomUUID(),
    tag: `H-1${String(i).padStart(2, '0')}`,
  }));
  await bench.store.write(async (transaction) => {
    await batteries.bulkCreate(
      made.map((m) => ({ ...battery, id: m.battery, tag: m.tag })),
      { transaction },
    );
    const parsed = {
      plan: JSON.parse(job.plan as never) as never,
      state: JSON.parse(job.state as never) as never,
    };
    await jobs.bulkCreate(
      made.map((m) => ({ ...job, ...parsed, id: m.job, batteryId: m.battery })),
      { transaction },
    );
  });
  return made.map((m) => m.job);
}
