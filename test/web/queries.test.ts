import { expect } from 'chai';
import { ProblemError } from '../../src/web/line/api.ts';
import type { BenchWire, JobWire } from '../../src/contract/wire.ts';
import { benchQuery, queryClient } from '../../src/web/line/queries.ts';
import { Driver } from '../support/battery.ts';

describe('what a page asks', () => {
  const { retry, retryDelay } = queryClient.getDefaultOptions().queries ?? {};
  const again = (count: number, error: Error): unknown =>
    typeof retry === 'function' && retry(count, error);
  const problem = (status: number, retryAfterMs?: number): ProblemError =>
    new ProblemError(
      { code: 'internal', message: 'No', fields: {} },
      status,
      ...(retryAfterMs === undefined ? [] : [retryAfterMs]),
    );

  it('is asked again where nobody answered or the server asks to wait, when it said; what it judged stands', () => {
    expect(again(0, new Error('no network'))).to.equal(true);
    expect(again(0, problem(429, 4000))).to.equal(true);
    expect(again(0, problem(404))).to.equal(false);
    expect(again(3, problem(429, 4000))).to.equal(false);
    if (typeof retryDelay !== 'function') throw new Error('No wait is said.');
    expect(retryDelay(0, problem(429, 4000))).to.equal(4000);
    expect(retryDelay(2, problem(429, 1000))).to.equal(4000);
  });

  it('keeps what was heard of a job while the whole bench was on its way', async () => {
    const { job } = new Driver().to('dwell');
    const benchOf = (seqs: Record<string, number>): BenchWire => ({
      procedures: { p: job.procedure },
      jobs: Object.entries(seqs).map(
        ([id, seq]) => ({ id, seq, procedureId: 'p', plan: job.plan, state: job.state }) as JobWire,
      ),
    });
    const usual = globalThis.fetch;
    globalThis.fetch = () => {
      // Heard of after the server had answered and before the page had taken it.
      queryClient.setQueryData(benchQuery.queryKey, benchOf({ a: 7, b: 1, gone: 9 }));
      return Promise.resolve(Response.json(benchOf({ a: 5, b: 2, c: 3 })));
    };
    try {
      const { jobs } = await queryClient.fetchQuery({ ...benchQuery, staleTime: 0 });
      expect(jobs.map(({ id, seq }) => [id, seq])).to.deep.equal([
        ['a', 7],
        ['b', 2],
        ['c', 3],
      ]);
    } finally {
      globalThis.fetch = usual;
      queryClient.clear();
    }
  });
});
