// The table of how a sound battery behaves: measured beside the range that published tests and data sheets show.
import type { ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import { makeBattery } from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { AGM_MILLIOHM, behaviourOf, milliohmOf } from '../../test/support/behaviour.ts';
import { title } from './figures.ts';

const SIZES = [4, 7, 18, 45, 60, 100, 200];
const FAMILIES: readonly ChemistryKey[] = ['flooded', 'agm', 'gel'];

export function benchBehaviour(): void {
  let outside = 0;
  for (const family of FAMILIES) {
    title(`${family}: a sound battery of ${SIZES.join(', ')} Ah; * is outside the range`);
    const tables = SIZES.map((c20Ah) => behaviourOf(family, { c20Ah, cells: 6 }));
    const show = (value: number, low: number, high: number): string => {
      const out = !(value >= low && value <= high);
      if (out) outside += 1;
      return `${Math.abs(value) >= 20 ? value.toFixed(1) : value.toFixed(3)}${out ? '*' : ' '}`.padStart(
        9,
      );
    };
    const milliohm = SIZES.map((c20Ah) =>
      milliohmOf(
        makeBattery(DESIGNS[family], { c20Ah, cells: 6 }, { charge: 1, temperatureC: 25 }),
      ),
    );
    const ranges = SIZES.map((ah) =>
      family === 'agm' ? (AGM_MILLIOHM[ah] ?? [0, Infinity]) : [0, Infinity],
    );
    console.log(
      `${'short pulse, full: mΩ'.padEnd(52)}${milliohm.map((r, i) => show(r, ranges[i]?.[0] ?? 0, ranges[i]?.[1] ?? Infinity)).join('')}`,
    );
    tables[0]?.forEach(({ row, low, high }, i) =>
      console.log(
        `${row.padEnd(52)}${tables.map((t) => show(t[i]?.value ?? NaN, low, high)).join('')}   ${low}–${high}`,
      ),
    );
  }
  console.log(
    `\n${outside === 0 ? 'Every number lies within its range.' : `${outside} numbers lie outside their range.`}`,
  );
}
