import { EventEmitter } from 'node:events';
import { expect } from 'chai';
import Joi from 'joi';
import pino from 'pino';
import { bounds, withoutTurning } from '../../src/contract/bounded.ts';
import { importModelsSchema } from '../../src/contract/shopSchemas.ts';
import { csvCell } from '../../src/core/exchange/csv.ts';
import { crowd } from '../../src/server/http/crowd.ts';
import type { HttpProblem } from '../../src/server/http/problem.ts';
import { checked, problemHandler } from '../../src/server/http/problem.ts';

const caught = (work: () => unknown): HttpProblem => {
  try {
    work();
  } catch (error) {
    return error as HttpProblem;
  }
  throw new Error('Nothing was thrown.');
};

describe('what comes in', () => {
  it('is turned away by its length before its schema looks at it', () => {
    let lookedAt = 0;
    const models = Array.from({ length: 690_000 }, () => ({}));
    Object.defineProperty(models, 0, { get: () => (lookedAt += 1), enumerable: true });
    const bomb = { commandId: 'x', by: 'ann', models };
    expect(caught(() => checked(importModelsSchema, bomb))).to.include({ status: 413 });
    expect(lookedAt, 'looks at what is in it').to.equal(0);
    // As many as may come, all of them wrong: one fault is enough.
    const wrong = { ...bomb, models: Array.from({ length: 2000 }, () => ({ a: 1, b: 2, c: 3 })) };
    const { status, problem } = caught(() => checked(importModelsSchema, wrong));
    expect([status, Object.keys(problem.fields).length]).to.deep.equal([400, 1]);
  });

  it('holds no NUL, however deep, and nothing that turns the reading order', () => {
    const schema = Joi.object({
      a: Joi.array().items(Joi.object({ b: Joi.string() })),
      constructor: Joi.any(),
    });
    expect(bounds(schema, { a: [{ b: 'x\0' }] })).to.include({ path: 'b', tooLarge: false });
    expect(caught(() => checked(schema, { a: [{ b: '\0' }] })).status).to.equal(400);
    expect(
      checked<{ a: { b: string }[] }>(schema, { a: [{ b: 'LK\u202e-\u20660412\u200f' }] }).a[0]!.b,
    ).to.equal('LK-0412');
    expect(withoutTurning({ n: 1, t: null, u: undefined, ok: true })).to.deep.equal({
      n: 1,
      t: null,
      u: undefined,
      ok: true,
    });
  });

  it('and goes out again without what a spreadsheet would run', () => {
    for (const sign of ['=', '+', '-', '@', '＝', '＋', '－', '＠', '\u202e=', '\ufeff='])
      expect(csvCell(`${sign}1+1`), sign).to.match(/^"?'/);
    expect(csvCell('a\u2028b')).to.equal('ab');
  });
});

describe('a crowd of requests', () => {
  const arrive = (enter: ReturnType<typeof crowd>) => {
    const response = Object.assign(new EventEmitter(), {
      closed: false,
      setHeader: () => undefined,
    });
    let state = 'waits';
    const done = Promise.resolve(
      enter({} as never, response as never, () => (state = 'inside')),
    ).catch(() => (state = 'turned away'));
    return {
      response,
      done,
      state: () => state,
      leave: () => {
        response.closed = true;
        response.emit('close');
      },
    };
  };
  const settle = () => new Promise((resolve) => setImmediate(resolve));

  it('is let in so many at a time, waits in turn, and the rest is told no', async () => {
    const enter = crowd(2, 2);
    const all = Array.from({ length: 6 }, () => arrive(enter));
    await settle();
    expect(all.map((a) => a.state())).to.deep.equal([
      'inside',
      'inside',
      'waits',
      'waits',
      'turned away',
      'turned away',
    ]);
    // Whoever goes while waiting takes nobody's turn.
    all[2]!.response.closed = true;
    all[0]!.leave();
    await settle();
    expect(all[2]!.state()).to.equal('waits');
    expect(all[3]!.state()).to.equal('inside');
    all[1]!.leave();
    all[3]!.leave();
    const next = [arrive(enter), arrive(enter), arrive(enter)];
    await settle();
    expect(next.map((a) => a.state())).to.deep.equal(['inside', 'inside', 'waits']);
  });
});

describe('a failure of the server', () => {
  const answered = (error: unknown) => {
    const lines: string[] = [];
    const log = pino({ level: 'error' }, { write: (line: string) => void lines.push(line) });
    const sent: {
      status: number;
      body: { error: { message: string } };
      headers: Record<string, unknown>;
    } = {
      status: 0,
      body: { error: { message: '' } },
      headers: {},
    };
    const response = {
      headersSent: false,
      setHeader: (name: string, value: unknown) => (sent.headers[name] = value),
      status: (code: number) => ({
        json: (body: never) => ((sent.status = code), (sent.body = body)),
      }),
    };
    problemHandler(log)(
      error,
      { method: 'GET', path: '/api/x' } as never,
      response as never,
      () => undefined,
    );
    return {
      ...sent,
      log: lines.map(
        (line) => JSON.parse(line) as { number: string; err: { message: string; stack: string } },
      ),
    };
  };

  it('is logged whole, with a number that the page shows, and tells nothing of the inside', () => {
    const { status, body, log, headers } = answered(new Error('secret path /etc'));
    expect(status).to.equal(500);
    expect(log[0]!.err.message).to.equal('secret path /etc');
    expect(log[0]!.err.stack).to.include('bounds.test.ts');
    expect(body.error.message)
      .to.match(new RegExp(`Its number in the log: ${log[0]!.number}\\.$`))
      .and.not.include('secret');
    expect(headers['X-Request-Id']).to.equal(log[0]!.number);
  });
  it('a full disk and a busy file are told as such, and asked again later', () => {
    expect(answered(Object.assign(new Error('x'), { parent: { code: 'SQLITE_FULL' } })))
      .to.have.nested.property('body.error.message')
      .that.includes('The disk is full');
    const busy = answered(Object.assign(new Error('x'), { parent: { code: 'SQLITE_BUSY' } }));
    expect([busy.status, busy.headers['Retry-After']]).to.deep.equal([503, 2]);
  });
});
