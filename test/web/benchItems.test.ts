import { expect } from 'chai';
import type { BenchWire, JobWire } from '../../src/contract/wire.ts';
import { benchAt } from '../../src/web/line/benchItems.ts';
import { Driver, HOUR, MINUTE } from '../support/battery.ts';

/** A bench with jobs as their drivers have left them. */
function benchOf(...drivers: Driver[]): BenchWire {
  const jobs = drivers.map(
    ({ job }, i) =>
      ({
        id: `j${i}`,
        battery: { tag: `T-00${i}` },
        procedureId: 'p',
        plan: job.plan,
        state: job.state,
        seq: 1,
      }) as JobWire,
  );
  return { procedures: { p: drivers[0]!.job.procedure }, jobs };
}

describe('the bench at one moment', () => {
  it('is worked out once a tick, and each job once until something falls due in it', () => {
    const [waiting, charging] = [new Driver().to('dwell'), new Driver().to('charge').startCharge()];
    const bench = benchOf(waiting, charging);
    const first = benchAt(bench, waiting.now + MINUTE);
    expect(benchAt(bench, waiting.now + MINUTE)).to.equal(first);
    const second = benchAt(bench, waiting.now + 2 * MINUTE);
    expect(second.items[0]).to.equal(first.items[0]);
    expect(second.items[1]).to.equal(first.items[1]);
    // The wait is over: that job is another now, the other one is not.
    const later = benchAt(bench, waiting.now + HOUR);
    expect(later.items[0]!.job.state.current?.stepId).to.equal('lift');
    expect(later.items[1]).to.equal(first.items[1]);
  });

  it('keeps its lists as long as they say the same, so that nothing is drawn anew for a tick', () => {
    const [waiting, charging] = [new Driver().to('dwell'), new Driver().to('charge').startCharge()];
    const bench = benchOf(waiting, charging);
    const first = benchAt(bench, waiting.now + MINUTE);
    const second = benchAt(bench, waiting.now + MINUTE + 1000);
    expect(second).to.not.equal(first);
    for (const list of ['items', 'open', 'ended', 'lines', 'order'] as const)
      expect(second[list], list).to.equal(first[list]);
    // The wait falls due: the lists are others, and what stands alike in them is not.
    const later = benchAt(bench, waiting.now + HOUR);
    expect(later.lines).to.not.equal(first.lines);
    expect(later.order.map((item) => item.wire.id)).to.have.members(['j0', 'j1']);
    expect(later.lines.flatMap((line) => line.jobs)).to.deep.equal(later.order);
  });

  it('undoes what a clock that is set back had brought about', () => {
    const d = new Driver().to('dwell');
    const bench = benchOf(d);
    const stepAt = (now: number) => benchAt(bench, now).items[0]!.job.state.current?.stepId;
    expect(stepAt(d.now + MINUTE)).to.equal('dwell');
    expect(stepAt(d.now + HOUR)).to.equal('lift');
    expect(stepAt(d.now + 2 * MINUTE)).to.equal('dwell');
  });

  it('takes a job that has changed as the new one it is', () => {
    const d = new Driver().to('dwell');
    const before = benchOf(d);
    const known = benchAt(before, d.now).items[0];
    d.send({ type: 'note', text: 'Bubbles late' });
    const after = benchAt(benchOf(d), d.now);
    expect(after.items[0]).to.not.equal(known);
    expect(after.items[0]!.job.state.notes).to.have.length(1);
    expect([after.open.length, after.ended.length, after.lines.length]).to.deep.equal([1, 0, 1]);
  });
});
