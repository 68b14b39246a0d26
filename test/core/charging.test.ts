import { expect } from 'chai';
import fc from 'fast-check';
import { CHEMISTRIES } from '../../src/core/batteries/chemistry.ts';
import { firstChargeCeiling, firstChargeCurrent } from '../../src/core/plan/firstCharge.ts';
import { chargeDuration } from '../../src/core/rehearsal/chargeDuration.ts';
import { chargeGuards, coolEnough } from '../../src/core/charging/guards.ts';
import { compensatedCeilingV } from '../../src/core/charging/limits.ts';
import {
  ampereHoursIn,
  chargeProgress,
  type ChargeReading,
  hoursOn,
} from '../../src/core/charging/progress.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import { HOUR, MINUTE, PLAIN, SIX_VOLT } from '../support/battery.ts';

const target = { cells: 6, c20Ah: 12, ceilingV: 14.7, setA: 1.2 };
const at = (
  minutes: number,
  voltageV: number,
  currentA = 1.2,
  temperatureC = 24,
): ChargeReading => ({
  at: minutes * MINUTE,
  voltageV,
  currentA,
  temperatureC,
});

describe('first-charge current', () => {
  it('is C/10, and never over 3 A for small sizes', () => {
    expect(firstChargeCurrent(PLAIN, DEFAULT_SCHOOLS)).to.include({
      value: 1.2,
      origin: 'default',
    });
    expect(firstChargeCurrent({ ...PLAIN, c20Ah: 30 }, DEFAULT_SCHOOLS).value).to.equal(3);
    expect(firstChargeCurrent({ ...PLAIN, c20Ah: 60 }, DEFAULT_SCHOOLS).value).to.equal(6);
  });
  it('is 1 or 2 A for those who charge low and slow, and a house rule then', () => {
    const slow = { ...DEFAULT_SCHOOLS, firstCharge: 'low-slow' };
    expect(firstChargeCurrent(PLAIN, slow)).to.include({ value: 1, origin: 'house' });
    expect(firstChargeCurrent({ ...PLAIN, c20Ah: 20 }, slow).value).to.equal(2);
  });
  it("bows to the maker, over the shop's cap too", () => {
    expect(firstChargeCurrent({ ...PLAIN, chargeA: 4 }, DEFAULT_SCHOOLS)).to.include({
      value: 4,
      origin: 'maker',
    });
  });
  it('has its ceiling per cell, and its length by a simulated one', () => {
    expect(firstChargeCeiling(PLAIN, CHEMISTRIES.agm).value).to.equal(14.7);
    expect(firstChargeCeiling(SIX_VOLT, CHEMISTRIES.agm).value).to.equal(7.35);
    const hours =
      chargeDuration(
        PLAIN,
        CHEMISTRIES.agm,
        firstChargeCurrent(PLAIN, DEFAULT_SCHOOLS),
        firstChargeCeiling(PLAIN, CHEMISTRIES.agm),
        0.8,
        'Freshly filled',
      ).value / 3600;
    // To the ceiling within an hour or so, then the tail until it no longer falls.
    expect(hours).to.be.within(6, 15);
  });
});

describe('ceiling and temperature', () => {
  it('falls 3 mV per cell and °C, and is capped', () => {
    expect(compensatedCeilingV(14.7, 6, 25)).to.equal(14.7);
    expect(compensatedCeilingV(14.7, 6, 35)).to.be.closeTo(14.52, 1e-9);
    expect(compensatedCeilingV(14.7, 6, 15)).to.be.closeTo(14.88, 1e-9);
    expect(compensatedCeilingV(14.7, 6, -20)).to.equal(compensatedCeilingV(14.7, 6, 10));
  });
});

describe('is the charge finished?', () => {
  it('by three readings an hour apart that no longer rise', () => {
    expect(
      chargeProgress([at(60, 14.3), at(120, 14.42), at(180, 14.43), at(240, 14.43)], target),
    ).to.include({ agrees: true, by: 'flat' });
  });
  it('not while they rise, however little is missing', () => {
    const rising = chargeProgress([at(60, 14.3), at(120, 14.34), at(180, 14.38)], target);
    expect(rising.agrees).to.equal(false);
    expect(rising.sentence).to.include('Still rising: 0.08 V');
  });
  it('not by three readings within minutes', () => {
    const early = chargeProgress([at(60, 14.4), at(65, 14.4), at(70, 14.4)], target);
    expect(early.agrees).to.equal(false);
    expect(early.sentence).to.include('2 more readings an hour apart');
  });
  it('by a current that has tailed off at the ceiling', () => {
    expect(chargeProgress([at(60, 14.65, 0.22), at(120, 14.65, 0.21)], target)).to.include({
      agrees: true,
      by: 'tail',
    });
    expect(chargeProgress([at(60, 14.65, 0.3)], target).sentence).to.include(
      '0.30 A still flows, wait for 0.24 A',
    );
  });
  it('not by a current that still falls by more than a tenth an hour, nor by one reading of it', () => {
    const big = { ...target, c20Ah: 100, setA: 10 };
    const falling = chargeProgress([at(0, 14.7, 1.5), at(60, 14.7, 1.2), at(120, 14.7, 0.9)], big);
    expect(falling.agrees).to.equal(false);
    expect(falling.sentence).to.equal(
      'From 1.20 A to 0.90 A within the last hour: it still takes charge. Read it again in an hour.',
    );
    expect(chargeProgress([at(0, 14.7, 0.9)], big).sentence).to.include(
      'One more reading in an hour',
    );
    expect(chargeProgress([at(0, 14.7, 0.9), at(20, 14.7, 0.89)], big).agrees).to.equal(false);
  });
  it('nothing counts while no current flows: charger off, a lead off', () => {
    const off = chargeProgress([at(0, 12.3, 0), at(60, 12.3, 0), at(120, 12.3, 0)], target);
    expect(off.agrees).to.equal(false);
    expect(off.sentence).to.equal(
      '12.30 V but 0.00 A: no current flows. Check that the charger is on and its clips hold, then enter the reading again.',
    );
    const lead = chargeProgress([at(0, 14.7, 0), at(60, 14.7, 0), at(120, 14.7, 0)], target);
    expect(lead.agrees).to.equal(false);
    expect(lead.sentence).to.equal(
      '14.70 V but 0.00 A: no current flows. Check the charger clips, then enter the reading again.',
    );
  });
  it('not by volts that stand still where full cells would stand higher: a cell is short', () => {
    const short = chargeProgress([at(0, 12.6), at(60, 12.6), at(120, 12.6)], target);
    expect(short.agrees).to.equal(false);
    expect(short.sentence)
      .to.include('full cells would stand above 14.12 V')
      .and.include('may be short');
  });
  it('not by volts that stand still at another current than was set', () => {
    const weak = chargeProgress([at(0, 14.3, 0.6), at(60, 14.3, 0.6), at(120, 14.3, 0.6)], target);
    expect(weak.agrees).to.equal(false);
    expect(weak.sentence).to.include('only 0.60 A of the 1.20 A set flows');
  });
  it('goes by the ceiling of the temperature it is at', () => {
    const cold = [at(0, 14.7, 0.2, 10), at(60, 14.7, 0.2, 10)];
    expect(chargeProgress(cold, target).sentence).to.include(
      'at 10 °C the ceiling is 14.97 V. Set it to that',
    );
    expect(chargeProgress([at(0, 14.5, 0.2, 38), at(60, 14.5, 0.2, 38)], target)).to.include({
      agrees: true,
      by: 'tail',
    });
  });
  it('says when volts fall, and when there is nothing yet', () => {
    expect(
      chargeProgress([at(60, 14.5), at(120, 14.4), at(180, 14.2)], target).sentence,
    ).to.include('fell by 0.30 V');
    expect(chargeProgress([], target).sentence).to.equal('No reading yet.');
  });
  it('takes a reading five minutes early as an hour apart, ten as not', () => {
    expect(chargeProgress([at(0, 14.4), at(55, 14.4), at(110, 14.4)], target).agrees).to.equal(
      true,
    );
    expect(chargeProgress([at(0, 14.4), at(50, 14.4), at(100, 14.4)], target).agrees).to.equal(
      false,
    );
  });
});

describe('guards', () => {
  const trips = (readings: ChargeReading[], room = 20) =>
    chargeGuards(readings, target, room, 1.2).map(
      (t) => `${t.action} ${t.key.replace('hand-', '')}`,
    );
  it('say nothing about an ordinary charge', () => {
    expect(
      trips([at(0, 13.2, 1.2, 21), at(60, 13.9, 1.2, 25), at(120, 14.6, 0.6, 27)]),
    ).to.deep.equal([]);
    expect(trips([])).to.deep.equal([]);
  });
  it('stop above 50 °C, not at 50', () => {
    expect(trips([at(0, 14, 1.2, 51)], 42)[0]).to.equal('stop hot');
    expect(trips([at(0, 14, 1.2, 50)], 42)).to.deep.equal(['pause warm']);
  });
  it('stop on more than 5 °C within half an hour, not on the same rise over longer', () => {
    expect(trips([at(0, 14, 1.2, 24), at(25, 14, 1.2, 29.5)])).to.deep.equal(['stop heating-fast']);
    expect(trips([at(0, 14, 1.2, 24), at(31, 14, 1.2, 29.5)])).to.deep.equal([]);
    expect(trips([at(0, 14, 1.2, 24), at(25, 14, 1.2, 29)])).to.deep.equal([]);
  });
  it('pause above 45 °C or 10 °C over the room', () => {
    expect(trips([at(0, 14, 1.2, 46)], 40)).to.deep.equal(['pause warm']);
    expect(trips([at(0, 14, 1.2, 31)])).to.deep.equal(['pause warm']);
    expect(trips([at(0, 14, 1.2, 30)])).to.deep.equal([]);
  });
  it('pause over the ceiling of that temperature', () => {
    expect(trips([at(0, 15.2)])).to.deep.equal(['pause over-ceiling']);
    expect(trips([at(0, 14.95)])).to.deep.equal([]);
  });
  it('warn when no current flows with the volts low, not at the end of a charge', () => {
    expect(trips([at(0, 12.8, 0)])).to.deep.equal(['warn no-current']);
    expect(trips([at(0, 14.6, 0.03)])).to.deep.equal([]);
  });
  it('put the worst first', () => expect(trips([at(0, 15.4, 1.2, 55)])[0]).to.equal('stop hot'));
  it('let a paused charge go on only when it is cool', () => {
    expect(coolEnough(25, 20)).to.equal(true);
    expect(coolEnough(26, 20)).to.equal(false);
    expect(coolEnough(41, 38)).to.equal(false);
  });
});

describe('ampere-hours from hand readings', () => {
  it('hold the first and last current level and join the rest by lines', () => {
    const readings = [at(60, 13.5, 1.2), at(120, 14.2, 1.2), at(180, 14.6, 0.4)];
    expect(ampereHoursIn(readings, [{ from: 0, to: null }])).to.be.closeTo(1.2 + 1.2 + 0.8, 1e-9);
    expect(ampereHoursIn(readings, [{ from: 0, to: 4 * HOUR }])).to.be.closeTo(3.2 + 0.4, 1e-9);
  });
  it('count nothing while the current was off', () => {
    const on = [
      { from: 0, to: HOUR },
      { from: 3 * HOUR, to: 4 * HOUR },
    ];
    expect(ampereHoursIn([at(30, 13.5, 1)], on)).to.be.closeTo(2, 1e-9);
    expect(hoursOn(on, 9 * HOUR)).to.equal(2);
    expect(hoursOn([{ from: 0, to: null }], 3 * HOUR)).to.equal(3);
  });
  it('know nothing without a reading', () =>
    expect(ampereHoursIn([], [{ from: 0, to: HOUR }])).to.equal(0));
  it('never exceed the largest current times the hours on', () => {
    const reading = fc.record({
      minute: fc.integer({ min: 0, max: 600 }),
      amps: fc.double({ min: 0, max: 3, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(reading, { minLength: 1 }), (list) => {
        const readings = list
          .toSorted((a, b) => a.minute - b.minute)
          .map((r) => at(r.minute, 14, r.amps));
        const ah = ampereHoursIn(readings, [{ from: 0, to: 10 * HOUR }]);
        expect(ah).to.be.within(-1e-9, Math.max(...readings.map((r) => r.currentA)) * 10 + 1e-9);
      }),
    );
  });
});
