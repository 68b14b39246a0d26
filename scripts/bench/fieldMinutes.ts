import { seeded } from '../../src/core/simulation/random.ts';
import { fieldBattery } from '../../test/support/fieldBattery.ts';
import {
  cheapestFirst,
  nextBest,
  type Order,
  readAll,
  type Said,
} from '../../test/support/readingOrder.ts';
import { say, title } from './figures.ts';

const COUNT = 400;
/** A person stops measuring when the likeliest family is this sure. */
const SURE = [0.5, 0.6, 0.7, 0.8, 0.9, 1];

/** Minutes of reading until the family is named, by the next-best reading and by a fixed order. */
export function benchFieldMinutes(): void {
  const draws = seeded(74);
  const batteries = Array.from({ length: COUNT }, () =>
    fieldBattery(draws, { charged: false, takes: 1 }),
  );
  title(
    `${COUNT} batteries of the field, read one reading after another until the family is clear`,
  );
  const curve = (order: Order) => {
    const told = batteries.map((b) => ({ b, said: readAll(b, order) }));
    return SURE.map((sure) => {
      const ends = told.map(({ b, said }) => ({
        b,
        ...((said.find((s) => s.chance >= sure) ?? said.at(-1)) as Said),
      }));
      return {
        minutes: ends.reduce((sum, e) => sum + e.minutes, 0) / COUNT,
        right: ends.filter((e) => e.family === e.b.family).length / COUNT,
      };
    });
  };
  const fixed = curve(cheapestFirst);
  const best = curve(nextBest);
  for (const [name, points] of [
    ['cheapest first', fixed],
    ['next best', best],
  ] as const)
    say(
      name,
      points
        .map((p) => `${(100 * p.right).toFixed(1)} % in ${p.minutes.toFixed(1)} min`)
        .join(', '),
      `until ${SURE.map((s) => `${100 * s} %`).join(', ')} sure`,
    );
  for (const { right, minutes } of best) {
    const same = minutesFor(fixed, right);
    say(
      `as often right (${(100 * right).toFixed(1)} %)`,
      same === null
        ? 'cheapest first never is'
        : `${(100 * (minutes / same)).toFixed(0)} % of the minutes`,
      'aim 60 % or less',
    );
  }
}

/** Minutes at which a curve is right so often, between its points; null where it never is. */
function minutesFor(
  curve: readonly { minutes: number; right: number }[],
  right: number,
): number | null {
  const i = curve.findIndex((p) => p.right >= right);
  const [a, b] = [curve[i - 1], curve[i]];
  if (!b) return null;
  if (!a || b.right === a.right) return b.minutes;
  return a.minutes + ((b.minutes - a.minutes) * (right - a.right)) / (b.right - a.right);
}
