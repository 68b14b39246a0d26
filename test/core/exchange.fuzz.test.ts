import { expect } from 'chai';
import fc from 'fast-check';
import { parseTable, TableRefused } from '../../src/contract/parseTable.ts';
import { guessLogColumns, LogRefused, readChargeLog } from '../../src/core/exchange/chargeLog.ts';
import { csvText } from '../../src/core/exchange/csv.ts';
import { BATTERY_FIELDS, MODEL_FIELDS } from '../../src/core/exchange/imports.ts';
import { matchColumns, readTable } from '../../src/core/exchange/table.ts';

const cell = fc.oneof(
  fc.string({ maxLength: 12 }),
  fc.constantFrom(
    '',
    '12.8',
    '12,8',
    '1e9',
    '=cmd()',
    'LK-0001',
    'agm',
    '2026-01-01',
    'NaN',
    '-0',
    '∞',
    '"',
    "'; DROP TABLE jobs; --",
  ),
);
const grid = fc.integer({ min: 2, max: 7 }).chain((width) =>
  fc.array(fc.array(cell, { minLength: width, maxLength: width }), {
    minLength: 1,
    maxLength: 30,
  }),
);

describe('whatever stands in a file', () => {
  it('any bytes are read or refused in words, never worse', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
        try {
          const { headings, rows } = parseTable(bytes, 50);
          expect(headings.length).to.be.at.least(2);
          expect(rows.length).to.be.within(1, 50);
        } catch (error) {
          expect(error).to.be.instanceOf(TableRefused);
          expect((error as Error).message).to.match(/\.$|\?$/);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('what is written as a table is read again as it was, but for what a spreadsheet would run', () => {
    fc.assert(
      fc.property(grid, (rows) => {
        const headings = (rows[0] ?? []).map((_, i) => `c${i}`);
        // A row of nothing is no row; the parser leaves it out on purpose.
        const full = rows.filter((r) => r.some((c) => c.trim() !== ''));
        fc.pre(full.length > 0);
        const text = csvText(headings, full);
        const back = parseTable(new TextEncoder().encode(text), 100);
        expect(back.headings).to.deep.equal(headings);
        back.rows.forEach((row, i) =>
          row.forEach((read, j) => {
            const written = full[i]?.[j] ?? '';
            expect(read === written || read === `'${written}`).to.equal(true);
            expect(read).to.not.match(/^[=+@\t\r]/);
          }),
        );
      }),
      { numRuns: 200 },
    );
  });

  it('a row of a table is used whole or left out whole, with a reason', () => {
    fc.assert(
      fc.property(grid, fc.constantFrom(BATTERY_FIELDS, MODEL_FIELDS), (rows, fields) => {
        const some = fields as typeof BATTERY_FIELDS;
        const mapping = matchColumns(
          some.map((f) => f.label),
          some,
        );
        const read = readTable(rows, some, mapping, 'America/St_Johns', some[0]?.key);
        const faulty = new Set(read.faults.map((f) => f.row));
        for (const r of read.rows) {
          expect(faulty.has(r.row)).to.equal(false);
          for (const f of some) if (f.must) expect(r.values[f.key]).to.not.equal(null);
          for (const v of Object.values(r.values))
            if (typeof v === 'number') expect(Number.isFinite(v)).to.equal(true);
        }
        const blank = rows.filter((r) => r.every((c) => c.trim() === '')).length;
        expect(read.rows.length + faulty.size + blank).to.equal(rows.length);
        for (const f of read.faults) expect(f.message).to.match(/[.]$/);
      }),
      { numRuns: 200 },
    );
  });

  it('a log keeps its time running forwards and its sums finite, or says why it cannot be used', () => {
    const columns = guessLogColumns([
      'Time / s',
      'Voltage / V',
      'Current / A',
      'Temperature / degC',
    ]);
    if (!columns) throw new Error('The Battery Data Format was not known.');
    const sample = fc.oneof(
      {
        weight: 9,
        arbitrary: fc.tuple(
          fc.integer({ min: 0, max: 90_000 }).map(String),
          fc.double({ min: 9, max: 15, noNaN: true }).map((v) => v.toFixed(3)),
          fc.double({ min: -9, max: 9, noNaN: true }).map((a) => a.toFixed(2)),
          fc.constantFrom('21', '22,5', ''),
        ),
      },
      { weight: 1, arbitrary: fc.tuple(cell, cell, cell, cell) },
    );
    fc.assert(
      fc.property(
        fc.array(sample, { minLength: 1, maxLength: 80 }),
        fc.boolean(),
        (rows, sorted) => {
          const given = sorted ? [...rows].sort((a, b) => Number(a[0]) - Number(b[0])) : rows;
          try {
            const log = readChargeLog(given, columns, { timeZone: 'Europe/London' });
            expect(
              log.seconds.every((s, i) => i === 0 || s > (log.seconds[i - 1] ?? Infinity)),
            ).to.equal(true);
            expect([log.voltageV.length, log.currentA.length]).to.deep.equal([
              log.seconds.length,
              log.seconds.length,
            ]);
            for (const n of [log.ahIn, log.ahOut, ...log.voltageV, ...(log.temperatureC ?? [])])
              expect(Number.isFinite(n)).to.equal(true);
            expect(log.ahIn).to.be.at.least(0);
            expect(log.ahOut).to.be.at.least(0);
            const blank = given.filter((r) => r.every((c) => c.trim() === '')).length;
            expect(log.rows + log.leftOutCount + blank).to.equal(given.length);
          } catch (error) {
            if (!(error instanceof LogRefused)) throw error;
            expect(error.message).to.match(/[.?]$/);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});
