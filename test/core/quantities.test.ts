import { expect } from 'chai';
import { parseTimeOfDay } from '../../src/core/quantities/parseTime.ts';
import { KEPT_UNITS, sayAllIn, sayIn } from '../../src/core/quantities/shopUnits.ts';
import fc from 'fast-check';
import { choose } from '../../src/core/quantities/figure.ts';
import {
  formatDuration,
  formatFigure,
  formatDate,
  formatMoment,
  formatMomentShort,
  formatMomentBothWays,
  formatStamp,
  formatTemperature,
  formatTimeOfDay,
} from '../../src/core/quantities/format.ts';
import { parseReading } from '../../src/core/quantities/parseReading.ts';
import { askAbout } from '../../src/core/quantities/plausibility.ts';
import {
  celsiusFromFahrenheit,
  fahrenheitFromCelsius,
  type QuantityKey,
} from '../../src/core/quantities/quantity.ts';
import {
  knowClocks,
  momentOfWallTime,
  wallParts,
  wallTimeOf,
  zoneClocks,
} from '../../src/core/quantities/zonedTime.ts';
import { HOUR, MINUTE } from '../support/battery.ts';

describe('readings as they are said', () => {
  const cases: [string, QuantityKey, number][] = [
    ['12.48', 'voltage', 12.48],
    ['12,48', 'voltage', 12.48],
    [' 12.48 V ', 'voltage', 12.48],
    ['850m', 'voltage', 0.85],
    ['-2.1', 'voltage', -2.1],
    ['.5', 'voltage', 0.5],
    ['1265', 'specificGravity', 1.265],
    ['1.265', 'specificGravity', 1.265],
    ['1,265', 'specificGravity', 1.265],
    ['80f', 'temperature', 26.6667],
    ['26c', 'temperature', 26],
    ['26', 'temperature', 26],
    ['80°F', 'temperature', 26.6667],
    ['−5', 'temperature', -5],
    ['1.2', 'current', 1.2],
    ['1,20a', 'current', 1.2],
    ['250mA', 'current', 0.25],
  ];
  for (const [text, quantity, value] of cases) {
    it(`takes “${text}” as ${quantity}`, () => {
      const parsed = parseReading(text, quantity);
      expect(parsed.ok && parsed.value).to.be.closeTo(value, 1e-4);
    });
  }

  const wrong: [string, QuantityKey, string][] = [
    ['', 'voltage', 'Type the volts'],
    ['abc', 'voltage', 'not a number'],
    ['1,234.5', 'voltage', 'more than one decimal mark'],
    ['1,2,3', 'voltage', 'more than one'],
    ['12..5', 'voltage', 'not a number'],
    ['1248', 'voltage', 'between'],
    ['900', 'specificGravity', 'between'],
    ['0.9', 'specificGravity', 'between'],
    ['400', 'temperature', 'between'],
    ['1e3', 'voltage', 'not a number'],
    ['Infinity', 'voltage', 'not a number'],
    ['=1+1', 'voltage', 'not a number'],
  ];
  for (const [text, quantity, message] of wrong) {
    it(`turns “${text}” away as ${quantity}`, () => {
      const parsed = parseReading(text, quantity);
      expect(parsed.ok ? '' : parsed.message).to.include(message);
    });
  }

  it('takes a bare temperature in the unit of the shop', () => {
    const parsed = parseReading('77', 'temperature', { temperatureUnit: 'F', volumeUnit: 'mL' });
    expect(parsed.ok && parsed.value).to.be.closeTo(25, 1e-9);
  });

  it('never throws and never answers with something that is no number', () => {
    fc.assert(
      fc.property(
        fc.string(),
        fc.constantFrom<QuantityKey>('voltage', 'current', 'temperature', 'specificGravity'),
        (text, quantity) => {
          const parsed = parseReading(text, quantity);
          expect(parsed.ok ? Number.isFinite(parsed.value) : parsed.message.length > 0).to.equal(
            true,
          );
        },
      ),
    );
  });

  it('reads back what it printed', () => {
    fc.assert(
      fc.property(fc.integer({ min: -5999, max: 5999 }), (hundredths) => {
        const parsed = parseReading((hundredths / 100).toFixed(2), 'voltage');
        expect(parsed.ok && parsed.value).to.be.closeTo(hundredths / 100, 1e-9);
      }),
    );
  });

  it('converts temperatures there and back', () => {
    expect(celsiusFromFahrenheit(80)).to.be.closeTo(26.667, 1e-3);
    fc.assert(
      fc.property(
        fc.double({ min: -40, max: 90, noNaN: true }),
        (c) => Math.abs(celsiusFromFahrenheit(fahrenheitFromCelsius(c)) - c) < 1e-9,
      ),
    );
  });
});

describe('questions about unlikely values', () => {
  const six = { cells: 6, c20Ah: 12 };
  it('lets ordinary bench values pass', () => {
    for (const v of [11.8, 12.48, 13.9, 14.7]) expect(askAbout('voltage', v, six)).to.equal(null);
    expect(askAbout('voltage', 9.6, { ...six, underLoad: true })).to.equal(null);
    expect(askAbout('current', 1.2, { ...six, chargeA: 1.2 })).to.equal(null);
    expect(askAbout('temperature', 26, six)).to.equal(null);
    expect(askAbout('specificGravity', 1.265, six)).to.equal(null);
  });
  it('asks about a reading of another battery', () => {
    expect(askAbout('voltage', 6.2, six)).to.include('low for 6 cells');
    expect(askAbout('voltage', 12.5, { cells: 3, c20Ah: 6 })).to.include('high for 3 cells');
    expect(askAbout('voltage', -12.1, six)).to.include('reversed');
    expect(askAbout('voltage', 13.2, { ...six, underLoad: true })).to.include('Was the load on');
    expect(askAbout('voltage', 4, { ...six, underLoad: true })).to.include('very low');
    expect(askAbout('current', 12, { ...six, chargeA: 1.2 })).to.include('above the 1.2 A set');
    expect(askAbout('current', -1, six)).to.include('out of the battery');
    expect(askAbout('temperature', 76, six)).to.include('very hot');
    expect(askAbout('temperature', -3, six)).to.include('cold');
    expect(askAbout('specificGravity', 1.4, six)).to.include('outside battery acid');
  });
});

describe('figures', () => {
  const about = { key: 'x', label: 'X', unit: 'A' as const };
  const house = { value: 1.2, origin: 'house' as const, formula: 'f', source: 's' };
  it('takes the maker first and says so', () => {
    expect(choose(about, 2, house)).to.include({ value: 2, origin: 'maker' });
    expect(choose(about, null, house)).to.include({ value: 1.2, origin: 'house' });
    expect(choose(about, 0, house)).to.include({ value: 0, origin: 'maker' });
  });
  it('prints with its unit', () => {
    expect(formatFigure({ value: 12.6, unit: 'V' })).to.equal('12.60 V');
    expect(formatFigure({ value: 7200, unit: 's' })).to.equal('2 h');
    expect(formatFigure({ value: 1.265, unit: 'SG' })).to.equal('1.265 SG');
    expect(formatFigure({ value: 36, unit: 'A' })).to.equal('36 A');
    expect(formatFigure({ value: 1.2, unit: 'A' })).to.equal('1.2 A');
  });
});

describe('times as people say them', () => {
  const zone = 'Europe/London';
  const at = Date.UTC(2026, 2, 10, 14, 20);
  it('says lengths short', () => {
    expect(
      [15, 90, 1800, 3600, 12_000, 86_400 * 2, 86_400 * 2.5].map(formatDuration),
    ).to.deep.equal(['15 s', '2 min', '30 min', '1 h', '3 h 20 min', '2 d', '2 d 12 h']);
    expect(formatDuration(-4)).to.equal('0 s');
    expect(formatDuration(3599.7)).to.equal('1 h');
  });
  it('says a moment both ways', () => {
    expect(formatMomentBothWays(at, at - 35 * MINUTE, { timeZone: zone })).to.equal(
      '14:20, in 35 min',
    );
    expect(formatMomentBothWays(at, at + 25 * MINUTE, { timeZone: zone })).to.equal(
      '14:20, 25 min ago',
    );
    expect(formatMomentBothWays(at, at, { timeZone: zone })).to.equal('14:20, now');
    expect(formatMoment(at, at - 24 * HOUR, { timeZone: zone })).to.equal('Tue 10 Mar 14:20');
    expect(formatStamp(at, { timeZone: zone })).to.equal('10 Mar 2026, 14:20');
    const other = { timeZone: zone, clock: '12h', dateOrder: 'month-first' } as const;
    expect(formatStamp(at, other)).to.equal('Mar 10, 2026, 2:20 pm');
    expect(formatMoment(at, at - 24 * HOUR, other)).to.equal('Tue Mar 10 2:20 pm');
    expect(formatDate('2026-03-09', other)).to.equal('Mar 9, 2026');
    expect([0, 5, 720, 785].map((m) => formatTimeOfDay(m, other))).to.deep.equal([
      '12:00 am',
      '12:05 am',
      '12:00 pm',
      '1:05 pm',
    ]);
    expect(formatMomentShort(at, at - 24 * HOUR, other)).to.equal('Tue 2:20 pm');
    expect(formatMomentShort(at, at - 240 * HOUR, other)).to.equal('Mar 10');
    expect(formatTemperature(26.667, 'F')).to.equal('80 °F');
  });
  it('shows what the platform shows, in every zone there is, on days on which clocks change too', () => {
    const shown = (at: number, timeZone: string) =>
      new Intl.DateTimeFormat('en-GB', {
        timeZone,
        weekday: 'short',
        year: 'numeric',
        month: '2-digit',
        day: '2-digit',
        hour: '2-digit',
        minute: '2-digit',
        hourCycle: 'h23',
      }).format(at);
    const told = (at: number, timeZone: string) => {
      const { weekday, day, month, year, hour, minute } = wallParts(at, timeZone);
      return `${weekday}, ${day}/${month}/${year}, ${hour}:${minute}`;
    };
    const changes = [
      Date.UTC(2026, 2, 29, 1), // Europe, forward
      Date.UTC(2026, 10, 1, 6), // America, back
      Date.UTC(2025, 3, 5, 14, 30), // Lord Howe, half an hour
      Date.UTC(2011, 11, 30, 10), // Samoa, a day that was left out
    ];
    const minutes = Array.from({ length: 40 }, (_, i) => (i - 20) * 15);
    const holdsAt = (at: number, timeZone: string): void =>
      void expect(told(at, timeZone), `${timeZone} ${at}`).to.equal(shown(at, timeZone));
    const holds = (timeZone: string): void =>
      changes.forEach((change) => minutes.forEach((by) => holdsAt(change + by * MINUTE, timeZone)));
    for (const timeZone of Intl.supportedValuesOf('timeZone').filter((_, i) => i % 7 === 0))
      for (const change of changes)
        for (const by of [-9 * HOUR, 0, 3 * HOUR]) holdsAt(change + by, timeZone);
    const strange = [
      'Europe/London',
      'America/New_York',
      'Australia/Lord_Howe',
      'Pacific/Apia',
      'Africa/Casablanca',
    ];
    strange.forEach(holds);
    // A page is told of some years, and asks the platform beyond them.
    for (const timeZone of strange) {
      const clocks = zoneClocks(timeZone, Date.UTC(2010, 0), Date.UTC(2026, 5));
      knowClocks(timeZone, clocks);
      holds(timeZone);
      for (const [from] of clocks.ahead) for (const by of [-1000, 0]) holdsAt(from + by, timeZone);
    }
    const { ahead } = zoneClocks('Europe/London', Date.UTC(2026, 0), Date.UTC(2027, 0));
    expect(ahead).to.deep.equal([
      [Date.UTC(2026, 0), 0],
      [Date.UTC(2026, 2, 29, 1), HOUR],
      [Date.UTC(2026, 9, 25, 1), 0],
    ]);
  });
  it('turns a date-time field into the moment that wall clock shows, across summer time', () => {
    expect(momentOfWallTime('2026-07-01T12:00', zone)).to.equal(Date.UTC(2026, 6, 1, 11));
    expect(momentOfWallTime('2026-01-01T12:00', zone)).to.equal(Date.UTC(2026, 0, 1, 12));
    // 01:30 does not exist on the night the clocks go forward.
    expect(wallTimeOf(momentOfWallTime('2026-03-29T01:30', zone) ?? 0, zone)).to.match(
      /T0[02]:30$/,
    );
    expect(momentOfWallTime('2026-13-01T12:00', zone)).to.equal(null);
    expect(momentOfWallTime('tomorrow', zone)).to.equal(null);
    fc.assert(
      fc.property(
        fc.integer({ min: Date.UTC(2020, 0), max: Date.UTC(2035, 0) }),
        fc.constantFrom('Europe/London', 'America/New_York', 'Asia/Kolkata', 'Pacific/Auckland'),
        (ms, z) => {
          const text = wallTimeOf(ms, z);
          const back = momentOfWallTime(text, z);
          expect(wallTimeOf(back ?? 0, z)).to.equal(text);
        },
      ),
    );
  });
});

describe('what is typed at the bench', () => {
  const value = (text: string, quantity: Parameters<typeof parseReading>[1]) => {
    const parsed = parseReading(text, quantity);
    return parsed.ok ? parsed.value : parsed.message;
  };
  it('ohms are a thousand milliohms each', () => {
    expect(value('5 ohm', 'resistance')).to.equal(5000);
    expect(value('5 ohms', 'resistance')).to.equal(5000);
    expect(value('5 Ω', 'resistance')).to.equal(5000);
    expect(value('5 mohm', 'resistance')).to.equal(5);
    expect(value('5 milliohm', 'resistance')).to.equal(5);
    expect(value('5 m', 'resistance')).to.equal(5);
  });
  it('a comma before exactly three digits groups thousands where nobody reads thousandths', () => {
    expect(value('1,000 A', 'crankingCurrent')).to.equal(1000);
    expect(value('1,000', 'current')).to.equal(1000);
    expect(value('1,500', 'volume')).to.equal(1500);
    expect(value('1,5', 'volume')).to.equal(1.5);
    expect(value('1,25', 'current')).to.equal(1.25);
    expect(value('0,850', 'current')).to.equal(0.85);
    expect(value('1,265', 'specificGravity')).to.equal(1.265);
    expect(value('12,480', 'voltage')).to.equal(12.48);
  });
});

describe('a sentence in the shop’s units', () => {
  const us = {
    temperatureUnit: 'F',
    volumeUnit: 'oz',
    clock: '12h',
    dateOrder: 'month-first',
  } as const;
  for (const [kept, said] of [
    ['Wait for 25 °C.', 'Wait for 77 °F.'],
    ['between 16 and 30 °C: colder fills late', 'between 61 and 86 °F: colder fills late'],
    ['-18 °C, −1 °C', '0 °F, 30 °F'],
    ['at 26.7 °C', 'at 80 °F'],
    ['twice as fast for each 10 °C more', 'twice as fast for each 18 °F more'],
    ['the rate doubles each 10 °C', 'the rate doubles each 18 °F'],
    ['5 °C warmer than the room, within 2 °C', '9 °F warmer than the room, within 4 °F'],
    ['add 0.0007 for each °C above 25 °C', 'add 0.0004 for each °F above 77 °F'],
    ['falls 3 mV per cell and °C', 'falls 1.7 mV per cell and °F'],
    ['Fill 660 mL from the pack', 'Fill 22.3 fl oz from the pack'],
    ['3–30 mL per cell', '0.10–1.01 fl oz per cell'],
    ['about 5.7 L of waste acid', 'about 1.51 gal of waste acid'],
    ['12 L of carbon dioxide, 0.3 L/h', '12 L of carbon dioxide, 0.3 L/h'],
    ['12.5 kg of soda, 250 g more', '27.6 lb of soda, 8.82 oz more'],
    ['27.5 g to a litre', '3.67 oz to a gallon'],
    ['12.60 V, 18 Ah, 7 mΩ, 40 m³/h, C/10', '12.60 V, 18 Ah, 7 mΩ, 40 m³/h, C/10'],
    ['LF-A12, lot KE66-2602, 120 A (EN)', 'LF-A12, lot KE66-2602, 120 A (EN)'],
  ] as const)
    it(`“${kept}”: “${said}”`, () => {
      expect(sayIn(kept, us)).to.equal(said);
      expect(sayIn(kept, KEPT_UNITS)).to.equal(kept);
    });

  it('leaves one unit where only the other is changed, and says the same twice', () => {
    const text = '25 °C and 100 mL';
    expect(sayIn(text, { temperatureUnit: 'F', volumeUnit: 'mL' })).to.equal('77 °F and 100 mL');
    expect(sayIn(sayIn(text, us), us)).to.equal(sayIn(text, us));
  });

  it('goes through papers, stamps too', () => {
    expect(
      sayAllIn({ rows: [['10 Mar 2026, 14:05', '9 Jan 2026', '20 °C']], count: 3, none: null }, us),
    ).to.deep.equal({
      rows: [['Mar 10, 2026, 2:05 pm', 'Jan 9, 2026', '68 °F']],
      count: 3,
      none: null,
    });
  });

  it('agrees with what is typed: a number read in the shop’s unit is said in it again', () => {
    for (const [text, quantity, kept] of [
      ['77', 'temperature', '25 °C'],
      ['22.3', 'volume', '660 mL'],
      ['10', 'mass', '4.54 kg'],
    ] as const) {
      const parsed = parseReading(text, quantity, us);
      expect(parsed.ok && sayIn(kept, us)).to.match(new RegExp(`^${text}`));
      if (parsed.ok)
        expect(parsed.value).to.be.closeTo(
          Number.parseFloat(kept) * (quantity === 'mass' ? 1000 : 1),
          5,
        );
    }
  });
});

describe('a time of day as it is typed', () => {
  for (const [text, minutes] of [
    ['14:05', 845],
    ['1405', 845],
    ['14', 840],
    ['2 pm', 840],
    ['2:05pm', 845],
    ['2.05 p.m.', 845],
    ['12 am', 0],
    ['12:30 PM', 750],
    ['0:10', 10],
    ['24:00', null],
    ['13 pm', null],
    ['9:75', null],
    ['noon', null],
    ['', null],
  ] as const)
    it(`“${text}”`, () => expect(parseTimeOfDay(text)).to.equal(minutes));
});
