/** RFC 4180 out: quoted where needed, and nothing a spreadsheet would run. */

/** Signs that begin a formula, their full-width forms too. */
const RUNS = /^[=+\-@\t\r＝＋－＠]/;
/** Characters that turn the order of what stands beside them, or end a line for some readers and not for others. */
const UNSEEN = /[\u2028\u2029\u202a-\u202e\u2066-\u2069\u200e\u200f\u061c\ufeff]/g;

/** One cell. Text that begins like a formula gets an apostrophe before it; numbers are left alone. */
export function csvCell(value: string | number | null | undefined): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return Number.isFinite(value) ? String(value) : '';
  const seen = value.replace(UNSEEN, '');
  const text = RUNS.test(seen) ? `'${seen}` : seen;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

type Cell = string | number | null | undefined;

/** One row as a line of CSV. */
export const csvLine = (row: readonly Cell[]): string => `${row.map(csvCell).join(',')}\r\n`;

/** Rows as CSV, heading first, lines ended as the RFC wants. */
export function csvText(headings: readonly string[], rows: readonly (readonly Cell[])[]): string {
  return [headings, ...rows].map(csvLine).join('');
}

/** Column names of the Battery Data Format that our time series fill. Charge is positive. */
export const BDF_COLUMNS = [
  'Test Time / s',
  'Voltage / V',
  'Current / A',
  'Surface Temperature T1 / degC',
] as const;
