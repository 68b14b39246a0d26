/** RFC 4180 out: quoted where needed, and nothing a spreadsheet would run. */

const RUNS = /^[=+\-@\t\r]/;

/** One cell. Text that begins like a formula gets an apostrophe before it; numbers are left alone. */
export function csvCell(value: string | number | null | undefined): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return Number.isFinite(value) ? String(value) : '';
  const text = RUNS.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** Rows as CSV, heading first, lines ended as the RFC wants. */
export function csvText(headings: readonly string[], rows: readonly (readonly (string | number | null | undefined)[])[]): string {
  return [headings, ...rows].map((row) => `${row.map(csvCell).join(',')}\r\n`).join('');
}

/** Column names of the Battery Data Format that our time series fill. Charge is positive. */
export const BDF_COLUMNS = ['Test Time / s', 'Voltage / V', 'Current / A', 'Surface Temperature T1 / degC'] as const;
