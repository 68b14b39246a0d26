import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { openStore } from '../../src/server/store/store.ts';
import { demoClock, shopClock } from '../../src/server/clock.ts';
import { isLoopback } from '../../src/server/http/doors.ts';
import type { BenchWire, ChargeWire, Shop } from '../../src/contract/wire.ts';
import { PLAIN } from '../support/battery.ts';
import { copyDemo } from '../support/demoFile.ts';

const READINGS = 200;
/** The server is killed each time this many more readings have been acknowledged. */
const KILL_EVERY = 38;

interface Running {
  process: ChildProcess;
  url: string;
}

const serve = (folder: string, ...more: string[]): Promise<Running> => serveWith(['--shop', '--data', folder, '--port', '0', ...more]);

function serveWith(options: string[]): Promise<Running> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'src/server/main.ts', ...options], { stdio: ['ignore', 'pipe', 'inherit'] });
  return new Promise((resolve, reject) => {
    let said = '';
    child.stdout.on('data', (part: Buffer) => {
      said += part.toString();
      const url = /http:\/\/\S+/.exec(said)?.[0];
      if (url) resolve({ process: child, url });
    });
    child.on('exit', (code) => reject(new Error(`The server ended with ${code}: ${said}`)));
  });
}

const gone = (child: ChildProcess) =>
  new Promise((resolve) => (child.exitCode !== null || child.signalCode !== null ? resolve(null) : child.once('exit', resolve)));

describe('a killed server', function () {
  this.timeout(180_000);
  let folder: string;
  before(async () => void (folder = await mkdtemp(join(tmpdir(), 'cork-ember-kill-'))));
  after(() => rm(folder, { recursive: true, force: true }));

  it(`has every acknowledged one of ${READINGS} readings, once`, async () => {
    let server = await serve(folder);
    const post = async <T>(path: string, body: unknown): Promise<T> => {
      const response = await fetch(server.url + path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
      if (!response.ok) throw new Error(`${response.status} ${await response.text()}`);
      return (await response.json()) as T;
    };
    const { id: by } = await post<{ id: string }>('/api/people', { commandId: randomUUID(), by: null, person: { name: 'Lead', initials: 'L', role: 'lead' } });
    const { id: modelId } = await post<{ id: string }>('/api/models', { commandId: randomUUID(), by, model: PLAIN });
    const { jobId } = await post<{ jobId: string }>('/api/batteries', {
      commandId: randomUUID(),
      by,
      tag: 'K-001',
      modelId,
      dateCode: 'x',
      owner: 'x',
      promisedAt: null,
    });

    const acknowledged: string[] = [];
    let kills = 0;
    let restarting: Promise<void> | null = null;
    const restart = async () => {
      kills += 1;
      server.process.kill('SIGKILL');
      await gone(server.process);
      server = await serve(folder);
    };
    // Four pages at once, each retrying its reading with the same id until it is acknowledged.
    const queue = Array.from({ length: READINGS }, (_, i) => ({
      commandId: randomUUID(),
      by,
      command: { type: 'read', role: 'spot', values: { voltageV: 11 + i / 100 } },
    }));
    const all = queue.map((q) => q.commandId);
    const page = async () => {
      for (let body = queue.shift(); body; body = queue.shift()) {
        for (;;) {
          try {
            await post(`/api/jobs/${jobId}/commands`, body);
            acknowledged.push(body.commandId);
            break;
          } catch (error) {
            if (!(error instanceof TypeError)) throw error;
            await (restarting ?? new Promise((resolve) => setTimeout(resolve, 20)));
          }
        }
        if (acknowledged.length >= KILL_EVERY * (kills + 1) && !restarting) restarting = restart().finally(() => (restarting = null));
      }
    };
    await Promise.all([page(), page(), page(), page()]);
    await restarting;

    const kept = ((await (await fetch(`${server.url}/api/jobs/${jobId}`)).json()) as { job: { state: { readings: { id: string }[] } } }).job.state.readings.map(
      (r) => r.id,
    );
    const health = (await (await fetch(`${server.url}/api/health`)).json()) as { ok: boolean };
    server.process.kill('SIGTERM');
    await gone(server.process);
    const store = await openStore(join(folder, 'shop', 'bench.sqlite'));
    const rows = (await store.tables.readings.findAll({ raw: true, attributes: ['id'] })).map((r) => r.id);
    await store.close();

    expect(kills).to.be.at.least(4);
    expect(health.ok).to.equal(true);
    expect(acknowledged.toSorted()).to.deep.equal(all.toSorted());
    expect(kept.toSorted()).to.deep.equal(all.toSorted());
    expect(rows.toSorted()).to.deep.equal(all.toSorted());
    console.log(`        ${READINGS} readings, ${kills} kills, ${acknowledged.length} acknowledged, ${rows.length} on the disk`);
  });

  it('keeps demo and shop apart: neither knows of the other’s people or file', async () => {
    const own = await mkdtemp(join(tmpdir(), 'cork-ember-apart-'));
    await mkdir(join(own, 'demo'));
    await copyDemo(join(own, 'demo', 'bench.sqlite'));
    const both = [await serve(own), await serveWith(['--data', own, '--port', '0'])];
    const [shop, demo] = await Promise.all(both.map(async ({ url }) => (await (await fetch(`${url}/api/shop`)).json()) as Shop));
    expect(shop?.people).to.deep.equal([]);
    expect(demo?.people.length).to.be.greaterThan(1);
    expect([shop?.demo, demo?.demo]).to.deep.equal([false, true]);
    const body = { commandId: randomUUID(), by: null, person: { name: 'Owner', initials: 'O', role: 'lead' } };
    const added = await fetch(`${both[0]?.url}/api/people`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    expect(added.status).to.equal(201);
    const after = (await (await fetch(`${both[1]?.url}/api/shop`)).json()) as Shop;
    expect(after.people).to.deep.equal(demo?.people);
    for (const server of both) {
      server.process.kill('SIGTERM');
      await gone(server.process);
    }
    expect((await readdir(own)).sort()).to.deep.equal(['demo', 'shop']);
    await rm(own, { recursive: true, force: true });
  });

  it('refuses a damaged file without touching it', async () => {
    const bad = join(folder, 'bad.sqlite');
    await writeFile(bad, 'SQLite format 3\0 but not really'.padEnd(4096, 'x'));
    expect(
      await openStore(bad).then(
        () => 'opened',
        (error: Error) => error.message,
      ),
    ).to.match(/damaged|not a database|malformed/i);
    expect((await readFile(bad, 'utf8')).startsWith('SQLite format 3\0 but not really')).to.equal(true);
  });

  it('does not open to other machines before a lead can sign in, and then asks everybody to', async () => {
    const closed = await serve(folder, '--host', '0.0.0.0').then(
      () => 'opened',
      (error: Error) => error.message,
    );
    expect(closed).to.include('ended with 1');
    const near = await serve(folder);
    const { people } = (await (await fetch(`${near.url}/api/shop`)).json()) as { people: { id: string }[] };
    const lead = people[0]?.id ?? '';
    const body = JSON.stringify({ commandId: randomUUID(), by: lead, pin: '4711' });
    await fetch(`${near.url}/api/people/${lead}/pin`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
    near.process.kill('SIGTERM');
    await gone(near.process);
    const wide = await serve(folder, '--host', '0.0.0.0');
    const origin = new URL(wide.url.replace('0.0.0.0', '127.0.0.1')).origin;
    expect((await fetch(`${origin}/api/shop`)).status).to.equal(401);
    const signedIn = await fetch(`${origin}/api/sign-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ personId: lead, pin: '4711' }),
    });
    const cookie = signedIn.headers.get('set-cookie') ?? '';
    expect(cookie).to.include('HttpOnly').and.include('SameSite=Strict');
    expect((await fetch(`${origin}/api/shop`, { headers: { Cookie: cookie.split(';')[0] ?? '' } })).status).to.equal(200);
    wide.process.kill('SIGTERM');
    await gone(wide.process);
  });
});

describe('a server that is killed while instruments charge', function () {
  this.timeout(180_000);
  let folder: string;
  const running: ChildProcess[] = [];
  before(async () => void (folder = await mkdtemp(join(tmpdir(), 'cork-ember-live-'))));
  after(async () => {
    for (const child of running) child.kill('SIGKILL');
    await rm(folder, { recursive: true, force: true });
  });

  it('leaves every output to its watchdog, keeps every sample, and asks whether to go on', async () => {
    const rackPort = 20_000 + Math.floor(Math.random() * 20_000);
    running.push(spawn(process.execPath, ['--import', 'tsx', 'src/standins/main.ts', '--port', String(rackPort)], { stdio: 'ignore' }));
    const demo = ['--data', folder, '--port', '0', '--rack', String(rackPort)];
    let server = await serveWith(demo);
    running.push(server.process);
    const get = async <T>(path: string): Promise<T> => (await (await fetch(server.url + path)).json()) as T;
    const live = async () => {
      const { jobs } = await get<BenchWire>('/api/bench');
      const job = jobs.find((j) => j.battery.tag === 'LK-0403');
      return { job, charge: await get<ChargeWire>(`/api/charges/${job?.state.charge?.live?.chargeId}`) };
    };
    const outputs = async () => {
      const { places } = (await (await fetch(`http://127.0.0.1:${rackPort}/state`)).json()) as {
        places: { output: { on: boolean; tripped: string | null } }[];
      };
      return places.map((p) => p.output);
    };
    // Until it has looked for itself, beyond what was played for it: then there is something to lose.
    const seeded = await live();
    let before = seeded;
    for (let look = 0; look < 100 && before.charge.sampleCount < seeded.charge.sampleCount + 2; look++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      before = await live();
    }
    expect(before.charge.sampleCount).to.be.at.least(seeded.charge.sampleCount + 2);
    expect(before.charge.mode).to.equal('running');
    expect((await outputs()).some((o) => o.on)).to.equal(true);
    server.process.kill('SIGKILL');
    const killed = performance.now();
    while ((await outputs()).some((o) => o.on)) await new Promise((resolve) => setTimeout(resolve, 100));
    const offAfter = (performance.now() - killed) / 1000;
    console.log(`        every output off ${offAfter.toFixed(1)} s after SIGKILL`);
    expect(offAfter).to.be.lessThan(6.5);
    expect((await outputs()).some((o) => o.tripped === 'watchdog')).to.equal(true);
    server = await serveWith(demo);
    running.push(server.process);
    const after = await live();
    expect(after.charge.mode).to.equal('asking');
    expect(after.charge.trip?.key).to.equal('interrupted');
    expect(after.charge.sampleCount).to.be.at.least(before.charge.sampleCount);
    expect(after.job?.state.charge?.mode).to.equal('paused');
    expect((await outputs()).every((o) => !o.on)).to.equal(true);
  });
});

describe('clocks', () => {
  it('of a shop never run backwards', () => {
    let machine = 1000;
    const clock = shopClock(5000, () => machine);
    expect(clock.now()).to.equal(5000);
    machine = 7000;
    expect(clock.now()).to.equal(7000);
    machine = 6000;
    expect(clock.now()).to.equal(7000);
    expect(() => clock.setRate(60)).to.throw('one speed');
  });
  it('of the demo run at their rate from where they stood', () => {
    let machine = 0;
    const clock = demoClock(1_000_000, 1, () => machine);
    machine = 1000;
    clock.setRate(60);
    machine = 2000;
    expect(clock.now()).to.equal(1_000_000 + 1000 + 60_000);
  });
  it('know what is this machine', () => {
    expect(['127.0.0.1', '127.9.0.1', 'localhost', '::1'].every(isLoopback)).to.equal(true);
    expect(['0.0.0.0', '::', '192.168.1.2', 'localhost.example', '127.evil'].some(isLoopback)).to.equal(false);
  });
});
