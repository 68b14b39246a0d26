import LogisticRegression from 'ml-logistic-regression';
import { Matrix } from 'ml-matrix';
import { FAMILY_KEYS, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import { type Feature, isCharged } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds, type Told } from '../../src/core/diagnosis/practice/judge.ts';
import { pooledFamilies } from '../../src/core/diagnosis/practice/pooled.ts';
import { signOdds } from '../../src/core/diagnosis/practice/signs.ts';
import { FEATURE_KEYS, type FeatureKey } from '../../src/core/diagnosis/practice/table.ts';
import { STORY_KEYS } from '../../src/core/diagnosis/stories.ts';
import { say } from './figures.ts';

/** A battery that has been read, and what is the matter with it: nothing that judges it looks at that. */
export interface ReadBattery extends Told {
  features: readonly Feature[];
  family: FamilyKey;
}

type Odds = Readonly<Record<FamilyKey, number>>;
type Judge = (battery: ReadBattery) => Odds;

const oddsFrom = (chanceOf: (family: FamilyKey) => number): Odds => {
  const raw = FAMILY_KEYS.map((f) => Math.max(1e-3, chanceOf(f)));
  const total = raw.reduce((a, b) => a + b, 0);
  return Object.fromEntries(FAMILY_KEYS.map((f, i) => [f, (raw[i] as number) / total])) as Record<
    FamilyKey,
    number
  >;
};

export const byPractice: Judge = (b) => practiceOdds(b, b.features).families;

/** By practice and the signs of simulated batteries, as a diagnosis answers at once. */
export const atOnce: Judge = (b) => {
  const opinions = {
    practice: practiceOdds(b, b.features),
    signs: signOdds(b, b.features),
    causes: null,
  };
  const odds = pooledFamilies(opinions, isCharged(b.features));
  return Object.fromEntries(odds.map(({ family, chance }) => [family, chance])) as Odds;
};
export const bySigns: Judge = (b) => {
  const odds = signOdds(b, b.features);
  return oddsFrom((family) => odds[family] ?? 0);
};

const valuesOf = ({ features }: ReadBattery): Map<FeatureKey, number> =>
  new Map(features.map((f) => [f.key, f.value]));

/** How often each family had about this voltage, of those it was trained on. */
export function byVoltageOnly(trained: readonly ReadBattery[]): Judge {
  const volts = (b: ReadBattery): number => {
    const read = valuesOf(b);
    const short = read.get('short');
    return short === undefined ? (read.get('volts') ?? 0) : 12.68 - short;
  };
  const known = trained.map((b) => ({ v: volts(b), family: b.family }));
  return (b) => {
    const v = volts(b);
    const near = known.filter((k) => Math.abs(k.v - v) < 0.08);
    return oddsFrom((f) => (near.filter((k) => k.family === f).length + 0.5) / (near.length + 4));
  };
}

/** A usual flow chart of a shop: volts first, then the load test, then acid. */
export const byFlowChart: Judge = (b) => {
  const read = valuesOf(b);
  const readOr = (key: FeatureKey, otherwise: number): number => read.get(key) ?? otherwise;
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
export function byRegression(trained: readonly ReadBattery[]): Judge {
  const raw = (b: ReadBattery): (number | null)[] => {
    const read = valuesOf(b);
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
  const row = (b: ReadBattery): number[] => [
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

/** Says how often a judge names the family rightly, and how true its odds are. */
export function score(name: string, judge: Judge, judged: readonly ReadBattery[]): void {
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
