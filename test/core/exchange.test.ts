import { expect } from 'chai';
import { modelFaults } from '../../src/core/batteries/model.ts';
import {
  type ChargeLog,
  guessLogColumns,
  LogRefused,
  readChargeLog,
  type LogColumns,
} from '../../src/core/exchange/chargeLog.ts';
import { type DateOrder, readWritten } from '../../src/core/exchange/writtenDates.ts';
import { csvCell, csvText } from '../../src/core/exchange/csv.ts';
import { BATTERY_FIELDS, MODEL_FIELDS, modelOfRow } from '../../src/core/exchange/imports.ts';
import { parseTable, TableRefused } from '../../src/contract/parseTable.ts';
import { matchColumns, readMoment, readNumber, readTable } from '../../src/core/exchange/table.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const stock = (text: string) => {
  const { headings, rows } = parseTable(bytes(text), 1000);
  return readTable(rows, BATTERY_FIELDS, matchColumns(headings, BATTERY_FIELDS), 'UTC', 'tag');
};

describe('a table from outside', () => {
  it('is read with any usual separator and encoding', () => {
    for (const [separator, name] of [
      [',', ','],
      [';', ';'],
      ['\t', '\t'],
      ['|', '|'],
    ] as const) {
      const text =
        ['Tag', 'Model', 'Date code', 'For'].join(separator) +
        '\r\n' +
        ['LK-0901', 'LF-A12', '2026-01', 'Müller'].join(separator) +
        '\r\n';
      expect(parseTable(bytes(text), 10)).to.deep.include({
        separator: name,
        encoding: 'UTF-8',
        rows: [['LK-0901', 'LF-A12', '2026-01', 'Müller']],
      });
    }
    const western = new Uint8Array([...bytes('Tag,For\nLK-0901,M'), 0xfc, ...bytes('ller\n')]);
    expect(parseTable(western, 10)).to.deep.include({
      encoding: 'Windows-1252',
      rows: [['LK-0901', 'Müller']],
    });
    const wide = new Uint8Array(Buffer.from('\ufeffTag\tFor\nLK-0901\tÅse\n', 'utf16le'));
    expect(parseTable(wide, 10)).to.deep.include({
      encoding: 'UTF-16',
      rows: [['LK-0901', 'Åse']],
    });
    expect(parseTable(bytes('\ufeffTag,For\nA,"He said ""no"", twice"\n'), 10).rows).to.deep.equal([
      ['A', 'He said "no", twice'],
    ]);
  });
  it('is refused whole when it is none, too long, or badly quoted', () => {
    const refused = (input: Uint8Array, most = 100) =>
      expect(() => parseTable(input, most)).to.throw(TableRefused);
    refused(bytes('')).with.property('message', 'The file is empty.');
    refused(bytes('Tag,For\n'));
    refused(bytes('one column\nx\n')).with.property('message').that.includes('single column');
    refused(new Uint8Array([0x50, 0x4b, 3, 4, 0, 0, 0]))
      .with.property('message')
      .that.includes('no text file');
    refused(bytes('Tag,For\nA,"never closed\nB,c\n'))
      .with.property('message')
      .that.includes('quotation mark');
  });
  it('stops reading a million rows at its limit', () => {
    // Whoever read on would come to a quotation mark that is not closed, and say so.
    const long = bytes(
      `Tag,For\n${'LK-0001,x\n'.repeat(2100)}LK-0001,"x\n${'LK-0001,x\n'.repeat(1_000_000)}`,
    );
    expect(() => parseTable(long, 2000)).to.throw('More than 2,000 rows');
    expect(() => parseTable(long, 2200)).to.throw('quotation mark');
  });
  it('finds its columns by their headings, each used once', () => {
    expect(
      matchColumns(
        ['Shop tag', 'MODEL', 'Made', 'Customer', 'Voltage (V)', 'notes'],
        BATTERY_FIELDS,
      ),
    ).to.include({
      tag: 0,
      modelCode: 1,
      dateCode: 2,
      owner: 3,
      restV: 4,
      chargedAt: null,
    });
  });
  it('reads what can be used, and tells every fault with its row', () => {
    const { rows, faults } = stock(
      'tag;model;date code;for;volts;last charged\nlk-0901;LF-A12;2026-01;Shelf;12,84;2026-02-01\nLK-0902;LF-A12;2026-01;=HYPERLINK("x");12,8;\nLK-0901;LF-A12;2026-01;Shelf;12,7;\n;LF-A12;2026-01;Shelf;;\nLK-0904;LF-A12;2026-01;Shelf;hot;yesterday\n\n',
    );
    expect(rows.map((r) => [r.row, r.values['tag'], r.values['restV']])).to.deep.equal([
      [2, 'LK-0901', 12.84],
    ]);
    expect(faults.map((f) => [f.row, f.field])).to.deep.equal([
      [3, 'owner'],
      [4, 'tag'],
      [5, 'tag'],
      [6, 'restV'],
      [6, 'chargedAt'],
    ]);
    expect(faults[0]?.message).to.include('formula');
    expect(faults[1]?.message).to.include('row 2 already');
  });
  it('makes models that hold by their kinds', () => {
    const { headings, rows } = parseTable(
      bytes(
        'Model,Name,Kind,Volts,Ah,Pack,mL,Soak min,Caps\nX-12,Plain,AGM dry-charged,12,12,E-66,660,120,\nX-14,Open,conventional,12,14,,1000,,screw\nX-9,Odd,nickel,12,9,,,,\n',
      ),
      10,
    );
    const read = readTable(rows, MODEL_FIELDS, matchColumns(headings, MODEL_FIELDS), 'UTC', 'code');
    const models = read.rows.map((r) => modelOfRow(r.values));
    expect(models.map((m) => [m.code, m.kind, m.cells, m.soakS])).to.deep.equal([
      ['X-12', 'agm-dry', 6, 7200],
      ['X-14', 'flooded-dry', 6, null],
    ]);
    for (const m of models) expect(modelFaults(m)).to.deep.equal([]);
    expect(read.faults[0]?.message).to.include('not one of');
  });
  it('knows numbers and dates as people write them', () => {
    expect(
      ['12.48', '12,48', '1 250', '1.250,5', '1,250.5', '−3', '2e3', 'x', ''].map(readNumber),
    ).to.deep.equal([12.48, 12.48, 1250, 1250.5, 1250.5, -3, 2000, null, null]);
    expect(readMoment('2026-03-10T14:05', 'UTC')).to.deep.equal({
      value: Date.UTC(2026, 2, 10, 14, 5),
    });
    expect(readMoment('2026-03-10T14:05+01:00', 'Asia/Tokyo')).to.deep.equal({
      value: Date.UTC(2026, 2, 10, 13, 5),
    });
    expect(readMoment('10.3.2026', 'UTC')).to.be.a('string');
    expect(readMoment('2026-02-31', 'UTC')).to.be.a('string');
    // A day is the shop's own, whichever side of Greenwich it stands.
    expect(readMoment('2026-03-10', 'Pacific/Auckland')).to.deep.equal({
      value: Date.UTC(2026, 2, 9, 11),
    });
    expect(readMoment('2026-07-10 14:05', 'America/New_York')).to.deep.equal({
      value: Date.UTC(2026, 6, 10, 18, 5),
    });
  });
});

describe('tables out', () => {
  it('quote what needs it, and let a spreadsheet run nothing', () => {
    expect([
      csvCell('=1+1'),
      csvCell('-2 V drop'),
      csvCell(-2),
      csvCell('a "b", c'),
      csvCell(null),
      csvCell(NaN),
    ]).to.deep.equal(["'=1+1", "'-2 V drop", '-2', '"a ""b"", c"', '', '']);
    expect(csvText(['a', 'b'], [[1, 'x']])).to.equal('a,b\r\n1,x\r\n');
  });
});

describe("a charger's own log", () => {
  const columns: LogColumns = {
    time: { column: 0, unit: 's' },
    voltage: { column: 1, unit: 'V' },
    current: { column: 2, unit: 'A', reversed: false },
    temperature: null,
  };
  const readLog = (
    rows: readonly (readonly string[])[],
    columnsOf: LogColumns,
    timeZone = 'UTC',
    dateOrder: DateOrder = 'day-first',
  ): ChargeLog => readChargeLog(rows, columnsOf, { timeZone, dateOrder });
  const steady = (n: number, amps = 2) =>
    Array.from({ length: n }, (_, i) => [
      String(i * 60),
      (12.5 + i / 100).toFixed(2),
      String(amps),
    ]);

  it('finds the columns of the Battery Data Format and of plain headings', () => {
    expect(
      guessLogColumns([
        'Test Time / s',
        'Voltage / V',
        'Current / A',
        'Surface Temperature T1 / degC',
      ]),
    ).to.deep.equal({
      time: { column: 0, unit: 's' },
      voltage: { column: 1, unit: 'V' },
      current: { column: 2, unit: 'A', reversed: false },
      temperature: { column: 3, unit: 'C' },
    });
    expect(
      guessLogColumns(['Timestamp', 'Current (mA)', 'Voltage (mV)', 'Temp (F)']),
    ).to.deep.equal({
      time: { column: 0, unit: 'clock' },
      voltage: { column: 2, unit: 'mV' },
      current: { column: 1, unit: 'mA', reversed: false },
      temperature: { column: 3, unit: 'F' },
    });
    expect(guessLogColumns(['a', 'b'])).to.equal(null);
  });
  it('sums its ampere-hours, charge and discharge apart', () => {
    const log = readLog(
      [
        ...steady(61),
        ...steady(31, -1).map(([t, v, a]) => [String(Number(t) + 3660), v ?? '', a ?? '']),
      ],
      columns,
    );
    expect(log.ahIn).to.be.closeTo(2, 0.02);
    expect(log.ahOut).to.be.closeTo(0.5, 0.02);
    expect(log).to.include({ rows: 92, leftOutCount: 0, startedAt: null });
    expect(
      readLog(steady(61), { ...columns, current: { column: 2, unit: 'mA', reversed: true } }).ahOut,
    ).to.be.closeTo(0.002, 1e-6);
  });
  it('reads dates, and clock times, with a decimal comma', () => {
    const dated = [0, 1, 2].map((m) => [`2026-03-10 14:0${m}:00`, '12,50', '1,0', '77']);
    const log = readLog(dated, {
      ...columns,
      time: { column: 0, unit: 'clock' },
      temperature: { column: 3, unit: 'F' },
    });
    expect(log.startedAt).to.equal(Date.UTC(2026, 2, 10, 14));
    expect(log.seconds).to.deep.equal([0, 60, 120]);
    expect(log.temperatureC?.[0]).to.be.closeTo(25, 1e-9);
  });
  it('reads a date without a zone on the shop’s wall, one with a zone and seconds since 1970 as they are', () => {
    const begins = (cell: string, timeZone: string): number | null => {
      const later = cell
        .replace(/14:00/, '14:01')
        .replace(/^1\d{9}$/, (s) => String(Number(s) + 60));
      const rows = [cell, later].map((when) => [when, '12.5', '1']);
      return readLog(rows, { ...columns, time: { column: 0, unit: 'clock' } }, timeZone).startedAt;
    };
    const tenthOfJuly = (hour: number, minute = 0) => Date.UTC(2026, 6, 10, hour, minute);
    expect(begins('2026-07-10 14:00:00', 'UTC')).to.equal(tenthOfJuly(14));
    expect(begins('2026-07-10 14:00:00', 'Europe/London')).to.equal(tenthOfJuly(13));
    expect(begins('2026-07-10T14:00', 'America/St_Johns')).to.equal(tenthOfJuly(16, 30));
    expect(begins('2026-07-10T14:00:00.250', 'Asia/Kathmandu')).to.equal(tenthOfJuly(8, 15) + 250);
    expect(begins('2026-07-10T14:00:00Z', 'Europe/London')).to.equal(tenthOfJuly(14));
    expect(begins('2026-07-10 14:00:00+05:30', 'Europe/London')).to.equal(tenthOfJuly(8, 30));
    expect(begins(String(tenthOfJuly(14) / 1000), 'Europe/London')).to.equal(tenthOfJuly(14));
  });
  it('reads dates as a program of any country writes them, in one order from the first row to the last', () => {
    const log = (cells: readonly string[], order: DateOrder): ChargeLog =>
      readLog(
        cells.map((when) => [when, '12.5', '1']),
        { ...columns, time: { column: 0, unit: 'clock' } },
        'UTC',
        order,
      );
    const at = Date.UTC(2026, 2, 10, 14, 5);
    for (const [order, ...cells] of [
      ['month-first', '10.03.2026 14:05', '10.03.2026 14:06:30,5'],
      ['day-first', '10/03/2026 14:05:00', '10/3/2026 14:06:30.5'],
      ['month-first', '3/10/2026, 2:05 PM', '3/10/2026, 2:06:30.5 pm'],
      ['day-first', '10-03-2026 2:05 p.m.', '10-03-2026 2:06:30.5 p.m.'],
      ['month-first', '2026/03/10 14:05', '2026/03/10 14:06:30.5'],
      ['month-first', '2026.3.10 16:05+02:00', '2026.3.10 14:06:30.5Z'],
    ] as const) {
      const { startedAt, seconds } = log(cells, order);
      expect([startedAt, seconds], cells[0]).to.deep.equal([at, [0, 90.5]]);
    }
    // A clock that nobody has set.
    expect(log(['1970-01-01 00:00:00', '1970-01-01 00:01:00'], 'day-first')).to.deep.include({
      startedAt: 0,
      seconds: [0, 60],
    });
    // A 13th says which of the two is the day, also of the rows before it.
    const overnight = ['12/3/2026 23:59', '13/3/2026 0:01'];
    expect(log(overnight, 'month-first')).to.deep.include({
      startedAt: Date.UTC(2026, 2, 12, 23, 59),
      seconds: [0, 120],
    });
    expect(log(['3/12/2026 11:59 PM', '3/13/2026 12:01 AM'], 'day-first')).to.deep.include({
      startedAt: Date.UTC(2026, 2, 12, 23, 59),
      seconds: [0, 120],
    });
    for (const none of [
      '31.02.2026 14:05',
      '2026-13-01',
      '10/03/26 14:05',
      '10.03.2026 25:00',
      '3/10/2026 13:05 PM',
      '10.03-2026',
    ])
      expect(readWritten(none, 'day-first'), none).to.equal(null);
  });
  it('goes on past midnight by a clock without dates, however often; a clock that is set back does not', () => {
    const clock = (minutes: number): string =>
      `${String(Math.floor(minutes / 60) % 24).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
    const from = 22 * 60 + 30;
    const byClock: LogColumns = { ...columns, time: { column: 0, unit: 'clock' } };
    const nights = Array.from({ length: 60 }, (_, i) => [clock(from + i * 50), '12.5', '2']);
    const log = readLog(nights, byClock);
    expect(log).to.include({ rows: 60, leftOutCount: 0, startedAt: null });
    expect(log.seconds.at(-1)).to.equal(59 * 50 * 60);
    expect(log.ahIn).to.be.closeTo((2 * 59 * 50) / 60, 1e-6);
    // An hour back in the evening is no midnight; a counter of hours is never set back.
    const setBack = Array.from({ length: 60 }, (_, i) => [clock(from + i), '12.5', '2']);
    setBack[30] = ['22:00', '12.5', '2'];
    expect(readLog(setBack, byClock).leftOut).to.deep.equal([
      { row: 32, why: 'Time runs backwards by 3540 s.' },
    ]);
    const counted = Array.from({ length: 30 }, (_, i) => [`${20 + i}:00:00`, '12.5', '2']);
    expect(readLog(counted, byClock).seconds.at(-1)).to.equal(29 * 3600);
    expect(() => readLog([...counted.slice(0, 15), ...counted.slice(0, 15)], byClock)).to.throw(
      LogRefused,
      'runs backwards',
    );
  });
  it('fills in the temperature that some rows lack, as quickly as it reads them', () => {
    const rows = Array.from({ length: 200_000 }, (_, i) => [
      String(i),
      '12.5',
      '1',
      i % 10_000 === 5000 ? String(20 + i / 10_000) : '',
    ]);
    const began = performance.now();
    const log = readLog(rows, { ...columns, temperature: { column: 3, unit: 'C' } });
    expect(performance.now() - began).to.be.below(5000);
    expect(log.temperatureC?.[0]).to.equal(20.5);
    expect(log.temperatureC?.at(-1)).to.equal(39.5);
    expect(log.notices.join()).to.include('Some rows have no temperature');
  });
  it('counts nothing across a gap, and says that there is one', () => {
    const gap = [
      ...steady(30),
      ...steady(30).map(([t, v, a]) => [String(Number(t) + 30 * 60 + 7200), v ?? '', a ?? '']),
    ];
    const log = readLog(gap, columns);
    expect(log.gaps).to.deep.equal([{ atS: 29 * 60, lengthS: 7260 }]);
    expect(log.ahIn).to.be.closeTo((2 * 58) / 60, 0.01);
    expect(log.notices.join()).to.include('1 gap');
  });
  it('leaves out the odd bad row and tells it; refuses a log where they are many', () => {
    const odd = steady(100);
    odd[40] = ['1e9', 'n/a', ''];
    odd[60] = [String(58 * 60), '13.1', '2'];
    const log = readLog(odd, columns);
    expect(log.leftOut).to.deep.equal([
      { row: 42, why: 'No volts.' },
      { row: 62, why: 'Time runs backwards by 60 s.' },
    ]);
    expect(() => readLog([...steady(50), ...steady(50)], columns)).to.throw(
      LogRefused,
      'runs backwards',
    );
    expect(() =>
      readLog(
        steady(50).map(([t, v], i) => [t ?? '', v ?? '', i % 4 ? '2' : 'off']),
        columns,
      ),
    ).to.throw(LogRefused, 'cannot be read');
    expect(() => readLog([['a', 'b', 'c']], columns)).to.throw(LogRefused, 'not a time');
  });
  it('refuses volts and millivolts in one column', () => {
    const mixed = steady(100).map(([t, v, a], i) => [
      t ?? '',
      i < 50 ? (v ?? '') : String(Number(v) / 1000),
      a ?? '',
    ]);
    expect(() => readLog(mixed, columns)).to.throw(LogRefused, 'V and mV are mixed');
  });
  it('thins a long log for drawing and sums every row of it', () => {
    const log = readLog(steady(20_000, 1), {
      ...columns,
      voltage: { column: 1, unit: 'mV' },
    });
    expect(log.seconds.length).to.be.within(1000, 1600);
    expect(log.ahIn).to.be.closeTo(19_999 / 60, 0.01);
    expect(log.seconds.at(-1)).to.equal(19_999 * 60);
  });
});
