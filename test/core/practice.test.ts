import { expect } from 'chai';
import type { Evidence } from '../../src/core/diagnosis/evidence.ts';
import { DiagnosisRun } from '../../src/core/diagnosis/diagnose.ts';
import type { AfterCharge } from '../../src/core/diagnosis/plainRules.ts';
import { FAMILY_KEYS, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import { featuresOf, type Sound } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds, recoverable } from '../../src/core/diagnosis/practice/judge.ts';
import { clearingByPractice } from '../../src/core/diagnosis/practice/nextByPractice.ts';
import { tradeRules } from '../../src/core/diagnosis/practice/tradeRules.ts';
import { fitsNothing, whatWouldChange, whysOf } from '../../src/core/diagnosis/practice/whys.ts';
import { oddsWords } from '../../src/core/quantities/chance.ts';
import { DEFAULT_STAKES } from '../../src/core/diagnosis/stakes.ts';
import type { StoryKey } from '../../src/core/diagnosis/stories.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import {
  fieldBattery,
  type FieldBattery,
  fieldQuestion,
  type Habits,
} from '../support/fieldBattery.ts';
import { minutesToFamily } from '../support/readingOrder.ts';

/** 60 Ah flooded, sound at 5 mΩ, rated 540 A. */
const SIXTY: Sound = { chemistry: 'flooded', cells: 6, c20Ah: 60, milliohm: 5 };
const told = (
  story: StoryKey,
  standingDays: number | null = null,
  ageYears: number | null = null,
) => ({
  chemistry: SIXTY.chemistry,
  story,
  standingDays,
  ageYears,
});
const rest = (voltageV: number): Evidence => ({ of: 'rest-volts', voltageV });
const load = (underV: number): Evidence => ({ of: 'load', underV, currentA: 180, seconds: 15 });
const sg = (...cells: number[]): Evidence => ({ of: 'cell-sg', sg: cells });

const soundOf = (b: FieldBattery): Sound => ({
  chemistry: b.chemistry,
  cells: 6,
  c20Ah: b.c20Ah,
  milliohm: b.soundMilliohm,
});
const oddsOf = (b: FieldBattery) => practiceOdds(b, featuresOf(soundOf(b), b.evidence, b.after));

/** So many batteries of the field, judged. */
function judged(count: number, habits: Habits, seed: number) {
  const random = seeded(seed);
  const decile = Array.from({ length: 10 }, () => ({ n: 0, said: 0, held: 0 }));
  let [right, two, inBand] = [0, 0, 0];
  const falselyNever: string[] = [];
  for (let i = 0; i < count; i++) {
    const battery = fieldBattery(random, habits);
    const { families, pictures } = oddsOf(battery);
    const ranked = FAMILY_KEYS.toSorted((a, b) => families[b] - families[a]);
    if (ranked[0] === battery.family) right += 1;
    if (ranked.slice(0, 2).includes(battery.family)) two += 1;
    if (ranked[0] === 'never') falselyNever.push(battery.what);
    for (const family of FAMILY_KEYS) {
      const bin = decile[Math.min(9, Math.floor(10 * families[family]))]!;
      bin.n += 1;
      bin.said += families[family];
      bin.held += Number(family === battery.family);
    }
    const band = recoverable(pictures);
    if (battery.recovers >= band.low && battery.recovers <= band.high) inBand += 1;
  }
  return { right: right / count, two: two / count, inBand: inBand / count, decile, falselyNever };
}

describe('what practice says', () => {
  const cases: [string, StoryKey, Evidence[], AfterCharge | null, FamilyKey][] = [
    [
      'emptied by a lamp, its cells even',
      'left-on',
      [rest(11.4), sg(1.12, 1.12, 1.12, 1.12, 1.12, 1.12)],
      null,
      'flat',
    ],
    [
      'rested low after a full charge, even cells, weak CCA',
      'parked',
      [rest(11.7)],
      { voltageV: 12.5, restedH: 24, sg: [1.25, 1.25, 1.25, 1.25, 1.25, 1.25], ccaShare: 0.72 },
      'sulfated',
    ],
    [
      'one cell a whole 2 V away after the charge',
      'weak',
      [rest(10.5)],
      { voltageV: 10.5, restedH: 24 },
      'bad-cell',
    ],
    [
      'one cell 0.060 below the others after the charge',
      'weak',
      [rest(12.4)],
      { voltageV: 12.45, restedH: 24, sg: [1.27, 1.27, 1.21, 1.27, 1.27, 1.27], ccaShare: 0.65 },
      'bad-cell',
    ],
    ['volts, and nothing under load', 'unknown', [rest(12.6), load(0.4)], null, 'bad-cell'],
    [
      'plates bare',
      'boiled',
      [rest(12.5), { of: 'levels', levels: ['dry', 'dry', 'dry', 'dry', 'dry', 'dry'] }],
      null,
      'dry',
    ],
    [
      'full and even, and holds half',
      'weak',
      [rest(12.5)],
      {
        voltageV: 12.66,
        restedH: 24,
        sg: [1.275, 1.275, 1.275, 1.275, 1.275, 1.275],
        capacity: 0.42,
        ccaShare: 0.65,
      },
      'worn',
    ],
    [
      'good volts over weak acid',
      'short-runs',
      [rest(12.7), sg(1.19, 1.19, 1.19, 1.19, 1.19, 1.19), load(10.6)],
      null,
      'layered',
    ],
    [
      'as it should be',
      'unknown',
      [rest(12.65), load(11), { of: 'cca', ccaA: 560, ratedA: 540 }],
      null,
      'nothing',
    ],
  ];
  for (const [name, story, evidence, after, family] of cases)
    it(`${name}: ${family}`, () => {
      const { families } = practiceOdds(told(story, null, 5), featuresOf(SIXTY, evidence, after));
      const best = FAMILY_KEYS.reduce((a, b) => (families[b] > families[a] ? b : a));
      expect(best, JSON.stringify(families)).to.equal(family);
      expect(FAMILY_KEYS.reduce((sum, f) => sum + families[f], 0)).to.be.closeTo(1, 1e-9);
    });

  it('a failed load test is never called nothing wrong, and nobody’s AGM is layered', () => {
    for (const under of [9.4, 8.5, 6, 2]) {
      const { families } = practiceOdds(
        told('unknown'),
        featuresOf(SIXTY, [rest(12.6), load(under)], null),
      );
      expect(families.nothing, String(under)).to.be.lessThan(0.2);
    }
    const agm = practiceOdds(
      { ...told('short-runs'), chemistry: 'agm' },
      featuresOf({ ...SIXTY, chemistry: 'agm' }, [rest(12.7)], null),
    );
    expect(agm.families.layered).to.equal(0);
  });

  it('old stories count less than readings: parked for long, it reads as a sound one, and is taken for one', () => {
    const features = featuresOf(
      SIXTY,
      [
        rest(12.7),
        load(11.1),
        { of: 'cca', ccaA: 545, ratedA: 540 },
        { of: 'resistance', milliohm: 5 },
      ],
      null,
    );
    const { families } = practiceOdds(told('parked', 400), features);
    expect(families.nothing).to.be.greaterThan(0.7);
  });

  it('another load, or another time, tells nothing of the line that is drawn for this one', () => {
    const light = featuresOf(
      SIXTY,
      [{ of: 'load', underV: 12.2, currentA: 40, seconds: 15 }],
      null,
    );
    expect(light).to.deep.equal([]);
  });

  it('compares 6 V and any size by 12 V and by the rating', () => {
    const six = featuresOf(
      { ...SIXTY, cells: 3 },
      [rest(6.2), { of: 'cca', ccaA: 270, ratedA: 540 }],
      {
        voltageV: 6.3,
        restedH: 24,
      },
    );
    expect(six.map((f) => [f.key, Number(f.value.toFixed(2))])).to.deep.equal([
      ['volts', 12.4],
      ['cca', 0.5],
      ['short', 0.08],
    ]);
  });
});

describe('what practice says of batteries of the field, which it has not made', () => {
  it('as they came, read by the usual tools: the family is right in three of four, among the first two in nine of ten', () => {
    const { right, two, decile, falselyNever } = judged(3000, { charged: false, takes: 0.7 }, 11);
    expect(right).to.be.greaterThan(0.75);
    expect(two).to.be.greaterThan(0.9);
    for (const { n, said, held } of decile)
      if (n > 200) expect(Math.abs(said - held) / n, `${said / n} said`).to.be.lessThan(0.08);
    expect(falselyNever.length / 3000, falselyNever.join()).to.be.lessThan(0.01);
  });

  it('after a full charge: in nine of ten, whatever the shop reads', () => {
    for (const takes of [0.4, 0.9]) {
      const { right, two } = judged(800, { charged: true, takes }, 12);
      expect(right, String(takes)).to.be.greaterThan(0.88);
      expect(two, String(takes)).to.be.greaterThan(0.96);
    }
  });

  it('what it will hold lies within the band in eight of ten', () => {
    const { inBand } = judged(1500, { charged: true, takes: 0.7 }, 13);
    expect(inBand).to.be.within(0.72, 0.92);
  });
});

describe('why, and what would change it', () => {
  const features = featuresOf(SIXTY, [rest(11.7), load(8.6)], {
    voltageV: 12.5,
    restedH: 24,
    ccaShare: 0.72,
  });
  const { pictures } = practiceOdds(told('parked', 90), features);
  const ranked: FamilyKey[] = ['sulfated', 'bad-cell', 'worn'];

  it('compares each reading with each family in its own unit, what tells them apart first', () => {
    const whys = whysOf(SIXTY, features, ranked, pictures);
    const after = whys.find((w) => w.feature === 'short')!;
    expect(after).to.include({ name: 'Rest, after a full charge', unit: 'V', from: null });
    expect(after.value).to.be.closeTo(12.5, 0.001);
    const sulfated = after.families.find((f) => f.family === 'sulfated')!;
    expect([sulfated.low, sulfated.high]).to.satisfy(
      ([low, high]: number[]) => low! < 12.5 && high! > 12.5,
    );
    const cca = whys.find((w) => w.feature === 'ccaAfter')!;
    expect([cca.value, cca.unit]).to.deep.equal([72, '%']);
    for (const { least, most, value, families } of whys)
      for (const { low, high } of families)
        expect(least <= Math.min(low, value) && most >= Math.max(high, value)).to.equal(true);
  });

  it('says what a reading not taken would have to be, and asks no closed battery for its acid', () => {
    const would = whatWouldChange(
      SIXTY,
      new Set(features.map((f) => f.key)),
      ranked,
      pictures,
      true,
    );
    expect(would.length).to.be.greaterThan(0);
    expect(would.every((w) => !features.some((f) => f.key === w.feature))).to.equal(true);
    const closed = whatWouldChange(SIXTY, new Set(), ranked, pictures, false);
    expect(closed.some((w) => w.unit === 'SG')).to.equal(false);
  });

  it('points out a reading that no battery shows', () => {
    expect(fitsNothing(SIXTY, { key: 'volts', value: 126, from: 0 })).to.equal(true);
    expect(fitsNothing(SIXTY, { key: 'ccaAfter', value: 7.2, from: null })).to.equal(true);
    expect(features.some((f) => fitsNothing(SIXTY, f))).to.equal(false);
  });

  it('holds the rules of the trade beside the odds: holds, does not, not measured', () => {
    const states = (after: AfterCharge | null, evidence: Evidence[]) =>
      Object.fromEntries(
        tradeRules(SIXTY, featuresOf(SIXTY, evidence, after), 25, true).map((r) => [
          r.key,
          r.state,
        ]),
      );
    expect(states(null, [rest(12.6)])).to.deep.equal({
      'dead-cell': 'not-measured',
      sulfated: 'not-measured',
      'failing-cell': 'not-measured',
      load: 'not-measured',
      reversed: 'no',
    });
    const read = states({ voltageV: 12.5, restedH: 24, sg: [1.27, 1.27, 1.21, 1.27, 1.27, 1.27] }, [
      rest(12.6),
      load(8.9),
    ]);
    expect(read).to.include({
      'dead-cell': 'no',
      sulfated: 'holds',
      'failing-cell': 'holds',
      load: 'holds',
    });
  });

  it('says chances by the nearest that people say', () => {
    expect([0.66, 0.5, 0.17, 0.05, 0.99, 0.01].map(oddsWords)).to.deep.equal([
      '2 in 3',
      '1 in 2',
      '1 in 6',
      '1 in 20',
      'almost surely',
      'hardly',
    ]);
  });
});

describe('the answer at once', () => {
  it('comes before anything is simulated, by the shop’s usual way; a failing cell after the charge binds', () => {
    const run = (evidence: Evidence[], after: AfterCharge | null) =>
      new DiagnosisRun({
        subject: {
          ...told('parked', 90, 4),
          cells: 6,
          c20Ah: 60,
          temperatureC: 20,
          coldestC: null,
        },
        evidence,
        after,
        open: true,
        routes: ['recharge', 'slow-restore', 'pulse', 'held', 'mix'],
        prefer: 'slow-restore',
        stakes: DEFAULT_STAKES,
        ratings: { ratedCca: 540, wetMassG: null },
      }).atOnce();
    const sulfated = run([rest(11.7)], { voltageV: 12.48, restedH: 24, ccaShare: 0.7 });
    expect(sulfated.families[0]!.family).to.equal('sulfated');
    expect(sulfated.proposal).to.include({ route: 'slow-restore', usual: 'slow-restore' });
    expect(sulfated.stage).to.equal('practice');
    const fails = run([rest(12.6), load(8.6)], null);
    expect(fails.families.find((f) => f.family === 'nothing')!.chance).to.be.below(0.03);
    const cell = run([rest(12.3)], {
      voltageV: 12.55,
      restedH: 24,
      sg: [1.27, 1.27, 1.27, 1.215, 1.27, 1.27],
      ccaShare: 0.9,
    });
    expect(cell.families[0]).to.deep.include({ family: 'bad-cell' });
    expect(cell.families[0]!.chance).to.be.at.least(0.85);
    expect([sulfated.named, cell.named], 'by a plain rule').to.deep.equal([null, 'bad-cell']);
  });

  it('scraps hardly a good battery of the field, and charges none that must not be', () => {
    const random = seeded(79);
    const tally = { good: 0, scrapped: 0, bad: 0, charged: 0, forbidden: 0 };
    for (let i = 0; i < 800; i++) {
      const battery = fieldBattery(random, { charged: false, takes: 0.7 });
      const { route } = new DiagnosisRun(fieldQuestion(battery)).byReadings().proposal;
      const good = battery.recovers >= 0.8 && !battery.leaks;
      tally.good += Number(good);
      tally.scrapped += Number(good && route === null);
      const bad = battery.recovers < 0.2;
      tally.bad += Number(bad);
      tally.charged += Number(bad && route !== null);
      const [rests] = battery.evidence;
      if (rests?.of === 'rest-volts' && rests.voltageV < 0)
        tally.forbidden += Number(route !== null);
    }
    expect(tally.good).to.be.greaterThan(300);
    expect(tally.scrapped / tally.good).to.be.below(0.05);
    // Most that nothing helps are known before they cost days.
    expect(tally.charged / tally.bad).to.be.below(0.5);
    expect(tally.forbidden).to.equal(0);
  });
});

describe('What to measure next, by practice', () => {
  const evidence = [rest(12.42), load(9.2)];
  const next = (taken: Evidence[], may: (kind: string) => boolean = () => true) =>
    clearingByPractice(
      told('weak', null, 5),
      featuresOf(SIXTY, taken, null),
      new Set(taken.map((e) => e.of)),
      may,
      seeded(3),
    );

  it('asks for nothing twice and only for what can be had, what clears most a minute first', () => {
    const listed = next(evidence, (kind) => kind !== 'mass');
    expect(listed.map((n) => n.kind)).to.not.include.members(['rest-volts', 'load', 'mass']);
    expect(listed.map((n) => n.kind)).to.include.members(['cell-sg', 'cca', 'levels']);
    const rates = listed.map((n) => n.clears / n.minutes);
    expect(rates).to.deep.equal(rates.toSorted((a, b) => b - a));
    expect(listed.every((n) => n.clears >= 0 && n.clears < 1)).to.equal(true);
  });

  it('SG of the cells clears much where a worn battery and a bad cell are both likely, and little once it is read', () => {
    const before = next(evidence).find((n) => n.kind === 'cell-sg')!;
    expect(before.clears).to.be.above(0.05);
    const after = next([...evidence, sg(1.26, 1.262, 1.258, 1.13, 1.26, 1.261)]);
    expect(Math.max(...after.map((n) => n.clears))).to.be.below(before.clears);
  });

  it('is at hand before anything is simulated', () => {
    const battery = fieldBattery(seeded(8), { charged: false, takes: 0.2 });
    const { next: listed, stage } = new DiagnosisRun(fieldQuestion(battery)).atOnce();
    expect(stage).to.equal('practice');
    expect(listed.length).to.be.above(2);
  });

  it('names the family as often in fewer minutes than cheapest first', () => {
    const { fixed, best } = minutesToFamily(60, seeded(75));
    expect(best.right).to.be.at.least(fixed.right - 2);
    expect(best.minutes).to.be.below(0.7 * fixed.minutes);
  });
});
