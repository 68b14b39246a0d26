import LogisticRegression from 'ml-logistic-regression';
import { Matrix } from 'ml-matrix';
import { featuresOf } from '../../src/core/diagnosis/practice/features.ts';
import { FAMILY_KEYS, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import { practiceOdds, recoverable } from '../../src/core/diagnosis/practice/judge.ts';
import { FEATURE_KEYS } from '../../src/core/diagnosis/practice/table.ts';
import { STORY_KEYS } from '../../src/core/diagnosis/stories.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { fieldBattery, type FieldBattery, type Habits } from '../../test/support/fieldBattery.ts';
import { say, title } from './figures.ts';

/** Batteries of the field that are judged, and those that classifiers are trained on: other draws. */
const JUDGED = 2000;
const TRAINED = 1500;

type Odds = Readonly<Record<FamilyKey, number>>;
type Judge = (battery: FieldBattery) => Odds;

const featuresIn = (b: FieldBattery) =>
  featuresOf(
    { chemistry: b.chemistry, cells: 6, c20Ah: b.c20Ah, milliohm: b.soundMilliohm },
    b.evidence,
    b.after,
  );
const oddsFrom = (chanceOf: (family: FamilyKey) => number): Odds => {
  const raw = FAMILY_KEYS.map((f) => Math.max(1e-3, chanceOf(f)));
  const total = raw.reduce((a, b) => a + b, 0);
  return Object.fromEntries(FAMILY_KEYS.map((f, i) => [f, (raw[i] as number) / total])) as Record<
    FamilyKey,
    number
  >;
};

const byPractice: Judge = (b) => practiceOdds(b, featuresIn(b)).families;

/** How often each family had about this voltage, of those it was trained on. */
function byVoltageOnly(trained: readonly FieldBattery[]): Judge {
  const volts = (b: FieldBattery): number => {
    const first = b.evidence[0];
    return b.after?.voltageV ?? (first?.of === 'rest-volts' ? first.voltageV : 0);
  };
  const known = trained.map((b) => ({ v: volts(b), family: b.family }));
  return (b) => {
    const v = volts(b);
    const near = known.filter((k) => Math.abs(k.v - v) < 0.08);
    return oddsFrom((f) => (near.filter((k) => k.family === f).length + 0.5) / (near.length + 4));
  };
}

/** A usual flow chart of a shop: volts first, then the load test, then acid. */
const byFlowChart: Judge = (b) => {
  const read = new Map(featuresIn(b).map((f) => [f.key, f.value]));
  const readOr = (key: (typeof FEATURE_KEYS)[number], otherwise: number): number =>
    read.get(key) ?? otherwise;
  const family = ((): FamilyKey => {
    if (readOr('volts', 12) < 0) return 'bad-cell';
    if (readOr('bare', 0) > 0.5) return 'dry';
    if (readOr('spreadAfter', readOr('sgSpread', 0)) >= 0.05) return 'bad-cell';
    const short = read.get('short');
    if (short !== undefined) {
      if (short > 1.5) return 'bad-cell';
      if (short > 0.1) return 'sulfated';
      if (
        readOr('loadAfter', 11) < 9.6 ||
        readOr('ccaAfter', 1) < 0.75 ||
        readOr('capacity', 1) < 0.6
      )
        return 'worn';
      return 'flat';
    }
    if (readOr('volts', 12.6) < 10.6) return readOr('load', 9) < 2 ? 'sulfated' : 'flat';
    if (readOr('volts', 12.6) < 12.4) return 'flat';
    return readOr('load', 11) < 9.6 || readOr('cca', 1) < 0.75 ? 'worn' : 'nothing';
  })();
  return oddsFrom((f) => (f === family ? 0.7 : 0.3 / 7));
};

/** Logistic regression, one family against the rest (`ml-logistic-regression`), on every reading and what happened to it. */
function byRegression(trained: readonly FieldBattery[]): Judge {
  const raw = (b: FieldBattery): (number | null)[] => {
    const read = new Map(featuresIn(b).map((f) => [f.key, f.value]));
    return FEATURE_KEYS.map((key) => read.get(key) ?? null);
  };
  const rows = trained.map(raw);
  const columns = FEATURE_KEYS.map((_, k) => {
    const known = rows.flatMap((r) => r[k] ?? []);
    const mean = known.reduce((a, b) => a + b, 0) / Math.max(1, known.length);
    const off = Math.sqrt(
      known.reduce((a, v) => a + (v - mean) ** 2, 0) / Math.max(1, known.length),
    );
    return { mean, off: off || 1 };
  });
  // What was not read stands at the mean, and says that it was not read.
  const row = (b: FieldBattery): number[] => [
    ...raw(b).flatMap((v, k) => {
      const { mean, off } = columns[k] as (typeof columns)[number];
      const z = v === null ? 0 : (v - mean) / off;
      return [z, z * z, Number(v === null)];
    }),
    ...STORY_KEYS.map((s) => Number(s === b.story)),
    Number(b.chemistry === 'flooded'),
    1,
  ];
  const regression = new LogisticRegression({ numSteps: 800, learningRate: 2e-3 });
  regression.train(
    new Matrix(trained.map(row)),
    Matrix.columnVector(trained.map((b) => FAMILY_KEYS.indexOf(b.family))),
  );
  return (b) => {
    const said = regression.predict(new Matrix([row(b)]))[0] ?? 0;
    return oddsFrom((f) => (FAMILY_KEYS.indexOf(f) === said ? 0.75 : 0.25 / 7));
  };
}

/** The families of batteries of the field, by practice and by three other judges. */
export function benchFieldDiagnosis(): void {
  for (const habits of [
    { charged: false, takes: 0.7 },
    { charged: true, takes: 0.5 },
  ] satisfies Habits[]) {
    const drawn = (seed: number, count: number): FieldBattery[] => {
      const random = seeded(seed);
      return Array.from({ length: count }, () => fieldBattery(random, habits));
    };
    const judged = drawn(71, JUDGED);
    const trained = drawn(72, TRAINED);
    title(
      `${JUDGED} batteries of the field, ${habits.charged ? 'after a full charge, half of the readings taken' : 'as they came, most readings taken'}`,
    );
    const judges: readonly (readonly [string, Judge])[] = [
      ['by practice', byPractice],
      ['by volts alone', byVoltageOnly(trained)],
      ['by a flow chart', byFlowChart],
      ['by logistic regression', byRegression(trained)],
    ];
    for (const [name, judge] of judges) score(name, judge, judged);
    const inBand = judged.filter((b) => {
      const { low, high } = recoverable(practiceOdds(b, featuresIn(b)).pictures);
      return b.recovers >= low && b.recovers <= high;
    }).length;
    say(
      'capacity within its 80 % band',
      `${((100 * inBand) / JUDGED).toFixed(0)} %`,
      'aim 75 to 85 %',
    );
  }
}

function score(name: string, judge: Judge, judged: readonly FieldBattery[]): void {
  let [right, two, brier, log, worst] = [0, 0, 0, 0, 0];
  const bins = Array.from({ length: 10 }, () => ({ n: 0, said: 0, held: 0 }));
  const began = performance.now();
  for (const battery of judged) {
    const odds = judge(battery);
    const ranked = FAMILY_KEYS.toSorted((a, b) => odds[b] - odds[a]);
    right += Number(ranked[0] === battery.family);
    two += Number(ranked.slice(0, 2).includes(battery.family));
    log -= Math.log(Math.max(1e-6, odds[battery.family]));
    for (const family of FAMILY_KEYS) {
      const is = Number(family === battery.family);
      brier += (odds[family] - is) ** 2;
      const bin = bins[Math.min(9, Math.floor(10 * odds[family]))] as (typeof bins)[number];
      bin.n += 1;
      bin.said += odds[family];
      bin.held += is;
    }
  }
  const ms = (performance.now() - began) / judged.length;
  for (const { n, said, held } of bins)
    if (n >= 100) worst = Math.max(worst, Math.abs(said - held) / n);
  const n = judged.length;
  say(
    name,
    `${((100 * right) / n).toFixed(1)} % right`,
    `first two ${((100 * two) / n).toFixed(1)} %, Brier ${(brier / n).toFixed(3)}, log ${(log / n).toFixed(3)}, worst decile ${(100 * worst).toFixed(1)} off, ${ms.toFixed(2)} ms each`,
  );
}
