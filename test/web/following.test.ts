import { QueryObserver } from '@tanstack/react-query';
import { expect } from 'chai';
import { LAST_CHANGE } from '../../src/contract/lastChange.ts';
import type { ChangeNotice, JobWire } from '../../src/contract/wire.ts';
import { answeredAfter, ask, oldestAnswer } from '../../src/web/line/api.ts';
import { followChanges } from '../../src/web/line/following.ts';
import { jobQuery, keepJob, queryClient } from '../../src/web/line/queries.ts';
import { awaited } from '../../src/web/line/underWay.ts';
import { Driver } from '../support/battery.ts';

/** A line to the server, in the test's hand. */
class FakeLine {
  static newest: FakeLine;
  onopen: () => void = () => undefined;
  onerror: () => void = () => undefined;
  onmessage: (message: { data: string; lastEventId: string }) => void = () => undefined;
  constructor(readonly address: string) {
    FakeLine.newest = this;
  }
  close(): void {
    this.onmessage = () => undefined;
  }
  tell(notice: ChangeNotice, lastEventId = ''): void {
    this.onmessage({ data: JSON.stringify(notice), lastEventId });
  }
}

const soon = () => new Promise((resolve) => setTimeout(resolve, 30));

describe('a page that follows what changes', () => {
  const usual = { fetch: globalThis.fetch, EventSource: globalThis.EventSource };
  /** Paths that were asked for, in order. */
  let asked: string[] = [];
  /** What the server answers, by path; it may keep one waiting. */
  let answers: Record<string, () => unknown> = {};
  let change = 'run.1';
  let stop: () => void = () => undefined;
  const leave: (() => void)[] = [];

  before(() => {
    globalThis.fetch = async (input) => {
      const path = String(input);
      asked.push(path);
      const read = change;
      const answer = await answers[path]?.();
      return Response.json(answer ?? {}, { headers: { [LAST_CHANGE]: read } });
    };
    globalThis.EventSource = FakeLine as never;
  });
  beforeEach(() => {
    asked = [];
    answers = { '/api/clock': () => ({ now: 0, rate: 1, demo: false, machine: null }) };
  });
  afterEach(() => {
    stop();
    for (const left of leave.splice(0)) left();
    queryClient.clear();
  });
  after(() => Object.assign(globalThis, usual));

  /** Shows something, as a view does. */
  const shows = (key: string, path: string): void => {
    const queryFn = () => fetch(path).then((answer) => answer.json() as unknown);
    const view = new QueryObserver(queryClient, { queryKey: [key], queryFn, retry: false });
    leave.push(view.subscribe(() => undefined));
  };
  const follows = (): FakeLine => {
    stop = followChanges(() => undefined);
    FakeLine.newest.onopen();
    return FakeLine.newest;
  };

  it('begins after the oldest answer that it may show, whichever came last', async () => {
    change = 'run.7';
    await ask('claims');
    change = 'run.4';
    await ask('claims');
    change = 'run.9';
    await ask('claims');
    expect(oldestAnswer()).to.equal('run.4');
    // What was counted by another start of the server cannot be compared: the older stands.
    answeredAfter('other.1');
    expect(oldestAnswer()).to.equal('run.4');
    expect(follows().address).to.equal('/api/stream?since=run.4');
    stop();
    // Later it begins after what it has heard.
    const line = follows();
    line.tell({ topic: 'plans' }, 'run.12');
    line.tell({ topic: 'charge', live: {} });
    stop();
    expect(follows().address).to.equal('/api/stream?since=run.12');
  });

  it('asks again for what a notice names, and for nothing else', async () => {
    shows('lots', '/lots');
    shows('shelf', '/shelf');
    await soon();
    const line = follows();
    asked = [];
    line.tell({ topic: 'lots' });
    await soon();
    expect(asked.filter((path) => !path.startsWith('/api/'))).to.deep.equal(['/lots']);
  });

  it('asks again for what was only being asked for when it changed', async () => {
    let letGo: (text: string) => void = () => undefined;
    answers['/lots'] = () => new Promise((resolve) => (letGo = resolve));
    shows('lots', '/lots');
    await soon();
    const line = follows();
    line.tell({ topic: 'lots' });
    answers['/lots'] = () => 'after the change';
    letGo('before the change');
    await soon();
    expect(asked.filter((path) => path === '/lots')).to.have.length(2);
    expect(queryClient.getQueryData(['lots'])).to.equal('after the change');
  });

  it('asks for everything where more was missed than can be told, and for what failed after a short loss', async () => {
    answers['/lots'] = () => Promise.reject(new Error('no line'));
    shows('lots', '/lots');
    shows('shelf', '/shelf');
    await soon();
    const line = follows();
    line.onerror();
    asked = [];
    answers['/lots'] = () => 'there again';
    line.onopen();
    await soon();
    expect(asked.filter((path) => !path.startsWith('/api/'))).to.deep.equal(['/lots']);
    asked = [];
    line.tell({ topic: 'anew' });
    await soon();
    expect(asked.filter((path) => !path.startsWith('/api/'))).to.have.members(['/lots', '/shelf']);
    expect(asked).to.include('/api/clock');
  });

  it('waits for the answer of its own command instead of asking for the job, and asks where another one acted', async () => {
    const { job } = new Driver().to('dwell');
    const wireAt = (seq: number) =>
      ({ id: 'a', seq, procedureId: 'p', plan: job.plan, state: job.state }) as JobWire;
    const jobAsked = () => asked.filter((path) => path === '/api/jobs/a').length;
    answers['/api/jobs/a'] = () => ({ job: wireAt(1), procedure: job.procedure });
    const view = new QueryObserver(queryClient, { ...jobQuery('a'), staleTime: Infinity });
    leave.push(view.subscribe(() => undefined));
    await soon();
    const line = follows();
    asked = [];

    // The notice overtakes the answer.
    let answer: (seq: number) => void = () => undefined;
    const sent = new Promise<number>((resolve) => (answer = resolve)).then((seq) =>
      keepJob({ job: wireAt(seq), procedure: job.procedure }),
    );
    const sending = awaited('a', sent);
    line.tell({ topic: 'bench', jobId: 'a', seq: 2 });
    await soon();
    answer(2);
    await sending;
    await soon();
    expect(jobAsked()).to.equal(0);

    // Somebody else's command came in between: the answer is not all there is.
    const again = new Promise<number>((resolve) => (answer = resolve)).then((seq) =>
      keepJob({ job: wireAt(seq), procedure: job.procedure }),
    );
    const sendingAgain = awaited('a', again);
    line.tell({ topic: 'bench', jobId: 'a', seq: 4 });
    answers['/api/jobs/a'] = () => ({ job: wireAt(4), procedure: job.procedure });
    answer(3);
    await sendingAgain;
    await soon();
    expect(jobAsked()).to.equal(1);
    expect(queryClient.getQueryData<{ job: JobWire }>(['job', 'a'])?.job.seq).to.equal(4);

    // One that fails tells nothing.
    const failing = awaited('a', Promise.reject(new Error('no line'))).catch(() => 'failed');
    line.tell({ topic: 'bench', jobId: 'a', seq: 5 });
    expect(await failing).to.equal('failed');
    await soon();
    expect(jobAsked()).to.equal(2);
  });
});
