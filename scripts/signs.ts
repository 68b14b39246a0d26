// `npm run signs`: asks simulated batteries what their readings say of their family, and writes it down for the diagnosis
// (src/core/diagnosis/practice/signWeights.ts). Minutes of computing; to be run again when the simulator changes.
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { FAMILY_KEYS } from '../src/core/diagnosis/practice/families.ts';
import { SIGN_KEYS, type Signs } from '../src/core/diagnosis/practice/signForm.ts';
import { signsOf, valuesOf } from '../src/core/diagnosis/practice/signs.ts';
import { seeded } from '../src/core/simulation/random.ts';
import { drawArrived, drawCharged } from './bench/chargedHidden.ts';
import { bin } from './setup.mjs';
import type { ReadBattery } from './bench/judges.ts';
import { ROOT } from './setup.mjs';

/** How many are asked. */
const ARRIVED = Number(process.env['ARRIVED'] ?? 20_000);
const CHARGED = Number(process.env['CHARGED'] ?? 12_000);
/** Draws of their own: the bench judges others. */
const SEEDS = { arrived: 90_001, charged: 90_002 } as const;

/** Knots lie where so many of the readings are below. */
const QUANTILES = [0.03, 0.15, 0.35, 0.6, 0.82, 0.96] as const;
/** Weights are held towards nought (ridge): what a handful of batteries shows hardly counts. */
const HELD = 1;
const ROUNDS = 600;
const RATE = 0.08;

function knotsOf(batteries: readonly ReadBattery[]): Signs['knots'] {
  return Object.fromEntries(
    SIGN_KEYS.flatMap((key) => {
      const read = batteries
        .flatMap((b) => valuesOf(b, b.features).get(key) ?? [])
        .sort((a, b) => a - b);
      if (read.length < 100) return [];
      const knots = QUANTILES.map((q) =>
        Number((read[Math.floor(q * read.length)] ?? 0).toFixed(3)),
      );
      return [[key, [...new Set(knots)]]];
    }),
  );
}

/** Multinomial logistic regression by Adam (Kingma and Ba 2015): a row of weights for each family. */
function fitted(batteries: readonly ReadBattery[]): Signs {
  const knots = knotsOf(batteries);
  const rows = batteries.map((b) => Float64Array.from(signsOf({ knots }, b, b.features)));
  const families = FAMILY_KEYS.filter((f) => batteries.some((b) => b.family === f));
  const is = batteries.map((b) => families.indexOf(b.family));
  const signs = rows[0]?.length ?? 0;
  const size = families.length * signs;
  const weights = new Float64Array(size);
  const mean = new Float64Array(size);
  const square = new Float64Array(size);
  const raw = new Float64Array(families.length);
  for (let round = 1; round <= ROUNDS; round++) {
    const slope = Float64Array.from(weights, (v) => (HELD * v) / rows.length);
    rows.forEach((row, i) => {
      let total = 0;
      for (let f = 0; f < families.length; f++) {
        let log = 0;
        for (let s = 0; s < signs; s++)
          log += (row[s] as number) * (weights[f * signs + s] as number);
        total += raw[f] = Math.exp(log);
      }
      for (let f = 0; f < families.length; f++) {
        const off = ((raw[f] as number) / total - Number(f === is[i])) / rows.length;
        for (let s = 0; s < signs; s++)
          slope[f * signs + s] = (slope[f * signs + s] as number) + off * (row[s] as number);
      }
    });
    const rate = RATE * (1 - 0.95 * (round / ROUNDS));
    for (let k = 0; k < size; k++) {
      const g = slope[k] as number;
      mean[k] = 0.9 * (mean[k] as number) + 0.1 * g;
      square[k] = 0.999 * (square[k] as number) + 0.001 * g * g;
      weights[k] =
        (weights[k] as number) -
        (rate * ((mean[k] as number) / (1 - 0.9 ** round))) /
          (Math.sqrt((square[k] as number) / (1 - 0.999 ** round)) + 1e-8);
    }
  }
  return {
    knots,
    weights: Object.fromEntries(
      families.map((family, f) => [
        family,
        [...weights.subarray(f * signs, (f + 1) * signs)].map((v) => Number(v.toFixed(2))),
      ]),
    ),
  };
}

const found = {
  arrived: fitted(drawArrived(seeded(SEEDS.arrived), ARRIVED)),
  charged: fitted(drawCharged(seeded(SEEDS.charged), CHARGED, [0.3, 1])),
};
const file = join(ROOT, 'src/core/diagnosis/practice/signWeights.ts');
const source = `import type { Signs } from './signForm.ts';

/** Made by \`npm run signs\` of ${ARRIVED} simulated batteries as they come and ${CHARGED} that have been charged. */
export const SIGNS: Readonly<Record<'arrived' | 'charged', Signs>> = ${JSON.stringify(found)};
`;
writeFileSync(file, source);
execFileSync(bin('oxfmt'), [file]);
