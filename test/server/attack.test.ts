import type { ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { expect } from 'chai';
import { QueryTypes } from 'sequelize';
import { type Endpoint, ENDPOINTS } from '../../src/contract/endpoints.ts';
import type { ChargeWire } from '../../src/contract/chargeWire.ts';
import type { BenchWire } from '../../src/contract/wire.ts';
import { joinStore } from '../../src/server/store/store.ts';
import { asks, startCharging } from '../support/chargingServer.ts';
import { gone, startRack, startServer } from '../support/serverProcess.ts';
import { HostTime } from '../support/hostTime.ts';
import { scratch } from '../support/scratch.ts';

const ATTACK_MS = 8000;
/** A look is due each second; the promise is that none is later than this, ms. */
const LATE_MS = 250;

describe('a server under attack while it charges', () => {
  let folder: string;
  const running: ChildProcess[] = [];
  before(async () => void (folder = await mkdtemp(join(scratch(), 'cork-ember-attack-'))));
  after(async () => {
    for (const child of running) child.kill('SIGKILL');
    await Promise.all(running.map(gone));
    await rm(folder, { recursive: true, force: true });
  });

  it('looks at its charge each second, whatever is asked of it, and is not kept from it by its own death', async () => {
    const host = new HostTime();
    const { file, rack, server, jobId, chargeId, by } = await startCharging(folder);
    running.push(rack.process, server.process);
    const ask = asks(server);

    const bench = (await (await ask('/api/bench')).json()) as BenchWire;
    const [{ battery }] = bench.jobs as [BenchWire['jobs'][number]];
    const gets = (Object.values(ENDPOINTS) as Endpoint[]).filter(
      (e) => e.method === 'get' && e.produces !== 'text/event-stream',
    );
    const paths = gets.map((e) =>
      e.path
        .replace(':tag', battery.tag)
        .replace(':id', e.path.includes('charges') ? chargeId : jobId)
        .replace(':code', 'B1'),
    );
    const bomb = (items: number, key: string): string =>
      `{"commandId":"${randomUUID()}","by":"${by}","${key}":[${Array.from({ length: items }, () => '{}').join(',')}]}`;
    const bombs = [bomb(20_000, 'models'), bomb(140_000, 'batteries'), bomb(690_000, 'models')];
    const drop = (k: number) =>
      ask(k === 1 ? '/api/import/batteries' : '/api/import/models', bombs[k]);
    const statuses = new Map<number, number>();
    const ofBombs = new Set<number>();
    const until = performance.now() + ATTACK_MS;
    const note = async (answer: Promise<Response>): Promise<number> => {
      const status = await answer.then(
        async (r) => {
          await r.arrayBuffer();
          return r.status;
        },
        () => 0,
      );
      statuses.set(status, (statuses.get(status) ?? 0) + 1);
      return status;
    };
    const inLoop = async (make: (i: number) => Promise<number>, everyMs = 0): Promise<void> => {
      for (let i = 0; performance.now() < until; i++) {
        await make(i);
        if (everyMs) await new Promise((resolve) => setTimeout(resolve, everyMs));
      }
    };
    await Promise.all([
      ...Array.from({ length: 1200 }, (_, i) =>
        note(
          ask('/api/sign-in', {
            personId: ['ilse', 'greta', 'tobin'][i % 3],
            pin: String(1000 + i),
          }),
        ),
      ),
      ...Array.from({ length: 24 }, (_, k) =>
        inLoop((i) => note(ask(paths[(7 * k + i) % paths.length] as string))),
      ),
      ...bombs.map((_, k) =>
        inLoop(async () => {
          const status = await note(drop(k));
          ofBombs.add(status);
          return status;
        }, 50),
      ),
      inLoop((i) => note(ask('/api/sign-in', { personId: 'greta', pin: String(i) })), 5),
    ]);
    expect(
      [...statuses.keys()].filter((s) => s >= 500),
      JSON.stringify([...statuses]),
    ).to.deep.equal([]);
    // In the crowd a bomb may be turned away unread, cut off or told to wait; by itself it is told that it is too long.
    expect([0, 413, 429], 'bombs in the crowd').to.include.members([...ofBombs]);
    for (const k of bombs.keys()) expect((await drop(k)).status, 'a bomb by itself').to.equal(413);

    // What answers requests may even die: it is started again, and nobody at the instruments notices.
    const { pid } = server.process;
    const [answering] = (await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8'))
      .split(' ')
      .map(Number);
    process.kill(answering as number, 'SIGKILL');
    const dead = performance.now();
    const answers = () =>
      ask('/api/clock').then(
        (r) => r.ok,
        () => false,
      );
    while (!(await answers())) {
      expect(performance.now() - dead, 'it is started again').to.be.below(30_000);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    const after = (await (await ask(`/api/charges/${chargeId}`)).json()) as ChargeWire;
    expect(after.mode).to.equal('running');

    const store = await joinStore(file);
    const samples = await store.sequelize.query<{ t: number }>(
      'SELECT t FROM samples WHERE charge = (SELECT seq FROM charges WHERE id = :chargeId) ORDER BY t',
      {
        replacements: { chargeId },
        type: QueryTypes.SELECT,
      },
    );
    await store.close();
    const gaps = samples.slice(1).map(({ t }, i) => t - samples[i]!.t);
    const worst = Math.max(...gaps);
    const asked = [...statuses].map(([s, n]) => `${n} × ${s}`).join(', ');
    console.log(
      `        ${samples.length} looks, the latest ${Math.round(worst - 1000)} ms late, ${Math.round(100 * host.taken)} % of the machine taken by its host; answers: ${asked}`,
    );
    expect(samples.length).to.be.at.least(ATTACK_MS / 1000);
    expect(host.worst(gaps)).to.be.at.most(1000 + LATE_MS);
  });

  it('is the only one on its folder: a second says whose it is, and touches nothing', async () => {
    const rack = await startRack();
    running.push(rack.process);
    const options = ['--data', folder, '--port', '0', '--rack', String(rack.port)];
    const refused = await startServer(options).then(
      () => 'started',
      (error: Error) => error.message,
    );
    expect(refused)
      .to.contain('ended with 1')
      .and.contain('is in use by the server with process number')
      .and.contain('--data');
    expect(running[1]!.exitCode).to.equal(null);
    // Killed, it leaves no lock behind.
    running[1]!.kill('SIGKILL');
    await gone(running[1]!);
    const next = await startServer(options);
    running.push(next.process);
    expect((await fetch(`${next.url}/api/health`)).status).to.equal(200);
  });
});
