import { expect } from 'chai';
import { ProblemError } from '../../src/web/line/api.ts';
import { queryClient } from '../../src/web/line/queries.ts';

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
});
