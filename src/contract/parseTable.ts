import Papa from 'papaparse';
import { decodeText } from './decode.ts';

/** A table as text, with what was found out about its file. */
export interface ParsedTable {
  headings: string[];
  rows: string[][];
  encoding: string;
  separator: string;
}

/** The file is no table that can be used, and why. */
export class TableRefused extends Error {
  override readonly name = 'TableRefused';
}

const MOST_BYTES = 64 * 1024 * 1024;
const MOST_COLUMNS = 200;
const SEPARATORS = [',', ';', '\t', '|'];

/**
 * Reads a separated file: any of the usual encodings and separators, quoted or not.
 *
 * @param mostRows a longer table is refused, and reading stops there
 * @throws TableRefused with a sentence to act on
 */
export function parseTable(bytes: Uint8Array, mostRows: number): ParsedTable {
  if (bytes.length === 0) throw new TableRefused('The file is empty.');
  if (bytes.length > MOST_BYTES)
    throw new TableRefused(
      `The file has ${(bytes.length / 1024 / 1024).toFixed(0)} MB; ${MOST_BYTES / 1024 / 1024} MB is the most.`,
    );
  const { text, encoding } = decodeText(bytes);
  if (text.includes('\0')) throw new TableRefused('That is no text file. Save it as CSV first.');
  const rows: string[][] = [];
  let [separator, tooMany] = [',', false];
  let broken: string | null = null;
  Papa.parse<string[]>(text, {
    delimitersToGuess: SEPARATORS,
    skipEmptyLines: 'greedy',
    // The fast mode cuts the whole text into rows before the first of them is looked at.
    fastMode: false,
    step: ({ data, errors, meta }, parser) => {
      separator = meta.delimiter;
      const quoting = errors.find((e) => e.type === 'Quotes');
      if (quoting)
        broken = `Row ${rows.length + 1}: a quotation mark is not closed, or stands inside a word.`;
      rows.push(data);
      tooMany = rows.length > mostRows + 1;
      if (tooMany || broken !== null) parser.abort();
    },
  });
  if (broken !== null) throw new TableRefused(broken);
  if (tooMany)
    throw new TableRefused(
      `More than ${mostRows.toLocaleString('en-GB')} rows. Split or thin the file first; nothing was read in.`,
    );
  const [headings, ...body] = rows;
  if (!headings || body.length === 0)
    throw new TableRefused('It has a heading at most, and no rows.');
  if (headings.length > MOST_COLUMNS)
    throw new TableRefused(`${headings.length} columns are more than ${MOST_COLUMNS}.`);
  if (headings.length < 2)
    throw new TableRefused(
      'It has a single column. Is its separator a comma, semicolon, tab or bar?',
    );
  return { headings: headings.map((h) => h.trim()), rows: body, encoding, separator };
}
