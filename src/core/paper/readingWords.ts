import { showingText } from '../chargers/showingWords.ts';
import { formatTemperature } from '../quantities/format.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';
import type { CellValues, Reading } from '../job/reading.ts';

const ROLE_WORDS: Readonly<Record<Reading['role'], string>> = {
  arrival: 'On arrival',
  charge: 'On charge',
  light: 'Its charger shows',
  rest: 'At rest',
  load: 'Under load',
  analyser: 'By analyser',
  cells: 'By cell',
  hold: 'After the hold',
  spot: 'Spot',
  shelf: 'On the shelf',
};
const MARK_WORDS: Readonly<Record<Reading['marks'][number], string>> = {
  fresh: 'just off a charger: surface charge',
  early: 'early, not judged',
  surface: 'surface charge, not judged',
  confirmed: 'unusual, confirmed',
};

/** A reading's values in a line: `13.86 V · 1.20 A · 27 °C`. */
export function readingText(reading: Reading, unit: TemperatureUnit): string {
  const {
    voltageV,
    currentA,
    temperatureC,
    specificGravity,
    resistanceMilliohm,
    ccaA,
    massG,
    pulseHz,
    peakA,
    meanA,
    beforeV,
    afterV,
  } = reading.values;
  return [
    beforeV === undefined ? null : `before ${beforeV.toFixed(2)} V`,
    reading.showing ? showingText(reading.showing) : null,
    reading.cells ? cellsText(reading.cells) : null,
    voltageV === undefined ? null : `${voltageV.toFixed(2)} V`,
    afterV === undefined ? null : `after ${afterV.toFixed(2)} V`,
    currentA === undefined ? null : `${currentA.toFixed(2)} A`,
    specificGravity === undefined ? null : `SG ${specificGravity.toFixed(3)}`,
    resistanceMilliohm === undefined ? null : `${resistanceMilliohm.toFixed(1)} mΩ`,
    ccaA === undefined
      ? null
      : `CCA ${ccaA.toFixed(0)} A${reading.standard ? ` (${reading.standard})` : ''}`,
    massG === undefined ? null : `${massG.toFixed(0)} g`,
    pulseHz === undefined ? null : `${pulseHz.toFixed(1)} pulses/s`,
    peakA === undefined ? null : `peak ${peakA.toFixed(2)} A`,
    meanA === undefined ? null : `mean ${meanA.toFixed(2)} A`,
    temperatureC === undefined ? null : formatTemperature(temperatureC, unit),
  ]
    .filter((part) => part !== null)
    .join(' · ');
}

/** Cells in a line: `SG 1.265 1.260 1.262 …`, volts and levels where they were read. */
function cellsText(cells: readonly CellValues[]): string {
  const column = (label: string, of: (cell: CellValues) => string | undefined) =>
    cells.some((c) => of(c) !== undefined)
      ? `${label} ${cells.map((c) => of(c) ?? '–').join(' ')}`
      : null;
  return [
    column('SG', (c) => c.specificGravity?.toFixed(3)),
    column('cells', (c) => c.voltageV?.toFixed(2)),
    column('levels', (c) => c.level),
    column('bubbling', (c) => (c.bubbling === undefined ? undefined : c.bubbling ? 'yes' : 'no')),
  ]
    .filter((part) => part !== null)
    .join(' · ');
}

/** What to say beside a reading. */
export function readingRemark(reading: Reading): string {
  const words = reading.marks.map((m) => MARK_WORDS[m]);
  if (reading.supersededBy) words.unshift('corrected');
  if (reading.supersedes) words.unshift('correction');
  return words.join('; ');
}

export function readingRole(reading: Reading): string {
  return ROLE_WORDS[reading.role];
}
