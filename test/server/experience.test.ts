import { expect } from 'chai';
import type { Answers } from '../../src/contract/answers.ts';
import type { Lesson } from '../../src/core/recovery/learning.ts';
import { TestBench } from '../support/bench.ts';

type Learnt = Answers['experience'];

describe('what the shop’s own recoveries teach', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.demo();
  });
  after(() => bench.close());

  const read = async (query = ''): Promise<Learnt> =>
    (await bench.get<Learnt>(`/api/experience${query}`)).body;
  const lessons = async (): Promise<{ closedAt: number; lesson: Lesson | null }[]> => {
    const rows = await bench.store.tables.recoverySummaries.findAll({ raw: true });
    return rows.map(({ closedAt, body }) => ({
      closedAt,
      lesson: (typeof body === 'string' ? (JSON.parse(body) as typeof body) : body).lesson,
    }));
  };

  it('is counted battery by battery, also those that no route was ever taken with', async () => {
    const all = (await lessons()).flatMap(({ lesson }) => (lesson?.found ? [lesson.found] : []));
    const { experience, held } = await read();
    expect(experience.of).to.equal(all.length).and.to.be.greaterThan(10);
    for (const { family, found } of experience.families)
      expect(found, family).to.equal(all.filter((f) => f.found === family).length);
    // Two went to the recycler straight from the diagnosis, and were bad cells.
    expect(experience.families.find((f) => f.family === 'bad-cell')!.found).to.be.at.least(2);
    expect(held.of).to.equal(experience.of);
    const sum = held.byFamily.reduce((total, r) => total + r.found, 0);
    expect(sum).to.equal(held.of);
  });

  it('is read as it was known at a moment, and begins anew where a lead says so', async () => {
    const ends = (await lessons()).filter((l) => l.lesson?.found).map((l) => l.closedAt);
    const middle = ends.toSorted((a, b) => a - b)[Math.floor(ends.length / 2)]!;
    const then = await read(`?asOf=${middle}`);
    expect(then.experience.of).to.equal(ends.filter((at) => at <= middle).length);
    await bench.changeRules({ learnSince: middle + 1 });
    expect((await read()).experience.of).to.equal(ends.filter((at) => at > middle).length);
    expect((await read(`?asOf=${middle}`)).experience.of).to.equal(0);
    await bench.changeRules({ learnSince: null });
    expect((await read()).experience.of).to.equal(ends.length);
  });
});
