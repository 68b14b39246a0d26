import { expect } from 'chai';
import type { Comparison } from '../../src/core/rehearsal/compare.ts';
import type { Odds } from '../../src/core/rehearsal/outlook.ts';
import type { Rehearsal } from '../../src/core/rehearsal/rehearse.ts';
import { Rehearser } from '../../src/web/views/rehearsal/rehearser.ts';

/** A promise that is settled from outside. */
function held<T>(): {
  promise: Promise<T>;
  give: (value: T) => void;
  fail: (error: Error) => void;
} {
  let give!: (value: T) => void;
  let fail!: (error: Error) => void;
  const promise = new Promise<T>((resolve, reject) => ([give, fail] = [resolve, reject]));
  return { promise, give, fail };
}

const turn = () => new Promise((resolve) => setImmediate(resolve));
const plan = (name: string) => ({ name }) as unknown as Comparison;
const ODDS = [{}] as unknown as Odds[];
const DRAWN = [{}] as unknown as Rehearsal[];

/** A worker whose answers come when the test says so, in the order of what it was asked. */
class SlowWorker {
  readonly log: string[] = [];
  readonly draws: ReturnType<typeof held<Rehearsal[]>>[] = [];
  readonly runs: (ReturnType<typeof held<Odds[] | null>> & {
    tell: (done: number, odds: Odds[]) => void;
  })[] = [];
  readonly rests: (() => void)[] = [];
  readonly rehearser = new Rehearser(
    {
      draw: (comparison) => {
        this.log.push(`draw ${(comparison as unknown as { name: string }).name}`);
        const answer = held<Rehearsal[]>();
        this.draws.push(answer);
        return answer.promise;
      },
      odds: (comparison, _, tell) => {
        this.log.push(`odds ${(comparison as unknown as { name: string }).name}`);
        const answer = held<Odds[] | null>();
        this.runs.push({ ...answer, tell });
        return answer.promise;
      },
      cancel: () => {
        // As the worker does it: the run under way answers that it was given up.
        this.runs.at(-1)?.give(null);
        return Promise.resolve();
      },
    },
    () => new Promise((resolve) => this.rests.push(resolve)),
  );
}

describe('asking for rehearsals', () => {
  it('the odds of a plan are worked out however long its drawing took: neither gives the other up', async () => {
    const w = new SlowWorker();
    void w.rehearser.ask(plan('A'), 40);
    void w.rehearser.ask(plan('B'), 40);
    // The hand has rested long before a busy machine has drawn the first of the two.
    for (const rest of w.rests) rest();
    await turn();
    expect(w.log).to.deep.equal(['draw A']);
    w.draws[0]!.give(DRAWN);
    await turn();
    expect(w.log).to.deep.equal(['draw A', 'draw B']);
    w.draws[1]!.give(DRAWN);
    await turn();
    expect(w.log, 'after the drawing of the same plan, once').to.deep.equal([
      'draw A',
      'draw B',
      'odds B',
    ]);
    w.runs[0]!.give(ODDS);
    await turn();
    expect(w.rehearser.shown).to.include({ odds: ODDS, done: null, failed: null });
    expect(w.rehearser.shown.drawn?.comparison).to.deep.equal(plan('B'));
  });

  it('plans that were overtaken are not drawn, and what is told of them later changes nothing', async () => {
    const w = new SlowWorker();
    for (const name of ['A', 'B', 'C']) void w.rehearser.ask(plan(name), 40);
    for (const rest of w.rests) rest();
    w.draws[0]!.give(DRAWN);
    await turn();
    expect(w.log).to.deep.equal(['draw A', 'draw C']);
    w.draws[1]!.give(DRAWN);
    await turn();
    void w.rehearser.ask(plan('D'), 40);
    w.runs[0]!.tell(30, ODDS);
    await turn();
    expect(w.rehearser.shown).to.include({ odds: null, done: null });
  });

  it('enough is enough: what is known stays', async () => {
    const w = new SlowWorker();
    void w.rehearser.ask(plan('A'), 2000);
    w.rests[0]!();
    w.draws[0]!.give(DRAWN);
    await turn();
    w.runs[0]!.tell(60, ODDS);
    expect(w.rehearser.shown.done).to.equal(60);
    w.rehearser.cancel();
    await turn();
    expect(w.rehearser.shown).to.include({ odds: ODDS, done: null });
  });

  it('a drawing that fails is said, and the next one clears it', async () => {
    const w = new SlowWorker();
    void w.rehearser.ask(plan('A'), 40);
    w.draws[0]!.fail(new Error('No twin.'));
    await turn();
    expect(w.rehearser.shown.failed).to.equal('No twin.');
    void w.rehearser.ask(plan('B'), 40);
    await turn();
    w.draws[1]!.give(DRAWN);
    await turn();
    expect(w.rehearser.shown).to.include({ failed: null });
  });
});
