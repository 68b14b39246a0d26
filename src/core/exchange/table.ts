import { momentOfIso } from '../quantities/zonedTime.ts';

/** Tables from outside: which column is which field, and each row read or refused with its reason. */

/** A field to be filled from a column of text. */
export interface Field<K extends string = string> {
  key: K;
  label: string;
  /** Left out, the row cannot be used. */
  must: boolean;
  /** Headings this field goes by, in lower case without spaces or marks; the first match wins. */
  known: readonly string[];
  /** Reads a cell, in a shop whose wall is of this time zone; a string is what is wrong with it. Not called for an empty cell. */
  read: (text: string, timeZone: string) => { value: unknown } | string;
}

/** Column index per field, or null where the table has none. */
export type Mapping<K extends string = string> = Record<K, number | null>;

export interface RowFault {
  /** As a spreadsheet numbers it: the heading is row 1. */
  row: number;
  field: string;
  message: string;
}

export interface ReadTable {
  /** Rows that can be used, with the number each has in a spreadsheet. */
  rows: { row: number; values: Record<string, unknown> }[];
  faults: RowFault[];
}

const plain = (heading: string) =>
  heading
    .toLowerCase()
    .normalize('NFKD')
    .replaceAll(/[^a-z0-9°%]/g, '');

/**
 * Guesses which column holds which field by its heading: exact names first, then headings that contain one.
 * A column serves one field.
 */
export function matchColumns<K extends string>(
  headings: readonly string[],
  fields: readonly Field<K>[],
): Mapping<K> {
  const names = headings.map(plain);
  const taken = new Set<number>();
  const mapping = Object.fromEntries(fields.map((f) => [f.key, null])) as Mapping<K>;
  for (const fits of [
    (name: string, known: string) => name === known,
    (name: string, known: string) => known.length > 2 && name.includes(known),
  ])
    for (const field of fields) {
      if (mapping[field.key] !== null) continue;
      const column = names.findIndex(
        (name, i) => !taken.has(i) && field.known.some((known) => fits(name, known)),
      );
      if (column < 0) continue;
      mapping[field.key] = column;
      taken.add(column);
    }
  return mapping;
}

/** A cell a spreadsheet could run is text only after somebody has looked at it. */
const RUNS = /^[=+\-@\t\r]/;

/**
 * Reads the rows of a table by a mapping. A row with a fault is left out whole; every fault is told.
 *
 * @param rows without the heading
 * @param timeZone whose wall its dates are of, where they name no zone
 * @param unique a field that may not repeat within the table
 */
export function readTable<K extends string>(
  rows: readonly (readonly string[])[],
  fields: readonly Field<K>[],
  mapping: Mapping<K>,
  timeZone: string,
  unique?: K,
): ReadTable {
  const read: ReadTable = { rows: [], faults: [] };
  const seen = new Map<unknown, number>();
  rows.forEach((cells, i) => {
    const row = i + 2;
    if (cells.every((c) => c.trim() === '')) return;
    const values: Record<string, unknown> = {};
    const before = read.faults.length;
    for (const field of fields) {
      const at = mapping[field.key];
      const text = at === null ? '' : (cells[at] ?? '').trim();
      if (text === '') {
        if (field.must)
          read.faults.push({ row, field: field.key, message: `${field.label} is missing.` });
        else values[field.key] = null;
        continue;
      }
      const answer = field.read(text, timeZone);
      if (typeof answer === 'string') read.faults.push({ row, field: field.key, message: answer });
      else values[field.key] = answer.value;
    }
    if (unique !== undefined && values[unique] !== undefined) {
      const first = seen.get(values[unique]);
      if (first === undefined) seen.set(values[unique], row);
      else
        read.faults.push({
          row,
          field: unique,
          message: `${String(values[unique])} stands in row ${first} already.`,
        });
    }
    if (read.faults.length === before) read.rows.push({ row, values });
  });
  return read;
}

/** A number as people and machines write it: `12.48`, `12,48`, `1 250`. Null when it is none. */
export function readNumber(text: string): number | null {
  const body = text
    .trim()
    .replaceAll(/[\s\u00a0\u202f']/g, '')
    .replace('−', '-');
  const [commas, dots] = [body.split(',').length - 1, body.split('.').length - 1];
  // 1,250.5 and 1.250,5: the last mark is the decimal one; a single comma is a decimal comma.
  const cleaned =
    commas > 0 && dots > 0
      ? body.lastIndexOf(',') > body.lastIndexOf('.')
        ? body.replaceAll('.', '').replace(',', '.')
        : body.replaceAll(',', '')
      : commas === 1
        ? body.replace(',', '.')
        : body;
  return /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d{1,3})?$/i.test(cleaned) ? Number(cleaned) : null;
}

/** Text for a name, a place, a code. */
export function readText(most: number): Field['read'] {
  return (text) => {
    if (RUNS.test(text))
      return `“${text.slice(0, 20)}” begins like a formula; a spreadsheet could run it.`;
    if (/[<>\p{Cc}]/u.test(text)) return 'No < or > and no control characters.';
    return text.length > most ? `At most ${most} characters.` : { value: text };
  };
}

/** A number within bounds. */
export function readAmount(low: number, high: number): Field['read'] {
  return (text) => {
    const value = readNumber(text);
    if (value === null) return `“${text.slice(0, 20)}” is not a number.`;
    return value < low || value > high ? `Must lie between ${low} and ${high}.` : { value };
  };
}

/** One of a list of words. */
export function readOneOf(words: Readonly<Record<string, string>>): Field['read'] {
  return (text) => {
    const value = words[plain(text)];
    return value === undefined
      ? `“${text.slice(0, 30)}” is not one of ${[...new Set(Object.values(words))].join(', ')}.`
      : { value };
  };
}

/** A day or a moment in ISO 8601, on the shop's wall where no zone is given. */
export const readMoment: Field['read'] = (text, timeZone) => {
  const moment = momentOfIso(text, timeZone);
  return moment === null
    ? `“${text.slice(0, 30)}” is not a date like 2026-03-10 or 2026-03-10T14:05.`
    : { value: moment };
};
