import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { type Endpoint, ENDPOINTS } from '../../src/contract/endpoints.ts';
import type { JobWire } from '../../src/contract/wire.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import { type Procedure } from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { commandOf } from '../../src/server/demo/storyteller.ts';
import { joinStore } from '../../src/server/store/store.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { BY_KIND } from '../../test/support/battery.ts';
import { anyCommand, HERE, recoveryCommand } from '../../test/support/commands.ts';
import { gone, startShop } from '../../test/support/serverProcess.ts';
import { say, title } from './figures.ts';

const REQUESTS = Number(process.env['REQUESTS'] ?? 100_000);
const AT_ONCE = 32;
/** Jobs that are led on meanwhile, so that commands meet every step. */
const JOBS = 24;

const SURE: ReadonlySet<string> = new Set([
  'matchPack',
  'matchAcid',
  'confirmDone',
  'topUp',
  'endCharge',
  'read',
]);

/** Values of every shape, the odd ones more often than chance would bring them. */
const value = fc.oneof(
  fc.constantFrom<unknown>(
    null,
    true,
    '',
    'x',
    '\u0000',
    '\u202e',
    '＝1+1',
    '__proto__',
    'constructor',
    -1,
    0,
    1.5,
    1e29,
    12.6,
    [],
    {},
    [null],
    {
      constructor: null,
    },
  ),
  fc.string({ maxLength: 30 }),
  fc.double(),
  fc.integer(),
  fc.array(fc.anything({ maxDepth: 1 }), { maxLength: 4 }),
);

/** Requests against a server of its own: every address, every command, in and out of order. None may answer 5xx. */
export async function benchAttack(): Promise<void> {
  title(`Fuzz: ${REQUESTS.toLocaleString('en-GB')} requests, ${AT_ONCE} at a time`);
  const folder = await mkdtemp(join(tmpdir(), 'cork-ember-fuzz-'));
  const server = await startShop(folder);
  const send = (method: string, path: string, body?: unknown) =>
    fetch(server.url + path, {
      method,
      ...(body === undefined
        ? {}
        : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
  const post = async <T>(path: string, body: object): Promise<T> =>
    (await (await send('POST', path, { commandId: randomUUID(), ...body })).json()) as T;
  const lead = (
    await post<{ id: string }>('/api/people', {
      by: null,
      person: { name: 'Lead', initials: 'L', role: 'lead' },
    })
  ).id;
  const models: string[] = [];
  for (const model of Object.values(BY_KIND))
    models.push((await post<{ id: string }>('/api/models', { by: lead, model })).id);
  let taken = 0;
  /** One more battery, of the next kind and purpose. */
  const takeIn = async (): Promise<string> => {
    const n = taken++;
    const purpose = ['commission', 'recover', 'recharge', 'service', 'display'][n % 5];
    const battery = {
      by: lead,
      tag: `F-${1000 + n}`,
      count: 1,
      modelId: models[(n * 3) % models.length],
      dateCode: '2026-01',
      owner: 'Fuzz',
      promisedAt: null,
      purpose,
    };
    const { jobId } = await post<{ jobId?: string }>('/api/batteries', battery);
    return jobId ?? takeIn();
  };
  const jobs: string[] = [];
  while (jobs.length < JOBS) jobs.push(await takeIn());

  /** The step each job has in hand, as far as was heard. */
  const inHand = new Map<string, string>();
  /** Leads a job on by the step in hand, as a careful technician does; waits are cut. */
  const leadOn = async (id: string): Promise<void> => {
    const { job, procedure } = (await (await send('GET', `/api/jobs/${id}`)).json()) as {
      job: JobWire;
      procedure: Procedure;
    };
    const settled = settle({ procedure, plan: job.plan, state: job.state }, Date.now());
    const { current } = settled.state;
    if (!current) {
      // It has come to its end: another takes its place.
      jobs[jobs.indexOf(id)] = await takeIn();
      return;
    }
    inHand.set(id, current.stepId);
    try {
      const usual = current.dueAt
        ? { type: 'skip', stepId: current.stepId, reason: 'Fuzz goes on' }
        : commandOf({ minute: 0, verb: 'ok', words: [] }, settled);
      await send('POST', `/api/jobs/${id}/commands`, {
        commandId: randomUUID(),
        by: lead,
        command: SURE.has(usual.type) ? { ...usual, sure: true } : usual,
      });
    } catch {
      // No usual answer at that step: whatever comes next may have one.
    }
  };
  for (const id of jobs) await leadOn(id);

  const endpoints = (Object.values(ENDPOINTS) as Endpoint[]).filter(
    (e) => e.produces !== 'text/event-stream' && !e.path.includes('/pin'),
  );
  const quick = endpoints.filter((e) => e.produces !== 'application/pdf');
  const statuses = new Map<string, Map<number, number>>();
  const extra = fc.dictionary(
    fc.constantFrom(
      'values',
      'role',
      'cells',
      'ports',
      'answers',
      'place',
      'setA',
      'setV',
      'temperatureC',
      'voltageV',
      'ml',
      'lot',
      'code',
      'outcome',
      'route',
      'wake',
      'story',
      'minutes',
      'endV',
      'currentA',
      'cutoffV',
      'plan',
      'decision',
      'readingId',
      'text',
    ),
    value,
    { maxKeys: 5 },
  );
  const [commandPool, extraPool, valuePool] = [
    fc.sample(fc.oneof(anyCommand, recoveryCommand), 4000),
    fc.sample(extra, 4000),
    fc.sample(value, 4000),
  ];
  let next = 0;
  const one = async (): Promise<void> => {
    const i = next++;
    const pick = <T>(list: readonly T[], salt = 0): T =>
      list[((Math.imul(i + 1, 2_654_435_761) ^ Math.imul(salt, 40_503)) >>> 7) % list.length] as T;
    const deep = i % 2 === 0;
    // Paper is slow to draw; one request in forty asks for some.
    const endpoint = deep ? ENDPOINTS.sendCommand : pick(i % 20 === 1 ? endpoints : quick);
    const id = i % 11 === 0 ? randomUUID() : pick(jobs, 3);
    const path = endpoint.path
      .replace(':id', id)
      .replace(':tag', pick(['F-1001', 'F-1002', 'F-9999', '%00', 'x'], 1))
      .replace(':code', 'B1');
    const signed = {
      commandId: i % 17 === 0 ? valuePool[i % 4000] : randomUUID(),
      by: i % 13 === 0 ? valuePool[(i * 3) % 4000] : lead,
    };
    const command = commandPool[i % commandPool.length] as JobCommand;
    const here =
      'stepId' in command && command.stepId === HERE
        ? { ...command, stepId: inHand.get(id) ?? 'x' }
        : command;
    // One in four is no command that a page would send.
    const odd = i % 8 === 0 ? extraPool[(i * 31) % extraPool.length] : {};
    const body = deep
      ? { ...signed, command: { ...here, ...odd } }
      : {
          ...signed,
          ...(extraPool[i % extraPool.length] as object),
          x: valuePool[i % valuePool.length],
        };
    const query =
      endpoint.method === 'get' && i % 3 === 0
        ? `?q=${encodeURIComponent(String(valuePool[i % 4000]))}`
        : '';
    const status = await send(
      endpoint.method.toUpperCase(),
      path + query,
      endpoint.method === 'get' ? undefined : body,
    ).then(
      async (r) => {
        await r.arrayBuffer();
        return r.status;
      },
      () => 0,
    );
    const name = `${endpoint.method.toUpperCase()} ${endpoint.path}`;
    const counts = statuses.get(name) ?? new Map<number, number>();
    statuses.set(name, counts.set(status, (counts.get(status) ?? 0) + 1));
    if (i % 20 === 0) await leadOn(pick(jobs, 5));
  };
  const began = performance.now();
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      while (next < REQUESTS) await one();
    }),
  );
  const seconds = (performance.now() - began) / 1000;
  const total = new Map<number, number>();
  let broken = 0;
  for (const [name, counts] of statuses)
    for (const [status, count] of counts) {
      total.set(status, (total.get(status) ?? 0) + count);
      if (status < 500 && status !== 0) continue;
      broken += count;
      say(`✕ ${name}`, `${count} × ${status}`);
    }
  say('requests a second', (REQUESTS / seconds).toFixed(0));
  say(
    'answers',
    [...total]
      .sort((a, b) => a[0] - b[0])
      .map(([s, n]) => `${n} × ${s}`)
      .join(', '),
  );
  say('addresses reached', `${statuses.size}`);
  say('5xx or none', `${broken}`);
  server.process.kill('SIGTERM');
  await gone(server.process);
  const store = await joinStore(join(folder, 'shop', 'bench.sqlite'));
  const { differences, events, jobs: told } = await verifyShop(store);
  const steps = (await store.tables.events.findAll({ where: { type: 'step.done' }, raw: true }))
    .length;
  await store.close();
  say(
    'afterwards',
    `${events} entries tell ${told} jobs, ${steps} steps done; ${differences.length} differences`,
  );
  await rm(folder, { recursive: true, force: true });
}
