import { expect } from 'chai';
import { type DrillAct, TAKE_KEYS } from '../../src/core/drill/acts.ts';
import { CASES, caseByCode } from '../../src/core/drill/cases/catalogue.ts';
import { type DrillCase, LOOKS, type MarkKey } from '../../src/core/drill/case.ts';
import { DrillBench, playCase } from '../../src/core/drill/drillBench.ts';
import { generatedCase, type GeneratedLevel, newCode } from '../../src/core/drill/generate.ts';
import { GoodTechnician, goodTechnician } from '../../src/core/drill/goodTechnician.ts';
import { failedBy, markCase } from '../../src/core/drill/marks.ts';
import { lookBack, turnedAt } from '../../src/core/drill/lookBack.ts';
import { CannotTake } from '../../src/core/drill/taking.ts';
import { reasonWords, shownWords } from '../../src/core/drill/words.ts';
import { MODELS } from '../../src/core/drill/cases/shop.ts';
import { BLANK_FACTS, factsOfJob, ownCase, SAID_LATER } from '../../src/core/drill/ownCase.ts';
import { trapsOf } from '../../src/core/drill/traps.ts';
import { leadAcidKind } from '../../src/core/batteries/kinds.ts';
import { Refused } from '../../src/core/job/commands.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { CarelessTechnician, type Habit } from '../support/carelessTechnician.ts';

/** As generator 1 has drawn them; another draw is another generator. */
const DRAWN: readonly (readonly (string | number)[])[] = [
  ['DR-C60', 'nothing', 'weak', 'passed', 0.965159, 0],
  ['DR-C11', 'sulfated', 'unknown', 'light passed', 0.484359, 3],
  ['DR-C45', 'sulfated', 'weak', 'light passed', 0.409263, 6],
  ['DR-C11', 'flat', 'weak', 'passed', 0.2149, 0],
];

const caseOf = (code: string): DrillCase => {
  const found = caseByCode(code);
  if (!found) throw new Error(`No case ${code}.`);
  return found;
};

/** What a careless technician does at each case, and the mark that fails by it: written before the marks were. */
const FAILS: Readonly<Record<string, readonly [Habit, MarkKey]>> = {
  'N-01': ['cuts-waits', 'procedure'],
  'N-02': ['invents', 'record'],
  'N-03': ['looks-at-nothing', 'procedure'],
  'N-04': ['looks-at-nothing', 'safety'],
  'N-05': ['looks-at-nothing', 'safety'],
  'N-06': ['looks-at-nothing', 'judgement'],
  'N-07': ['does-not-wait', 'procedure'],
  'N-08': ['boosts', 'safety'],
  'N-09': ['does-not-wait', 'procedure'],
  'N-10': ['cuts-waits', 'procedure'],
  'N-11': ['invents', 'safety'],
  'N-12': ['looks-at-nothing', 'safety'],
  'N-13': ['dawdles', 'economy'],
  'R-01': ['writes-off', 'judgement'],
  'R-02': ['looks-at-nothing', 'safety'],
  'R-03': ['looks-at-nothing', 'safety'],
  'R-04': ['skips-tests', 'procedure'],
  'R-05': ['skips-tests', 'procedure'],
  'R-06': ['charges-all', 'economy'],
  'R-07': ['skips-tests', 'procedure'],
  'R-08': ['writes-off', 'judgement'],
  'R-09': ['skips-tests', 'procedure'],
  'R-10': ['dawdles', 'economy'],
  'R-11': ['writes-off', 'judgement'],
  'R-12': ['looks-at-nothing', 'safety'],
  'R-13': ['invents', 'record'],
  'R-14': ['writes-off', 'judgement'],
  'R-15': ['skips-tests', 'procedure'],
  'R-16': ['skips-tests', 'procedure'],
  'R-17': ['charges-all', 'safety'],
  'R-18': ['loads-in-gas', 'safety'],
  'R-19': ['invents', 'record'],
  'R-20': ['skips-tests', 'procedure'],
  'R-21': ['charges-all', 'economy'],
  'R-22': ['boosts', 'safety'],
};

describe('the written cases', () => {
  it('are thirty and more, each with its own code and its own title', () => {
    expect(CASES.length).to.be.at.least(30);
    expect(new Set(CASES.map((c) => c.code)).size).to.equal(CASES.length);
    expect(new Set(CASES.map((c) => c.title)).size).to.equal(CASES.length);
    expect(Object.keys(FAILS).toSorted()).to.deep.equal(CASES.map((c) => c.code).toSorted());
  });

  for (const drillCase of CASES)
    it(`${drillCase.code} ${drillCase.title}: a good technician passes it, a careless one fails by ${FAILS[drillCase.code]?.[1]}`, () => {
      const good = goodTechnician(drillCase);
      const marks = markCase(good, good);
      expect(marks.passed, JSON.stringify(marks.by)).to.equal(true);
      const [habit, mark] = FAILS[drillCase.code] as readonly [Habit, MarkKey];
      const careless = new CarelessTechnician(drillCase, habit);
      careless.work();
      const failed = markCase(careless.bench, good);
      expect(failed.passed).to.equal(false);
      expect(failed.by[mark].passed, JSON.stringify(failed.by)).to.equal(false);
      if (mark === 'safety') expect(failedBy(failed)).to.equal('safety');
      else expect(failed.by.safety.passed).to.equal(true);
    });
});

describe('a case under way', () => {
  it('is the same battery with the same readings wherever its acts are done again', () => {
    const first = goodTechnician(caseOf('R-04'));
    const again = playCase(caseOf('R-04'), first.acts);
    expect(again.shown).to.deep.equal(first.shown);
    expect(again.job).to.deep.equal(first.job);
    expect(again.facts).to.deep.equal(first.facts);
    expect([...again.world.battery!.state]).to.deep.equal([...first.world.battery!.state]);
  });

  it('moves its clock by acts alone: a reading costs its minutes, a wait its hours', () => {
    const bench = new DrillBench(caseOf('R-01'));
    const began = bench.now;
    bench.do({ do: 'take', take: 'volts' });
    bench.do({ do: 'look', what: 'case' });
    expect(bench.now - began).to.equal(90_000);
    expect(bench.handsMin).to.equal(1.5);
    bench.do({ do: 'wait', seconds: 6 * 3600, alert: false });
    expect(bench.now - began).to.equal(90_000 + 6 * 3_600_000);
    expect(bench.handsMin).to.equal(1.5);
  });

  it('shows what its battery shows, with the error of each instrument', () => {
    const bench = new DrillBench(caseOf('R-01'));
    const volts = Array.from({ length: 60 }, () => {
      const { shown } = bench.do({ do: 'take', take: 'volts' });
      return shown?.of === 'reading' ? shown : null;
    });
    const steady = volts.filter((v) => v?.says === undefined).map((v) => v!.values.voltageV!);
    const jumping = volts.filter((v) => v?.says !== undefined);
    expect(Math.max(...steady) - Math.min(...steady)).to.be.within(0.01, 0.06);
    expect(steady[0]).to.be.within(11.9, 12.2);
    expect(jumping.length, 'a clip sits badly now and then').to.be.within(1, 8);
    for (const bad of jumping) expect(bad!.values.voltageV!).to.be.below(steady[0]! - 0.2);
  });

  it('a meter that reads high does so every time, and the hydrometer does not', () => {
    const bench = new DrillBench(caseOf('R-19'));
    const { shown } = bench.do({ do: 'take', take: 'volts' });
    expect(shown?.of === 'reading' && shown.values.voltageV! / bench.world.voltageV).to.be.within(
      1.02,
      1.03,
    );
  });

  it('a dry one has nothing to measure, a sealed one no open cells, and a turned away act changes nothing', () => {
    const dry = new DrillBench(caseOf('N-01'));
    expect(() => dry.do({ do: 'take', take: 'load' })).to.throw(CannotTake);
    const sealed = new DrillBench(caseOf('R-05'));
    expect(() => sealed.do({ do: 'take', take: 'sg' })).to.throw(CannotTake, 'closed');
    expect(() =>
      sealed.do({ do: 'command', id: 'a', command: { type: 'giveVerdict', stepId: 'verdict' } }),
    ).to.throw(Refused);
    expect(sealed.acts).to.deep.equal([]);
    expect(sealed.now).to.equal(sealed.beganAt);
  });

  it('wrong acts have their consequence: a load left on drags it far below its cut-off, and it holds less for it', () => {
    const bench = new DrillBench(caseOf('R-14'));
    bench.world.connectLoad(12, 10.5);
    const { happened } = bench.do({ do: 'wait', seconds: 12 * 3600, alert: false });
    expect(happened.map((h) => h.what)).to.include('cut-off');
    expect(bench.world.voltageV).to.be.below(6);
    expect(bench.world.harm.belowCutOffV).to.be.above(4);
  });

  it('stops waiting when something happens that somebody near would notice', () => {
    const good = goodTechnician(caseOf('N-08'));
    expect(good.happened.map((h) => h.what)).to.include('light');
    const bench = new DrillBench(caseOf('R-14'));
    bench.world.connectLoad(12, 10.5);
    bench.do({ do: 'wait', seconds: 24 * 3600, alert: true });
    expect((bench.now - bench.beganAt) / 3_600_000).to.be.within(2.5, 5);
  });

  it('a tube is looked at and tapped once the pack stands on it, not before', () => {
    const bench = new DrillBench(caseOf('N-06'));
    const { shown } = bench.do({ do: 'look', what: 'tubes' });
    expect(shown?.of === 'look' && shown.says).to.equal('No pack stands on it yet.');
    expect(() => bench.do({ do: 'tap', tube: 3 })).to.throw(CannotTake);
  });

  it('a promise that a good technician keeps costs whoever breaks it', () => {
    const good = goodTechnician(caseOf('N-01'));
    const late = new GoodTechnician(caseOf('N-01'));
    late.bench.do({ do: 'wait', seconds: 7 * 3600, alert: false });
    late.work();
    const { economy } = markCase(late.bench, good).by;
    expect(economy.events.map((e) => e.what.kind)).to.include('late');
    expect(markCase(good, good).by.economy.points).to.equal(100);
  });

  it('who waits for something to happen is there when a wait of the job is over', () => {
    const hands = new GoodTechnician(caseOf('N-01'));
    while (hands.current.id !== 'soak') hands.step();
    const dueAt = hands.job.state.current!.dueAt!;
    hands.wait(3 * 86_400, true);
    expect(hands.bench.now).to.be.within(dueAt, dueAt + 1000);
    expect(hands.current.id).to.equal('charge');
  });

  it('begins at its hour; nobody acts or notices anything from closing until the shop opens', () => {
    const late = { ...caseOf('R-01'), beginsH: 17, closesH: 18 };
    const bench = new DrillBench(late);
    expect(new Date(bench.now).toISOString()).to.equal('2026-03-02T17:00:00.000Z');
    bench.do({ do: 'wait', seconds: 30 * 3600, alert: true });
    expect(bench.now - bench.beganAt, 'who waits goes home').to.equal(3_600_000);
    expect(bench.closedForS).to.equal(14 * 3600);
    for (const act of [
      { do: 'take', take: 'volts' },
      { do: 'look', what: 'case' },
      { do: 'command', id: '1', command: { type: 'acknowledge', stepId: 'safe' } },
    ] satisfies DrillAct[])
      expect(() => bench.do(act)).to.throw(CannotTake, 'closed');
    expect(bench.shown).to.deep.equal([]);
    bench.do({ do: 'wait', seconds: 30 * 3600, alert: true });
    expect(new Date(bench.now).toISOString()).to.equal('2026-03-03T08:00:00.000Z');
    expect(bench.closedForS).to.equal(0);
    bench.do({ do: 'take', take: 'volts' });
    expect(bench.shown).to.have.length(1);
  });

  it('a good technician is never at the bench while the shop is closed', () => {
    for (const code of ['N-13', 'R-22']) {
      const { closesH = 24 } = caseOf(code);
      const { shown } = goodTechnician(caseOf(code));
      const hours = shown.map(({ at }) => (at / 3_600_000) % 24);
      expect(Math.min(...hours)).to.be.at.least(8);
      expect(Math.max(...hours)).to.be.below(closesH + 0.2);
    }
  });

  it('a dead end is no pass: what was never ended fails by judgement', () => {
    const bench = new DrillBench(caseOf('R-01'));
    const acts: DrillAct[] = [{ do: 'take', take: 'volts' }];
    for (const act of acts) bench.do(act);
    const marks = markCase(bench, goodTechnician(caseOf('R-01')));
    expect(marks.by.judgement.passed).to.equal(false);
    expect(marks.by.safety.passed).to.equal(true);
  });

  it('a reading written otherwise than it was shown is found, one that is rounded is not', () => {
    const bench = new DrillBench(caseOf('N-10'));
    const { shown } = bench.do({ do: 'take', take: 'volts' });
    const voltageV = shown?.of === 'reading' ? shown.values.voltageV! : 0;
    const read = (value: number) =>
      bench.do({
        do: 'command',
        id: String(value),
        command: { type: 'read', role: 'spot', values: { voltageV: value }, sure: true },
      });
    read(voltageV + 0.01);
    expect(bench.facts).to.deep.equal([]);
    read(voltageV + 0.4);
    expect(bench.facts.map((f) => f.fact.kind)).to.deep.equal(['written-otherwise']);
  });
});

describe('looking back', () => {
  it('tells every act with what it showed, what it could be taken for then, and a good technician beside', () => {
    const careless = new CarelessTechnician(caseOf('R-06'), 'charges-all');
    careless.work();
    const back = lookBack(caseOf('R-06'), careless.bench.acts);
    expect(back.lines.map((l) => l.act)).to.deep.equal(careless.bench.acts);
    expect(back.decision).to.equal(careless.bench.decision);
    const decided = back.lines.find(
      (l) => l.act.do === 'command' && l.act.command.type === 'chooseRoute',
    );
    expect(decided?.wouldHaveTold?.minutes, 'what would have told most then').to.be.within(1, 10);
    expect(back.good.hours).to.be.below(back.hours / 5);
    expect(back.seer.decision).to.equal('recycle');
    expect(back.seer.handsMin, 'nobody is quicker').to.be.at.most(back.good.handsMin);
    expect(turnedAt(back.good.lines, 'bad-cell')).to.be.a('number');
    const told = back.good.lines.filter((l) => l.odds !== null);
    expect(told.at(-1)?.odds?.[0]?.family).to.equal('bad-cell');
    const { inside } = back;
    expect(inside.length).to.be.within(20, 801);
    expect(inside.at(-1)!.at).to.be.above(inside[0]!.at);
    expect(Math.max(...inside.map((p) => p.charge))).to.be.above(0.7);
    expect(Math.min(...inside.map((p) => p.poorest)), 'the shorted cell').to.be.below(0.2);
  });

  it('says every fact, mark and reading in words with its figure', () => {
    const few = ['N-03', 'N-06', 'R-13'].map(caseOf);
    const said = few.flatMap((drillCase) => {
      const [habit] = FAILS[drillCase.code]!;
      const careless = new CarelessTechnician(drillCase, habit);
      careless.work();
      const { marks, lines } = lookBack(drillCase, careless.bench.acts);
      return [
        ...Object.values(marks.by).flatMap((m) => m.events.map((e) => reasonWords(e.what))),
        ...lines.flatMap((l) => (l.shown ? [shownWords(l.shown)] : [])),
      ];
    });
    expect(said.length).to.be.above(80);
    for (const line of said) {
      expect(line.trim(), 'a line that says something').to.not.equal('');
      expect(line).to.not.match(/undefined|NaN|\[object/);
    }
  });
});

describe('new batteries of a lead’s own cases', () => {
  for (const model of [
    MODELS.plough12,
    MODELS.fell11,
    MODELS.fell60,
    MODELS.hut18,
    { ...MODELS.hut60, kind: 'gel' as const },
  ])
    for (const trap of trapsOf(leadAcidKind(model.kind)))
      it(`${model.kind}, ${model.c20Ah} Ah, ${trap}: a good technician ends it as is right, and it can be passed`, () => {
        const facts = { ...BLANK_FACTS, purpose: 'commission' as const, trap };
        const made = ownCase('S-01', facts, model);
        const good = goodTechnician(made);
        expect(made.right).to.include(good.decision);
        const marks = markCase(good, good);
        expect(marks.passed, JSON.stringify(marks.by)).to.equal(true);
      });

  it('what was written before a new battery could be is a recovery', () => {
    const { purpose, trap } = SAID_LATER;
    expect([purpose, trap]).to.deep.equal(['recover', 'none']);
    expect(ownCase('S-02', BLANK_FACTS, MODELS.fell60).purpose).to.equal('recover');
  });

  it('a finished commissioning is made one: what it was refused for is what is wrong with it', () => {
    const torn = goodTechnician(caseOf('N-05')).job;
    expect(factsOfJob(torn)).to.include({
      purpose: 'commission',
      trap: 'foil',
      title: 'From this bench',
    });
    expect(factsOfJob(goodTechnician(caseOf('N-01')).job)).to.include({ trap: 'none' });
  });
});

describe('cases without end', () => {
  it('a code is typed as one likes, and what is none is none', () => {
    expect(generatedCase(' g12-7kq2m ')?.code).to.equal('G12-7KQ2M');
    expect(caseByCode('G12-7KQ2M')).to.equal(generatedCase('G12-7KQ2M'));
    for (const typed of ['G22-7KQ2M', 'G15-7KQ2M', 'G12-7KQ2', 'G12-7KQ2I', ''])
      expect(generatedCase(typed), typed).to.equal(undefined);
    const code = newCode(3, seeded(4).even);
    expect(generatedCase(code)?.level).to.equal(3);
  });

  it('is the same battery this year and the next: what was drawn for these codes stands', () => {
    const drawn = ['G11-0000A', 'G12-7KQ2M', 'G13-DX0RF', 'G14-QHQGC'].map((code) => {
      const c = generatedCase(code)!;
      const { charge, cells } = c.truth.condition;
      return [
        c.model.code,
        c.truth.family,
        c.story.told.story,
        c.right.join(' '),
        Number(charge.toFixed(6)),
        cells?.length ?? 0,
      ];
    });
    expect(drawn).to.deep.equal(DRAWN);
  });

  it('a good technician passes nearly all of the easy ones, and most of the hard ones', () => {
    const random = seeded(9);
    const passed = (level: GeneratedLevel, count: number): number =>
      Array.from({ length: count }, () => generatedCase(newCode(level, random.even))!).filter(
        (drillCase) => {
          const good = goodTechnician(drillCase);
          return markCase(good, good).passed;
        },
      ).length;
    expect(passed(1, 12)).to.be.at.least(11);
    expect(passed(4, 12)).to.be.within(7, 12);
  });

  it('have every family among them, liars and meters that are off at the top, none at the bottom', () => {
    const random = seeded(10);
    const many = (level: GeneratedLevel) =>
      Array.from({ length: 150 }, () => generatedCase(newCode(level, random.even))!);
    const [easy, hard] = [many(1), many(4)];
    expect(new Set(hard.map((c) => c.truth.family)).size).to.be.at.least(7);
    expect(easy.filter((c) => c.meterShows !== undefined)).to.deep.equal([]);
    expect(hard.filter((c) => c.meterShows !== undefined).length).to.be.within(25, 65);
    for (const { right, truth, finds } of [...easy, ...hard]) {
      if (right.includes('refused'))
        expect(Object.values(finds).some((f) => !f.good)).to.equal(true);
      if (truth.never) expect(right).to.not.include('passed');
    }
  });
});

describe('whatever somebody does at a case', () => {
  it('is done, or turned away in words; nothing breaks, no number runs away, and it can be done again', () => {
    const random = seeded(77);
    const oneFrom = <T>(list: readonly T[]): T =>
      list[Math.floor(random.even() * list.length)] as T;
    for (let n = 0; n < 20; n++) {
      const drillCase = oneFrom(CASES);
      const hands = new GoodTechnician(drillCase);
      const { bench } = hands;
      for (let i = 0; i < 40 && !bench.isOver; i++) {
        const draw = random.even();
        try {
          if (draw < 0.3) hands.step();
          else if (draw < 0.55) bench.do({ do: 'take', take: oneFrom(TAKE_KEYS) });
          else if (draw < 0.7) bench.do({ do: 'look', what: oneFrom(LOOKS) });
          else if (draw < 0.75) bench.do({ do: 'tap', tube: Math.floor(6 * random.even()) });
          else
            bench.do({
              do: 'wait',
              seconds: 10 ** (1 + 4.5 * random.even()),
              alert: random.even() < 0.5,
            });
        } catch (error) {
          if (!(error instanceof Refused) && !(error instanceof CannotTake)) throw error;
        }
      }
      const { voltageV, temperatureC } = bench.world;
      expect(voltageV, drillCase.code).to.be.within(-40, 40);
      expect(temperatureC, drillCase.code).to.be.within(-20, 110);
      expect(Object.values(markCase(bench, bench).by).every((m) => m.points >= 0)).to.equal(true);
      expect(playCase(drillCase, bench.acts).now, drillCase.code).to.equal(bench.now);
    }
  });
});
