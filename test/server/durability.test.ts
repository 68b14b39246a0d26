import type { ChildProcess } from 'node:child_process';
import { randomUUID, X509Certificate } from 'node:crypto';
import {
  copyFile,
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rm,
  stat,
  utimes,
  writeFile,
} from 'node:fs/promises';
import type { IncomingHttpHeaders } from 'node:http';
import { request as httpsRequest, type RequestOptions } from 'node:https';
import { join } from 'node:path';
import type { TLSSocket } from 'node:tls';
import { expect } from 'chai';
import { openKnownStore, openStore, type Store } from '../../src/server/store/store.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { isLoopback } from '../../src/server/http/doors.ts';
import type { ChargeWire } from '../../src/contract/chargeWire.ts';
import type { BenchWire, Shop } from '../../src/contract/wire.ts';
import { PLAIN } from '../support/battery.ts';
import { startCharging } from '../support/chargingServer.ts';
import { copyDemo } from '../support/demoFile.ts';
import { gone, type Running, startServer, startShop } from '../support/serverProcess.ts';
import { scratch } from '../support/scratch.ts';

/** Writes, and after how many acknowledged ones the server is killed: `WRITES=1000 KILL_EVERY=19` for the long run. */
const WRITES = Number(process.env['WRITES'] ?? 200);
const KILL_EVERY = Number(process.env['KILL_EVERY'] ?? 38);

describe('a killed server', () => {
  let folder: string;
  before(async () => void (folder = await mkdtemp(join(scratch(), 'cork-ember-kill-'))));
  after(() => rm(folder, { recursive: true, force: true }));

  it(`has every acknowledged one of ${WRITES} writes, once; and so have the files as they lay on the disk at that moment`, async () => {
    let server: Running = await startShop(folder);
    const post = async <T>(path: string, body: unknown): Promise<T> => {
      const response = await fetch(server.url + path, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
      if (!response.ok) throw new Error(`${response.status} ${await response.text()}`);
      return (await response.json()) as T;
    };
    const { id: by } = await post<{ id: string }>('/api/people', {
      commandId: randomUUID(),
      by: null,
      person: { name: 'Lead', initials: 'L', role: 'lead' },
    });
    const { id: modelId } = await post<{ id: string }>('/api/models', {
      commandId: randomUUID(),
      by,
      model: PLAIN,
    });
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
    let restarting = null as Promise<void> | null;
    const cuts: { file: string; acknowledged: number }[] = [];
    const restart = async () => {
      kills += 1;
      // Both processes stand still, the files are copied as a power cut would leave them, and nobody wakes up again.
      const { pid } = server.process;
      const answering = (await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8'))
        .split(' ')
        .filter(Boolean)
        .map(Number);
      for (const id of [pid as number, ...answering]) process.kill(id, 'SIGSTOP');
      const cut = join(folder, `cut-${kills}`);
      await mkdir(cut);
      const upTo = acknowledged.length;
      for (const name of ['bench.sqlite', 'bench.sqlite-wal', 'bench.json']) {
        const from = join(folder, 'shop', name);
        await copyFile(from, join(cut, name)).catch(() => undefined);
        const { atime, mtime } = await stat(from).catch(() => ({ atime: 0, mtime: 0 }));
        await utimes(join(cut, name), atime, mtime).catch(() => undefined);
      }
      cuts.push({ file: join(cut, 'bench.sqlite'), acknowledged: upTo });
      server.process.kill('SIGKILL');
      for (const id of answering) process.kill(id, 'SIGKILL');
      await gone(server.process);
      server = await startShop(folder);
    };
    // Four pages at once, each retrying its reading with the same id until it is acknowledged.
    await post('/api/lots', {
      commandId: randomUUID(),
      by,
      lot: {
        code: 'B-1',
        kind: 'acid',
        packCode: null,
        sg: 1.28,
        quantityMl: 1_000_000,
        expiresAt: null,
      },
    });
    const commands = `/api/jobs/${jobId}/commands`;
    const queue = Array.from({ length: WRITES }, (_, i) => {
      const signed = { commandId: randomUUID(), by };
      if (i % 5 === 3)
        return {
          path: commands,
          body: { ...signed, command: { type: 'note', text: `Note ${signed.commandId}` } },
        };
      if (i % 5 === 4)
        return { path: '/api/lots/B-1/uses', body: { ...signed, ml: 1 + (i % 7), why: 'spilt' } };
      return {
        path: commands,
        body: {
          ...signed,
          command: { type: 'read', role: 'spot', values: { voltageV: 11 + (i % 400) / 100 } },
        },
      };
    });
    const all = queue.map((q) => q.body.commandId);
    const page = async () => {
      for (let entry = queue.shift(); entry; entry = queue.shift()) {
        const { path, body } = entry;
        for (;;) {
          try {
            await post(path, body);
            acknowledged.push(body.commandId);
            break;
          } catch (error) {
            if (!(error instanceof TypeError)) throw error;
            await (restarting ?? new Promise((resolve) => setTimeout(resolve, 20)));
          }
        }
        if (acknowledged.length >= KILL_EVERY * (kills + 1) && !restarting)
          restarting = restart().finally(() => (restarting = null));
      }
    };
    await Promise.all([page(), page(), page(), page()]);
    await restarting;

    const health = (await (await fetch(`${server.url}/api/health`)).json()) as { ok: boolean };
    server.process.kill('SIGTERM');
    await gone(server.process);
    const written = async (store: Store) =>
      (await store.tables.events.findAll({ attributes: ['commandId', 'type'], raw: true }))
        .filter((e) => ['reading.taken', 'note.added', 'lot.used'].includes(e.type))
        .map((e) => e.commandId);
    const store = await openStore(join(folder, 'shop', 'bench.sqlite'));
    const { differences } = await verifyShop(store);
    const done = await written(store);
    await store.close();
    expect(differences, 'stored as the log tells it').to.deep.equal([]);
    expect(kills).to.be.at.least(4);
    expect(health.ok).to.equal(true);
    expect(acknowledged.toSorted()).to.deep.equal(all.toSorted());
    expect(done.toSorted(), 'each once').to.deep.equal(all.toSorted());
    for (const cut of cuts) {
      const { store: then } = await openKnownStore(cut.file, false);
      expect((await verifyShop(then)).differences, cut.file).to.deep.equal([]);
      expect(await written(then), cut.file).to.include.members(
        acknowledged.slice(0, cut.acknowledged),
      );
      await then.close();
    }
    console.log(
      `        ${WRITES} writes, ${kills} kills, ${acknowledged.length} acknowledged, ${done.length} in the log; ${cuts.length} copies of the moment, each whole`,
    );
  });

  it('keeps demo and shop apart: neither knows of the other’s people or file', async () => {
    const folderOfBoth = await mkdtemp(join(scratch(), 'cork-ember-apart-'));
    await mkdir(join(folderOfBoth, 'demo'));
    await copyDemo(join(folderOfBoth, 'demo', 'bench.sqlite'));
    const both = [
      await startShop(folderOfBoth),
      await startServer(['--data', folderOfBoth, '--port', '0']),
    ];
    const [shop, demo] = await Promise.all(
      both.map(async ({ url }) => (await (await fetch(`${url}/api/shop`)).json()) as Shop),
    );
    expect(shop?.people).to.deep.equal([]);
    expect(demo?.people.length).to.be.greaterThan(1);
    expect([shop?.demo, demo?.demo]).to.deep.equal([false, true]);
    const body = {
      commandId: randomUUID(),
      by: null,
      person: { name: 'Owner', initials: 'O', role: 'lead' },
    };
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
    expect((await readdir(folderOfBoth)).sort()).to.deep.equal(['demo', 'shop']);
    await rm(folderOfBoth, { recursive: true, force: true });
  });

  it('refuses a damaged file without touching it', async () => {
    const bad = join(folder, 'bad.sqlite');
    await writeFile(bad, 'SQLite format 3\0 but not really'.padEnd(4096, 'x'));
    expect(
      await openStore(bad).then(
        () => 'opened',
        (error: Error) => error.message,
      ),
    ).to.match(/is not a data file|damaged/);
    expect((await readFile(bad, 'utf8')).startsWith('SQLite format 3\0 but not really')).to.equal(
      true,
    );
  });

  it('does not open to other machines before a lead can sign in, and then asks everybody to', async () => {
    const closed = await startShop(folder, '--host', '0.0.0.0').then(
      () => 'opened',
      (error: Error) => error.message,
    );
    expect(closed).to.include('ended with 1');
    const near = await startShop(folder);
    const { people } = (await (await fetch(`${near.url}/api/shop`)).json()) as {
      people: { id: string }[];
    };
    const lead = people[0]?.id ?? '';
    const body = JSON.stringify({ commandId: randomUUID(), by: lead, pin: '4711' });
    await fetch(`${near.url}/api/people/${lead}/pin`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body,
    });
    near.process.kill('SIGTERM');
    await gone(near.process);
    const wide = await startShop(folder, '--host', '0.0.0.0', '--name', 'bench.example');
    const { port } = new URL(wide.url);
    // What a phone is told to trust is the root that signed the server's certificate; its key is nowhere.
    const root = await readFile(join(folder, 'shop', 'tls', 'root.pem'), 'utf8');
    expect((await readdir(join(folder, 'shop', 'tls'))).toSorted()).to.deep.equal([
      'cert.pem',
      'key.pem',
      'root.pem',
    ]);
    expect(wide.url).to.match(/^https:/);
    expect(
      (await stat(join(folder, 'shop', 'tls', 'key.pem'))).mode & 0o077,
      'nobody else reads its key',
    ).to.equal(0);
    const secure = (path: string, options: RequestOptions = {}, body?: unknown) =>
      new Promise<{ status: number; headers: IncomingHttpHeaders; fingerprint: string }>(
        (resolve, reject) => {
          const sent = httpsRequest(
            { host: '127.0.0.1', port, path, ca: root, servername: 'bench.example', ...options },
            (response) => {
              const { fingerprint256 } = (response.socket as TLSSocket).getPeerCertificate();
              response.resume().on('end', () =>
                resolve({
                  status: response.statusCode ?? 0,
                  headers: response.headers,
                  fingerprint: fingerprint256,
                }),
              );
            },
          );
          sent.on('error', reject);
          sent.end(body === undefined ? undefined : JSON.stringify(body));
        },
      );
    // Checked against the shop's root, by the name it was given; the fingerprint is the one that was printed.
    const shut = await secure('/api/shop');
    expect(shut.status).to.equal(401);
    expect(wide.said()).to.include(shut.fingerprint);
    const signIn = { method: 'POST', headers: { 'Content-Type': 'application/json' } };
    const signedIn = await secure('/api/sign-in', signIn, { personId: lead, pin: '4711' });
    const cookies = signedIn.headers['set-cookie'] ?? [];
    for (const cookie of cookies)
      expect(cookie).to.include('HttpOnly').and.include('SameSite=Strict').and.include('Secure');
    const Cookie = cookies.map((c) => c.split(';')[0]).join('; ');
    expect((await secure('/api/shop', { headers: { Cookie } })).status).to.equal(200);
    expect(
      (await secure('/api/shop', { headers: { Cookie, Host: 'evil.example' } })).status,
    ).to.equal(403);
    // Plain HTTP on the same port is sent on, and told nothing else.
    const plain = await fetch(`http://127.0.0.1:${port}/api/shop`, { redirect: 'manual' });
    expect([plain.status, plain.headers.get('location'), await plain.text()]).to.deep.equal([
      308,
      `https://127.0.0.1:${port}/api/shop`,
      '',
    ]);
    // … but for the page that leads a phone to trust it, and what it trusts.
    const page = await fetch(`http://127.0.0.1:${port}/trust`);
    expect(page.status).to.equal(200);
    expect(await page.text())
      .to.include(shut.fingerprint)
      .and.include('/trust/shop-root.crt');
    const file = await fetch(`http://127.0.0.1:${port}/trust/shop-root.crt`);
    expect(file.headers.get('content-type')).to.equal('application/x-x509-ca-cert');
    expect(new X509Certificate(await file.text()).ca).to.equal(true);
    wide.process.kill('SIGTERM');
    await gone(wide.process);
  });
});

/** Looks at its charge before it is killed. */
const LOOKS = 3;

describe('a server that is killed while instruments charge', () => {
  let folder: string;
  const running: ChildProcess[] = [];
  before(async () => void (folder = await mkdtemp(join(scratch(), 'cork-ember-live-'))));
  after(async () => {
    for (const child of running) child.kill('SIGKILL');
    await rm(folder, { recursive: true, force: true });
  });

  it('leaves every output to its watchdog, keeps every sample, and asks whether to go on', async () => {
    const charging = await startCharging(folder);
    const { rack, options, jobId, chargeId } = charging;
    let { server } = charging;
    running.push(rack.process, server.process);
    const get = async <T>(path: string): Promise<T> =>
      (await (await fetch(server.url + path)).json()) as T;
    const live = async () => {
      const { jobs } = await get<BenchWire>('/api/bench');
      return {
        job: jobs.find((j) => j.id === jobId),
        charge: await get<ChargeWire>(`/api/charges/${chargeId}`),
      };
    };
    const outputs = async () => (await rack.state()).places.map((p) => p.output);
    // Until it has looked a few times: then there is something to lose.
    let before = await live();
    for (let look = 0; look < 100 && before.charge.sampleCount < LOOKS; look++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      before = await live();
    }
    expect(before.charge.sampleCount).to.be.at.least(LOOKS);
    expect(before.charge.mode).to.equal('running');
    expect((await outputs()).some((o) => o.on)).to.equal(true);
    server.process.kill('SIGKILL');
    const killed = performance.now();
    // Seen on for the last time: on a busy machine it takes a while to be told that they are off.
    let lastOn = killed;
    while ((await outputs()).some((o) => o.on)) {
      lastOn = performance.now();
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    const offAfter = (lastOn - killed) / 1000;
    console.log(`        every output off ${offAfter.toFixed(1)} s after SIGKILL`);
    expect(offAfter).to.be.lessThan(6.5);
    expect((await outputs()).some((o) => o.tripped === 'watchdog')).to.equal(true);
    server = await startServer(options);
    running.push(server.process);
    const after = await live();
    expect(after.charge.mode).to.equal('asking');
    expect(after.charge.trip?.key).to.equal('interrupted');
    expect(after.charge.sampleCount).to.be.at.least(before.charge.sampleCount);
    expect(after.job?.state.charge?.mode).to.equal('paused');
    expect((await outputs()).every((o) => !o.on)).to.equal(true);
  });
});

describe('an address', () => {
  it('is known as this machine or not', () => {
    expect(['127.0.0.1', '127.9.0.1', 'localhost', '::1'].every(isLoopback)).to.equal(true);
    expect(
      ['0.0.0.0', '::', '192.168.1.2', 'localhost.example', '127.evil'].some(isLoopback),
    ).to.equal(false);
  });
});
