import { expect } from 'chai';
import { claimDecision, claimFrom, claimable, NEXT_STATUS } from '../../src/core/claims/claim.ts';
import { claimPaper } from '../../src/core/claims/claimPaper.ts';
import { type Commissioned, failuresOf } from '../../src/core/results/failures.ts';
import { type Recovered, recoveredBy } from '../../src/core/results/recovered.ts';
import { commissionSummary } from '../../src/core/results/commissionSummary.ts';
import { Driver, START } from '../support/battery.ts';

const commissioned = (
  count: number,
  failed: number,
  fields: Partial<Commissioned> = {},
): Commissioned[] =>
  Array.from({ length: count }, (_, i) => ({
    model: 'M-1',
    end: i < failed ? 'failed' : 'first',
    attempts: i < failed ? 2 : 1,
    lots: ['L-1'],
    restV: 12.9,
    dateCode: '2025-08',
    supplier: 'One',
    ...fields,
  }));

describe('what fails', () => {
  it('says worse only where the bands of a share and of the rest do not meet', () => {
    const { all, by } = failuresOf([
      ...commissioned(8, 4, { model: 'M-2', supplier: 'Two' }),
      ...commissioned(30, 1),
    ]);
    expect([all.hits, all.of]).to.deep.equal([5, 38]);
    expect(by.model.map((r) => [r.key, r.failed, r.says])).to.deep.equal([
      ['M-2', 4, 'worse'],
      ['M-1', 1, 'better'],
    ]);
    expect(by.supplier[0]).to.include({ key: 'Two', commissioned: 8, first: 4, later: 0 });
    // One lot went into both: there is no rest to compare it with.
    expect(by.lot.map((r) => r.says)).to.deep.equal(['too-few']);
  });

  it('says of few that they tell nothing, even when all of them failed', () => {
    const { by } = failuresOf([...commissioned(4, 4, { model: 'M-2' }), ...commissioned(30, 0)]);
    expect(by.model[0]).to.include({ key: 'M-2', failed: 4, says: 'too-few' });
  });

  it('takes Wilson’s interval at 80 %: 1 of 10 lies between 3 and 28 in a hundred', () => {
    const [row] = failuresOf(commissioned(10, 1)).by.model;
    // Wilson 1927 at z = 1.2816, worked by hand: centre 0.1564, half width 0.1260 (n = 10, p = 0.1).
    expect(row!.share.low).to.be.closeTo(0.0304, 0.0005);
    expect(row!.share.high).to.be.closeTo(0.2824, 0.0005);
  });

  it('leaves out what nobody wrote down', () => {
    const { by } = failuresOf([
      ...commissioned(3, 0, { supplier: null, dateCode: '—', lots: [] }),
      ...commissioned(2, 0, { lots: ['L-2', 'L-3'] }),
    ]);
    expect(by.supplier.map((r) => [r.key, r.commissioned])).to.deep.equal([['One', 2]]);
    expect(by.dateCode.map((r) => r.commissioned)).to.deep.equal([2]);
    expect(by.lot.map((r) => r.key).sort()).to.deep.equal(['L-2', 'L-3']);
  });
});

describe('what recoveries brought', () => {
  const recovered = (fields: Partial<Recovered>): Recovered =>
    ({
      tag: 'R-1',
      closedAt: START,
      kind: 'agm-sealed',
      model: 'M-1',
      cause: 'sulfated',
      route: 'slow-restore',
      cycles: 1,
      outcome: 'return',
      before: 0.4,
      after: 0.8,
      hours: 60,
      weekLoss: 0.05,
      cameBack: null,
      ...fields,
    }) as Recovered;

  it('counts by route, gives middles of what was measured, and asks nothing of a year not over', () => {
    const rows = recoveredBy(
      [
        recovered({}),
        recovered({ after: 0.9, hours: 40, cameBack: true }),
        recovered({ outcome: 'recycle', after: 0.3, before: null, cameBack: null, weekLoss: null }),
        recovered({ route: 'pulse' as Recovered['route'], outcome: 'light', hours: 100 }),
      ],
      'route',
    );
    const [slow, pulse] = rows;
    expect(slow).to.include({
      key: 'slow-restore',
      tried: 3,
      before: 0.4,
      after: 0.8,
      hours: 60,
      weekLoss: 0.05,
    });
    expect([slow!.kept.hits, slow!.returned.hits]).to.deep.equal([2, 2]);
    expect([slow!.cameBack.hits, slow!.cameBack.of]).to.deep.equal([1, 1]);
    expect(pulse).to.include({ tried: 1, hours: 100 });
    expect([pulse!.kept.hits, pulse!.returned.hits]).to.deep.equal([1, 0]);
  });
});

describe('a claim', () => {
  const words = {
    temperatureUnit: 'C' as const,
    timeZone: 'UTC',
    nameOf: (id: string) => ({ ann: 'Ann Lee', lead: 'Lee Lead' })[id] ?? id,
  };
  const paperOf = (d: Driver) =>
    claimPaper(
      {
        number: 7,
        tag: 'LK-1',
        dateCode: '2024-06',
        takenInAt: START,
        model: d.job.plan.model,
        claim: {
          ...claimFrom(d.job),
          supplier: '',
          boughtOn: '2026-02-03',
          invoice: '',
          asks: 'credit',
          sendBy: '',
        },
        job: d.job,
      },
      words,
    );

  it('of broken foil tells what was seen, not what to do, and that it was not filled', () => {
    const d = new Driver().to('foil');
    d.send({ type: 'answerChecks', stepId: 'foil', answers: { foil: false } });
    expect(claimable(d.job)).to.equal(true);
    expect(claimFrom(d.job)).to.include({ cause: 'foil' });
    const paper = paperOf(d);
    expect(paper.what)
      .to.match(/foil over a port was broken/)
      .and.not.match(/Do not|claim/);
    expect(paper.facts.find((f) => f.label === 'Electrolyte lot')?.value).to.equal('not filled');
    expect(paper.facts.find((f) => f.label === 'Bought on')?.value).to.equal('3 Feb 2026');
    expect(paper.facts.find((f) => f.label === 'Bought from')?.value).to.equal('not known');
    expect(claimDecision(d.job)?.at).to.equal(d.job.state.refusal?.at);
    expect(commissionSummary(d.job).end).to.equal('failed');
  });

  it('goes from open to sent, and from there to settled or refused, and never straight', () => {
    expect(NEXT_STATUS.open).to.deep.equal(['sent']);
    expect(NEXT_STATUS.sent).to.include.members(['settled', 'refused']);
    expect(NEXT_STATUS.settled).to.deep.equal(['sent']);
  });
});
