import { featuresOf } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds, recoverable } from '../../src/core/diagnosis/practice/judge.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { fieldBattery, type FieldBattery, type Habits } from '../../test/support/fieldBattery.ts';
import { say, title } from './figures.ts';
import {
  atOnce,
  byFlowChart,
  byPractice,
  byRegression,
  bySigns,
  byVoltageOnly,
  type ReadBattery,
  score,
} from './judges.ts';

/** Batteries of the field that are judged, and those that classifiers are trained on: other draws. */
const JUDGED = 2000;
const TRAINED = 1500;

const read = (b: FieldBattery): FieldBattery & ReadBattery => ({
  ...b,
  features: featuresOf(
    { chemistry: b.chemistry, cells: 6, c20Ah: b.c20Ah, milliohm: b.soundMilliohm },
    b.evidence,
    b.after,
  ),
});

/** The families of batteries of the field, by practice and by three other judges. */
export function benchFieldDiagnosis(): void {
  for (const habits of [
    { charged: false, takes: 0.7 },
    { charged: true, takes: 0.5 },
  ] satisfies Habits[]) {
    const drawn = (seed: number, count: number) => {
      const random = seeded(seed);
      return Array.from({ length: count }, () => read(fieldBattery(random, habits)));
    };
    const judged = drawn(71, JUDGED);
    const trained = drawn(72, TRAINED);
    title(
      `${JUDGED} batteries of the field, ${habits.charged ? 'after a full charge, half of the readings taken' : 'as they came, most readings taken'}`,
    );
    score('by practice', byPractice, judged);
    score('by the signs of simulated ones', bySigns, judged);
    score('by practice and signs', atOnce, judged);
    score('by volts alone', byVoltageOnly(trained), judged);
    score('by a flow chart', byFlowChart, judged);
    score('by logistic regression', byRegression(trained), judged);
    const inBand = judged.filter((b) => {
      const { low, high } = recoverable(practiceOdds(b, b.features).pictures);
      return b.recovers >= low && b.recovers <= high;
    }).length;
    say(
      'capacity within its 80 % band',
      `${((100 * inBand) / JUDGED).toFixed(0)} %`,
      'aim 75 to 85 %',
    );
  }
}
