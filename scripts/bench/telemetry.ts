// 32 places at one look a second for ten minutes of bench time, with four pages open and readings being posted.
import { type ChildProcess, fork } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import type { ChargeWire } from '../../src/contract/chargeWire.ts';
import type { JobWire, Shop } from '../../src/contract/wire.ts';
import { type Procedure, stepById } from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { commandOf } from '../../src/server/demo/storyteller.ts';
import { PLAIN, START } from '../../test/support/battery.ts';
import { browser } from '../../test/support/browser.ts';
import { TestRack } from '../../test/support/rack.ts';
import { ROOT } from '../setup.mjs';
import { say, spreadOf, title } from './figures.ts';

const PLACES = 32;
const LOOKS = 600;
const PAGES = 4;
/** Bench seconds go by faster than the machine's, so that ten minutes take two. ms */
const EVERY_MS = 200;

interface Cost {
  now: number;
  cpuMs: number;
  rssMb: number;
}

export async function benchTelemetry(): Promise<void> {
  title(`Live charges: ${PLACES} places, ${LOOKS} looks a second apart, ${PAGES} pages open`);
  const child = fork(join(ROOT, 'scripts/bench/liveServer.ts'), {
    execArgv: ['--import', './scripts/typescript.mjs'],
  });
  const { url } = await said<{ url: string }>(child);
  const ask = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const response = await fetch(url + path, {
      method,
      ...(body
        ? { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }
        : {}),
    });
    if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  const write = (more: object) => ({ commandId: randomUUID(), by: 'lea', ...more });
  let now = START;
  const rack = await TestRack.open(() => now, PLACES);
  const pass = async (passMs: number): Promise<Cost> => {
    now += passMs;
    rack.machine += 1000;
    child.send({ passMs });
    return said<Cost>(child);
  };
  const { rules } = await ask<Shop>('GET', '/api/shop');
  await ask(
    'PUT',
    '/api/shop/rules',
    write({ rules: { ...rules, places: PLACES, instruments: rack.settings() } }),
  );
  const { id: modelId } = await ask<{ id: string }>(
    'POST',
    '/api/models',
    write({ model: { ...PLAIN, c20Ah: 20 } }),
  );

  const jobs: string[] = [];
  const charges: string[] = [];
  for (let i = 1; i <= PLACES; i++) {
    const { jobId } = await ask<{ jobId: string }>(
      'POST',
      '/api/batteries',
      write({
        tag: `T-${String(i).padStart(3, '0')}`,
        modelId,
        dateCode: 'x',
        owner: `Place ${i}`,
        promisedAt: null,
      }),
    );
    jobs.push(jobId);
  }
  // All of them from the box to the charge, waits together.
  for (const jobId of jobs) {
    for (;;) {
      const { job, procedure } = await ask<{ job: JobWire; procedure: Procedure }>(
        'GET',
        `/api/jobs/${jobId}`,
      );
      const settled = settle({ procedure, plan: job.plan, state: job.state }, now);
      const { current } = settled.state;
      if (!current || stepById(procedure, current.stepId).kind === 'charge') break;
      if (current.dueAt !== null) await pass(current.dueAt - now);
      else
        await ask(
          'POST',
          `/api/jobs/${jobId}/commands`,
          write({ command: commandOf({ minute: 0, verb: 'ok', words: [] }, settled) }),
        );
    }
  }
  for (const [i, jobId] of jobs.entries()) {
    rack.rack.clip(i + 1, {
      tag: jobId,
      chemistry: 'agm',
      c20Ah: 20,
      cells: 6,
      charge: 0.3 + 0.01 * i,
      temperatureC: 20,
    });
    const { chargeId } = await ask<{ chargeId: string }>(
      'POST',
      `/api/jobs/${jobId}/live`,
      write({ stepId: 'charge', place: i + 1, charge: null }),
    );
    charges.push(chargeId);
  }
  const context = await (await browser()).newContext();
  for (let i = 0; i < PAGES; i++) {
    const page = await context.newPage();
    await page.goto(url + (i % 2 === 0 ? '/' : `/jobs/${jobs[i]}`));
  }
  const before = await pass(1000);
  const posts: number[] = [];
  const looks: number[] = [];
  let most = 0;
  let after = before;
  for (let i = 0; i < LOOKS; i++) {
    const looked = performance.now();
    const look = pass(1000);
    if (i % 5 === 0) {
      const posted = performance.now();
      await ask(
        'POST',
        `/api/jobs/${jobs[i % PLACES]}/commands`,
        write({ command: { type: 'read', role: 'spot', values: { voltageV: 13 + i / 1000 } } }),
      );
      posts.push(performance.now() - posted);
    }
    after = await look;
    looks.push(performance.now() - looked);
    await new Promise((resolve) =>
      setTimeout(resolve, Math.max(0, EVERY_MS - (performance.now() - looked))),
    );
    most = Math.max(most, after.rssMb);
  }
  const kept = await Promise.all(charges.map((id) => ask<ChargeWire>('GET', `/api/charges/${id}`)));
  const samples = kept.reduce((sum, c) => sum + c.sampleCount, 0);
  const expected = PLACES * (LOOKS + 1);
  const cpu = after.cpuMs - before.cpuMs;
  const [look, post] = [spreadOf(looks), spreadOf(posts)];
  say(
    'server time a look, of a core at one look a second',
    `${((100 * cpu) / (LOOKS * 1000)).toFixed(1)} %`,
    `${(cpu / LOOKS).toFixed(1)} ms a look for ${PLACES} places, pages and posts`,
  );
  say(
    'a look from asking the instruments to the disk, p50 / p95',
    `${look.p50.toFixed(0)} / ${look.p95.toFixed(0)} ms`,
    'looks are 1000 ms apart',
  );
  say(
    'a reading posted meanwhile to its acknowledgment, p95',
    `${post.p95.toFixed(0)} ms`,
    `p50 ${post.p50.toFixed(0)} ms`,
  );
  say('server memory, most', `${most.toFixed(0)} MB`);
  say(
    'samples lost',
    String(expected - samples),
    `${samples} kept of ${expected}; still running: ${kept.filter((c) => c.mode === 'running').length} of ${PLACES}`,
  );
  await context.close();
  child.send({ close: true });
  await rack.close();
}

const said = <T>(child: ChildProcess): Promise<T> =>
  new Promise((resolve) => child.once('message', (message) => resolve(message as T)));
