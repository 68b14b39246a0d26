// What C20 is guessed from what can be read of ordinary batteries, beside what their labels say.
import { guessSize, type SizeClues } from '../../src/core/batteries/guessSize.ts';
import { title } from './figures.ts';

/** Ordinary batteries as catalogues list them, of no maker: label Ah, and what is left to read when the label is gone. */
export const ORDINARY: readonly (SizeClues & { name: string; labelAh: number })[] = [
  {
    name: 'Flooded H4, small car',
    labelAh: 44,
    kind: 'flooded-sealed',
    cells: 6,
    cca: 420,
    massKg: 11.3,
    caseCm: [20.7, 17.5, 19],
    caseCode: 'H4',
  },
  {
    name: 'Flooded H5, car',
    labelAh: 60,
    kind: 'flooded-sealed',
    cells: 6,
    cca: 540,
    massKg: 14.8,
    caseCm: [24.2, 17.5, 19],
    caseCode: 'H5',
  },
  {
    name: 'Flooded H6, diesel car',
    labelAh: 74,
    kind: 'flooded-sealed',
    cells: 6,
    cca: 680,
    massKg: 17.5,
    caseCm: [27.8, 17.5, 19],
    caseCode: 'H6',
  },
  {
    name: 'Flooded H8, van',
    labelAh: 100,
    kind: 'flooded-sealed',
    cells: 6,
    cca: 830,
    massKg: 23.5,
    caseCm: [35.3, 17.5, 19],
    caseCode: 'H8',
  },
  {
    name: 'Flooded D26',
    labelAh: 68,
    kind: 'flooded-dry',
    cells: 6,
    cca: 550,
    massKg: 16.2,
    caseCm: [26, 17.3, 20.2],
    caseCode: 'D26',
  },
  {
    name: 'Flooded truck A',
    labelAh: 135,
    kind: 'flooded-dry',
    cells: 6,
    cca: 1000,
    massKg: 34.5,
    caseCm: [51.3, 18.9, 19.5],
    caseCode: 'A',
  },
  {
    name: 'Flooded truck C',
    labelAh: 225,
    kind: 'flooded-dry',
    cells: 6,
    cca: 1150,
    massKg: 58,
    caseCm: [51.8, 27.6, 21.5],
    caseCode: 'C',
  },
  {
    name: 'Flooded group 24 deep-cycle',
    labelAh: 80,
    kind: 'flooded-dry',
    cells: 6,
    build: 'deep-cycle',
    reserveMin: 135,
    massKg: 21.5,
    caseCode: 'G24',
  },
  {
    name: 'Flooded group 31',
    labelAh: 105,
    kind: 'flooded-sealed',
    cells: 6,
    cca: 950,
    ccaStandard: 'SAE',
    reserveMin: 180,
    massKg: 27.5,
    caseCode: 'G31',
  },
  {
    name: 'Flooded 6 V GC2',
    labelAh: 225,
    kind: 'flooded-dry',
    cells: 3,
    build: 'deep-cycle',
    massKg: 28,
    caseCm: [26, 18.1, 25],
    caseCode: 'GC2',
  },
  {
    name: 'Flooded 6 V tractor',
    labelAh: 77,
    kind: 'flooded-dry',
    cells: 3,
    cca: 360,
    massKg: 10.5,
    caseCm: [21.5, 16.9, 18.4],
  },
  {
    name: 'Flooded motorcycle',
    labelAh: 14,
    kind: 'flooded-dry',
    cells: 6,
    build: 'powersport',
    cca: 190,
    massKg: 4.6,
    caseCm: [13.4, 8.9, 16.6],
  },
  {
    name: 'AGM 7 Ah, alarm',
    labelAh: 7,
    kind: 'agm-sealed',
    cells: 6,
    massKg: 2.2,
    caseCm: [15.1, 6.5, 9.4],
  },
  {
    name: 'AGM 12 Ah, motorcycle',
    labelAh: 11,
    kind: 'agm-sealed',
    cells: 6,
    build: 'powersport',
    cca: 180,
    massKg: 3.9,
    caseCm: [15, 8.7, 13],
  },
  {
    name: 'AGM 18 Ah',
    labelAh: 18,
    kind: 'agm-sealed',
    cells: 6,
    massKg: 5.6,
    caseCm: [18.1, 7.7, 16.7],
  },
  {
    name: 'AGM 33 Ah',
    labelAh: 33,
    kind: 'agm-sealed',
    cells: 6,
    massKg: 10.4,
    caseCm: [19.5, 13, 15.9],
  },
  {
    name: 'AGM H6, start-stop',
    labelAh: 70,
    kind: 'agm-sealed',
    cells: 6,
    build: 'starter',
    cca: 760,
    massKg: 20.2,
    caseCm: [27.8, 17.5, 19],
    caseCode: 'H6',
  },
  {
    name: 'AGM 100 Ah, standby',
    labelAh: 100,
    kind: 'agm-sealed',
    cells: 6,
    massKg: 29.5,
    caseCm: [33, 17.3, 21.2],
  },
  {
    name: 'AGM 200 Ah, standby',
    labelAh: 200,
    kind: 'agm-sealed',
    cells: 6,
    massKg: 59,
    caseCm: [52.2, 24, 21.9],
  },
  { name: 'Gel 60 Ah', labelAh: 60, kind: 'gel', cells: 6, massKg: 19, caseCm: [26, 16.9, 20.8] },
];

export function benchSizes(): void {
  title('C20 guessed from everything that can be read, and from one thing alone');
  let inside = 0;
  const alone: Record<string, { inside: number; all: number }> = {};
  for (const { name, labelAh, ...clues } of ORDINARY) {
    const { c20Ah, low, high, said } = guessSize(clues);
    const holds = labelAh >= low && labelAh <= high;
    if (holds) inside += 1;
    console.log(
      `  ${name.padEnd(30)}label ${String(labelAh).padStart(4)} Ah   guess ${String(c20Ah).padStart(5)} (${low}–${high})  ${holds ? ' ' : '✕'} off ${(100 * (c20Ah / labelAh - 1)).toFixed(0).padStart(3)} %   ${said.map((s) => s.from).join(', ')}`,
    );
    for (const key of ['cca', 'massKg', 'caseCm', 'caseCode', 'reserveMin'] as const) {
      if (clues[key] === undefined) continue;
      const { kind, cells, build, ccaStandard } = clues;
      const one = guessSize({ kind, cells, build, ccaStandard, [key]: clues[key] });
      const count = (alone[key] ??= { inside: 0, all: 0 });
      count.all += 1;
      if (labelAh >= one.low && labelAh <= one.high) count.inside += 1;
    }
  }
  console.log(`  inside the band: ${inside} of ${ORDINARY.length} (eight of ten are meant to be)`);
  for (const [key, { inside: n, all }] of Object.entries(alone))
    console.log(`  by ${key} alone: ${n} of ${all} inside`);
}
