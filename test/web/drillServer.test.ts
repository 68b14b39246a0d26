import { expect } from 'chai';
import type { Answers } from '../../src/contract/answers.ts';
import { caseByCode } from '../../src/core/drill/cases/catalogue.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import { ProblemError } from '../../src/web/line/api.ts';
import type { Attempt } from '../../src/web/sandbox/attempts.ts';
import { DrillServer } from '../../src/web/sandbox/drillServer.ts';

const begun = (code: string): Attempt => ({
  id: 'go',
  code,
  personId: 'ann',
  startedAt: 0,
  endedAt: null,
  acts: [],
  result: null,
});

/** A case with its bench in the page; `kept` counts how often what was done was written down. */
function open(attempt: Attempt) {
  const kept: number[] = [];
  const server = new DrillServer(
    caseByCode(attempt.code)!,
    attempt,
    { rules: { ...DEFAULT_RULES, shopName: 'Ours', temperatureUnit: 'F' } },
    { name: 'Ann Test', initials: 'AT' },
    async ({ acts }) => void kept.push(acts.length),
  );
  const ask = <T>(method: string, path: string, body?: unknown) =>
    server.answer(method, path, body) as Promise<T>;
  const send = (command: JobCommand, commandId: string) =>
    ask<Answers['sendCommand']>('POST', `/api/jobs/${server.job().id}/commands`, {
      commandId,
      command,
    });
  return { server, ask, send, kept };
}

const refused = (promise: Promise<unknown>): Promise<ProblemError> =>
  promise.then(
    () => {
      throw new Error('It was not turned away.');
    },
    (error: unknown) => {
      if (error instanceof ProblemError) return error;
      throw error;
    },
  );

describe('the bench of a case in the page', () => {
  it('answers what the pages ask of a server: one battery with its promise, one job, the case’s chargers', async () => {
    const { ask, server } = open(begun('N-01'));
    const shop = await ask<Answers['shop']>('GET', '/api/shop');
    expect(shop.rules).to.include({ shopName: 'Ours', temperatureUnit: 'F' });
    expect(shop.people.map((p) => p.name)).to.deep.equal(['Ann Test']);
    const { jobs, procedures } = await ask<Answers['bench']>('GET', '/api/bench');
    expect(jobs).to.have.length(1);
    expect(Object.keys(procedures)).to.deep.equal([jobs[0]!.procedureId]);
    expect(jobs[0]!.battery.promisedAt! - server.bench.beganAt).to.equal(14 * 3_600_000);
    const { chargers } = await ask<Answers['chargers']>('GET', '/api/chargers');
    expect(chargers.map((c) => c.name)).to.deep.equal(server.drillCase.chargers.map((c) => c.name));
    const record = await ask<Answers['record']>('GET', `/api/batteries/${jobs[0]!.battery.tag}`);
    expect(record.jobs).to.have.length(1);
  });

  it('its clock is that of the case: it stands until something is done', async () => {
    const { ask, server } = open(begun('R-01'));
    const clock = () => ask<Answers['clock']>('GET', '/api/clock');
    const first = await clock();
    expect(first).to.include({ rate: 0, now: server.bench.beganAt });
    await server.act({ do: 'wait', seconds: 3600, alert: false });
    expect((await clock()).now - first.now).to.equal(3_600_000);
  });

  it('a command that is sent again is answered and not done again; each act is written down before its answer', async () => {
    const { send, server, kept } = open(begun('R-01'));
    await server.act({ do: 'look', what: 'case' });
    const before = server.bench.seq;
    const note: JobCommand = { type: 'note', text: 'Seen' };
    const { job } = await send(note, 'once');
    expect((await send(note, 'once')).job.seq).to.equal(job.seq);
    expect(job.seq).to.equal(before + 1);
    expect(kept).to.deep.equal([1, 2]);
  });

  it('is taken up again from its acts alone', async () => {
    const attempt = begun('R-01');
    const { server, send } = open(attempt);
    await server.act({ do: 'take', take: 'volts' });
    await send({ type: 'note', text: 'Reads low' }, 'n1');
    const again = open(structuredClone(attempt));
    expect(again.server.job()).to.deep.equal(server.job());
    expect(again.server.bench.shown).to.deep.equal(server.bench.shown);
  });

  it('what cannot be done is turned away in words and not written down; what it does not know is not there', async () => {
    const { server, ask, kept } = open(begun('N-01'));
    const load = await refused(server.act({ do: 'take', take: 'load' }));
    expect(load.status).to.equal(422);
    expect(load.message).to.match(/^It is dry/);
    expect(kept).to.deep.equal([]);
    expect((await refused(ask('GET', '/api/sets'))).status).to.equal(404);
    expect((await refused(ask('POST', '/api/batteries', {}))).status).to.equal(404);
  });
});
