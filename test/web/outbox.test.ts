import { expect } from 'chai';
import { ProblemError, Unreachable } from '../../src/web/app/api.ts';
import { type Entry, Outbox } from '../../src/web/app/outbox.ts';

const entry = (n: number): Entry => ({ path: '/api/jobs/j/commands', body: { commandId: `id-${n}`, by: 'ann', command: { type: 'note', text: `${n}` } } });

/** A shelf that outlives an outbox, as a browser's storage outlives its page. */
function shelf() {
  const kept = new Map<string, string>();
  return { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => void kept.set(key, value) };
}

const no = () => Promise.reject(new ProblemError({ code: 'invalid', message: 'No.', fields: {} }, 422));
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
    const outbox = new Outbox(storage, async () => {
      seen = outbox.waiting().length;
      return { ok: true };
    });
    expect(await outbox.send(entry(1))).to.deep.equal({ ok: true });
    expect(seen).to.equal(1);
    expect(outbox.waiting()).to.deep.equal([]);
  });

  it('are done with when the server says no', async () => {
    const outbox = new Outbox(shelf(), no);
    expect(await caught(outbox.send(entry(1)))).to.be.instanceOf(ProblemError);
    expect(outbox.waiting()).to.deep.equal([]);
  });

  it('outlive a dead network and a closed page, and go in their order', async () => {
    const storage = shelf();
    const dead = new Outbox(storage, gone);
    for (const n of [1, 2, 3]) expect(await caught(dead.send(entry(n)))).to.be.instanceOf(Unreachable);
    const sent: string[] = [];
    const reopened = new Outbox(storage, async (_path, body) => sent.push((body as Entry['body']).commandId));
    expect(reopened.waiting()).to.have.length(3);
    await reopened.flush();
    expect(sent).to.deep.equal(['id-1', 'id-2', 'id-3']);
    expect(reopened.waiting()).to.deep.equal([]);
  });

  it('stop at the first that cannot be delivered, and go on past one that is refused', async () => {
    const storage = shelf();
    const dead = new Outbox(storage, gone);
    for (const n of [1, 2, 3]) await caught(dead.send(entry(n)));
    let calls = 0;
    const flaky = new Outbox(storage, () => ((calls += 1) === 1 ? no() : gone()));
    await flaky.flush();
    expect(calls).to.equal(2);
    expect(flaky.waiting().map((e) => e.body.commandId)).to.deep.equal(['id-2', 'id-3']);
  });

  it('are not sent twice at once, and tell who listens', async () => {
    let calls = 0;
    let let_go: (v: unknown) => void = () => undefined;
    const outbox = new Outbox(shelf(), () => {
      calls += 1;
      return new Promise((resolve) => (let_go = resolve));
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
