import { expect } from 'chai';
import { ProblemError, Unreachable } from '../../src/web/line/api.ts';
import { type Entry, Outbox } from '../../src/web/line/outbox.ts';

const entry = (n: number): Entry => ({
  path: '/api/jobs/j/commands',
  body: { commandId: `id-${n}`, by: 'ann', command: { type: 'note', text: `${n}` } },
});

/** A shelf that outlives an outbox, as a browser's storage outlives its page. */
function shelf() {
  const kept = new Map<string, string>();
  return {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  };
}

const no = () =>
  Promise.reject(new ProblemError({ code: 'invalid', message: 'No.', fields: {} }, 422));
const gone = () => Promise.reject(new Unreachable());
const caught = (promise: Promise<unknown>) =>
  promise.then(
    () => null,
    (error: unknown) => error,
  );

describe('entries on their way to the server', () => {
  it('are written down before they are sent and crossed out when answered', async () => {
    const storage = shelf();
    let seen = -1;
    const outbox = new Outbox(storage, {
      send: async () => {
        seen = outbox.waiting().length;
        return { ok: true };
      },
    });
    expect(await outbox.send(entry(1))).to.deep.equal({ ok: true });
    expect(seen).to.equal(1);
    expect(outbox.waiting()).to.deep.equal([]);
  });

  it('are done with when the server says no', async () => {
    const outbox = new Outbox(shelf(), { send: no });
    expect(await caught(outbox.send(entry(1)))).to.be.instanceOf(ProblemError);
    expect(outbox.waiting()).to.deep.equal([]);
  });

  it('outlive a dead network and a closed page, and go in their order', async () => {
    const storage = shelf();
    const dead = new Outbox(storage, { send: gone });
    for (const n of [1, 2, 3])
      expect(await caught(dead.send(entry(n)))).to.be.instanceOf(Unreachable);
    const sent: string[] = [];
    const reopened = new Outbox(storage, {
      send: async (_path, body) => sent.push((body as Entry['body']).commandId),
    });
    expect(reopened.waiting()).to.have.length(3);
    await reopened.flush();
    expect(sent).to.deep.equal(['id-1', 'id-2', 'id-3']);
    expect(reopened.waiting()).to.deep.equal([]);
  });

  it('stop at the first that cannot be delivered, and go on past one that is refused', async () => {
    const storage = shelf();
    const dead = new Outbox(storage, { send: gone });
    for (const n of [1, 2, 3]) await caught(dead.send(entry(n)));
    let calls = 0;
    const flaky = new Outbox(storage, { send: () => ((calls += 1) === 1 ? no() : gone()) });
    await flaky.flush();
    expect(calls).to.equal(2);
    expect(flaky.waiting().map((e) => e.body.commandId)).to.deep.equal(['id-2', 'id-3']);
    // What was turned away while nobody looked stays to be seen.
    expect(flaky.refused().map((e) => [e.body.commandId, e.refusal])).to.deep.equal([
      ['id-1', 'No.'],
    ]);
    flaky.dismiss('id-1');
    expect(flaky.kept()).to.have.length(2);
  });

  it('are kept through a session that ran out, a crowded and a broken server, and a dead network; each is delivered once, in order', async () => {
    const storage = shelf();
    let clock = 0;
    let signedIn: string | false = 'ann';
    const troubles = [
      ...Array.from(
        { length: 5 },
        () => () =>
          Promise.reject(
            new ProblemError({ code: 'internal', message: 'Broken.', fields: {} }, 500),
          ),
      ),
      ...Array.from(
        { length: 3 },
        () => () =>
          Promise.reject(
            new ProblemError({ code: 'forbidden', message: 'Crowded.', fields: {} }, 429, 90_000),
          ),
      ),
      () => {
        signedIn = false;
        return Promise.reject(
          new ProblemError({ code: 'forbidden', message: 'Sign in first.', fields: {} }, 401),
        );
      },
      ...Array.from({ length: 4 }, () => gone),
      () =>
        Promise.reject(
          new ProblemError({ code: 'internal', message: 'The disk is full.', fields: {} }, 507),
        ),
    ];
    const taken: string[] = [];
    let asked = 0;
    const outbox = new Outbox(storage, {
      now: () => clock,
      mayGo: () => signedIn,
      send: (_path, body) => {
        asked += 1;
        // Two that get through, then one that does not.
        const trouble = asked % 3 === 0 ? troubles.shift() : undefined;
        if (trouble) return trouble();
        taken.push((body as Entry['body']).commandId);
        return Promise.resolve({});
      },
    });
    for (let n = 0; n < 60; n++) {
      clock += 60_000;
      await caught(outbox.send(entry(n)));
      if (n % 7 === 0) await outbox.flush();
    }
    // Signed out, nothing goes; signed in as somebody else, only theirs would.
    const whileOut = asked;
    await outbox.flushNow();
    signedIn = 'lea';
    await outbox.flushNow();
    expect(asked).to.equal(whileOut);
    signedIn = 'ann';
    for (let i = 0; i < 60 && outbox.waiting().length > 0; i++) {
      clock += 120_000;
      await outbox.flush();
    }
    expect(troubles).to.deep.equal([]);
    expect(outbox.kept()).to.deep.equal([]);
    expect(taken).to.deep.equal(Array.from({ length: 60 }, (_, n) => `id-${n}`));
  });

  it('wait longer after each failure of the server, as long as it asks, and go at once when a person says so', async () => {
    let clock = 0;
    let calls = 0;
    let retryAfterMs = 0;
    const outbox = new Outbox(shelf(), {
      now: () => clock,
      send: () => {
        calls += 1;
        return Promise.reject(
          new ProblemError({ code: 'internal', message: 'Broken.', fields: {} }, 503, retryAfterMs),
        );
      },
    });
    await caught(outbox.send(entry(1)));
    const tries: number[] = [];
    for (; clock < 200_000; clock += 1000) {
      const before = calls;
      await outbox.flush();
      if (calls > before) tries.push(clock / 1000);
    }
    expect(tries.map((t, i) => t - (tries[i - 1] ?? 0))).to.deep.equal([3, 6, 12, 24, 48, 60]);
    retryAfterMs = 300_000;
    await outbox.flushNow();
    const before = calls;
    clock += 299_000;
    await outbox.flush();
    expect(calls).to.equal(before);
    clock += 2000;
    await outbox.flush();
    expect(calls).to.equal(before + 1);
  });

  it('are not sent twice at once, and tell who listens', async () => {
    let calls = 0;
    let let_go: (v: unknown) => void = () => undefined;
    const outbox = new Outbox(shelf(), {
      send: () => {
        calls += 1;
        return new Promise((resolve) => (let_go = resolve));
      },
    });
    let told = 0;
    const stop = outbox.subscribe(() => (told += 1));
    const sending = outbox.send(entry(1));
    await outbox.flush();
    expect(calls).to.equal(1);
    let_go({});
    await sending;
    expect(told).to.equal(2);
    stop();
  });
});
