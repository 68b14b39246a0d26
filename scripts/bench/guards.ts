// The guards of a live charge: how often they stop batteries they should not, and how many they catch that they should.
import { STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import { fitPlan, type FittedPlan } from '../../src/core/charging/fitPlan.ts';
import { GUARDS } from '../../src/core/charging/liveGuards.ts';
import {
  type CellCondition,
  makeBattery,
  type SimBattery,
} from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { type Random, seeded } from '../../src/core/simulation/random.ts';
import { drawFactors } from '../../src/core/simulation/twins.ts';
import { type Mischief, supervise } from '../../test/support/supervised.ts';
import { title } from './figures.ts';

const SIZES = [7, 18, 45, 60, 100];

interface Case {
  battery: SimBattery;
  plan: FittedPlan;
  missingAh: number;
}

/** A battery of drawn parameters, as it comes, on the plan it usually gets. */
function drawCase(
  random: Random,
  planIds: readonly string[],
  cells: (k: number, scale: number) => CellCondition,
  charge: readonly [number, number],
): Case {
  const between = (low: number, high: number): number => low + (high - low) * random.even();
  const chemistry = random.even() < 0.5 ? ('flooded' as const) : ('agm' as const);
  const c20Ah = SIZES[Math.floor(SIZES.length * random.even())] as number;
  const airC = between(14, 28);
  const battery = makeBattery(
    DESIGNS[chemistry],
    { c20Ah, cells: 6 },
    {
      charge: between(charge[0], charge[1]),
      temperatureC: airC,
      cells: Array.from({ length: 6 }, (_, k) => ({
        behind: Math.abs(0.01 * random.normal()),
        ...cells(k, 60 / c20Ah),
      })),
    },
    airC,
    drawFactors(DESIGNS[chemistry], random),
  );
  const id = planIds[Math.floor(planIds.length * random.even())];
  const plan = fitPlan(STANDARD_PLANS.find((p) => p.id === id) ?? STANDARD_PLANS[0], {
    chemistry,
    cells: 6,
    c20Ah,
  }).fitted as FittedPlan;
  // The technician knows what is missing to a twentieth of the rating or so.
  let missing = 0;
  for (let k = 0; k < 6; k++)
    missing += ((battery.state[13 * k] as number) + (battery.state[13 * k + 1] as number)) / 6;
  return { battery, plan, missingAh: Math.max(0, (missing + 0.05 * random.normal()) * c20Ah) };
}

const decades = (random: Random, low: number, high: number): number =>
  low * (high / low) ** random.even();

/** Groups of batteries: their plans, their cells, how full they come. */
const GROUPS: Readonly<Record<string, (random: Random) => Case>> = {
  sound: (random) => drawCase(random, ['first-c10', 'first-slow'], () => ({}), [0.05, 0.85]),
  'mildly sulfated': (random) => {
    const [hard, film] = [0.06 + 0.2 * random.even(), 0.2 + random.even()];
    return drawCase(
      random,
      ['slow-restore', 'first-slow'],
      () => ({ hard: hard * (1 + 0.1 * random.normal()), film }),
      [0.15, 0.8],
    );
  },
  'a cell shorted': (random) => {
    const [odd, ohm] = [Math.floor(6 * random.even()), decades(random, 0.02, 0.12)];
    return drawCase(
      random,
      ['first-c10', 'first-slow', 'slow-restore'],
      (k, scale) => (k === odd ? { shortOhm: ohm * scale, behind: 0.6 + 0.5 * random.even() } : {}),
      [0.2, 0.8],
    );
  },
  'hard sulfated at C/10': (random) => {
    const [hard, film] = [0.4 + 0.3 * random.even(), 2 + 1.5 * random.even()];
    return drawCase(
      random,
      ['first-c10'],
      () => ({ hard: hard * (1 + 0.08 * random.normal()), film }),
      [0.05, 0.6],
    );
  },
};

const MISCHIEFS: readonly { what: Mischief; guard: string[] }[] = [
  { what: 'lead-off', guard: ['no-current'] },
  { what: 'over-volts', guard: ['over-volts'] },
  { what: 'silent', guard: ['silent'] },
  { what: 'frozen', guard: ['frozen-reading'] },
  { what: 'heated', guard: ['heating-fast', 'hot'] },
  { what: 'reversed', guard: ['reversed'] },
];

const median = (list: number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? NaN;

export function benchGuards(count: number): void {
  title(`Guards of a live charge, ${count} batteries of drawn parameters in each group`);
  const names = GUARDS.map((g) => g.key);
  console.log(
    `${'group'.padEnd(26)}${names.map((n) => n.padStart(15)).join('')}${'any'.padStart(8)}${'  median h'}`,
  );
  for (const [name, draw] of Object.entries(GROUPS)) {
    const trips = new Map<string, number>();
    const hours: number[] = [];
    for (let i = 0; i < count; i++) {
      const random = seeded(77_000 + i);
      const { battery, plan, missingAh } = draw(random);
      const { trip, hours: h } = supervise(battery, plan, random, { missingAh, everyS: 20 });
      if (!trip) continue;
      trips.set(trip.key, (trips.get(trip.key) ?? 0) + 1);
      hours.push(h);
    }
    const share = (n: number): string => `${((100 * n) / count).toFixed(1)} %`;
    console.log(
      `${name.padEnd(26)}${names.map((n) => share(trips.get(n) ?? 0).padStart(15)).join('')}${share(hours.length).padStart(8)}${median(hours).toFixed(1).padStart(9)}`,
    );
  }
  for (const { what, guard } of MISCHIEFS) {
    let caught = 0;
    const after: number[] = [];
    const some = Math.min(count, 100);
    for (let i = 0; i < some; i++) {
      const random = seeded(88_000 + i);
      const { battery, plan, missingAh } = (GROUPS['sound'] as (r: Random) => Case)(random);
      const afterS = 60 + 3 * 3600 * random.even();
      const { trip, hours } = supervise(battery, plan, random, {
        missingAh,
        everyS: 1,
        wrong: { what, afterS },
      });
      if (trip && guard.includes(trip.key)) {
        caught += 1;
        after.push(hours * 3600 - afterS);
      }
    }
    console.log(
      `${what.padEnd(26)} caught by ${guard.join(' or ')}: ${((100 * caught) / some).toFixed(0)} %, median ${median(after).toFixed(0)} s after it began`,
    );
  }
}
