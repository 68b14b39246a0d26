import { expect } from 'chai';
import fc from 'fast-check';
import { CHEMISTRIES } from '../../src/core/batteries/chemistry.ts';
import { leadAcidKind } from '../../src/core/batteries/kinds.ts';
import {
  restVoltageAtCharge,
  stateOfChargePercent,
} from '../../src/core/capacity/stateOfCharge.ts';
import { DEFAULT_RULES, type HouseRules } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import {
  lossPerDay,
  shelfCourse,
  type ShelfPlace,
  type ShelfReading,
} from '../../src/core/storage/selfDischarge.ts';
import { firstOut, shelfHands, standingOf, type StockItem } from '../../src/core/storage/stock.ts';
import { seeded } from '../../src/core/simulation/random.ts';

const DAY = 86_400_000;
const T0 = Date.UTC(2026, 0, 1);
const place = (kind = 'agm-sealed', temperatureC = 20) => ({
  kind: leadAcidKind(kind),
  chemistry: CHEMISTRIES[leadAcidKind(kind).chemistry],
  cells: 6,
  temperatureC,
});
const volts = (percent: number, kind = 'agm-sealed') =>
  restVoltageAtCharge(percent, 6, place(kind).chemistry);
const school = (storageRecharge: string): HouseRules => ({
  ...DEFAULT_RULES,
  shelfC: 20,
  schools: { ...DEFAULT_SCHOOLS, storageRecharge },
});

const shelfForecast = (where: ShelfPlace, readings: readonly ShelfReading[], at: number) =>
  shelfCourse(where, readings)(at);

describe('self-discharge', () => {
  it('is the published share in a month at 20 °C, and doubles every 10 °C', () => {
    for (const [kind, share] of [
      ['flooded-dry', 0.08],
      ['flooded-sealed', 0.04],
      ['agm-sealed', 0.03],
      ['gel', 0.02],
    ] as const)
      expect(1 - Math.exp(-lossPerDay(leadAcidKind(kind), 20) * 30.4)).to.be.closeTo(share, 1e-9);
    expect(lossPerDay(leadAcidKind('gel'), 30) / lossPerDay(leadAcidKind('gel'), 20)).to.be.closeTo(
      2,
      1e-9,
    );
  });
  it('reads the rest-voltage table backwards', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.constantFrom('agm', 'flooded', 'gel'),
        (percent, key) => {
          const chemistry = CHEMISTRIES[key as 'agm'];
          expect(
            stateOfChargePercent(restVoltageAtCharge(percent, 6, chemistry), 6, chemistry),
          ).to.be.closeTo(percent, 0.001);
        },
      ),
    );
  });
});

describe('the forecast of a standing battery', () => {
  it('begins at what was read and falls as its kind does', () => {
    const now = shelfForecast(place(), [{ at: T0, voltageV: volts(96) }], T0);
    expect(now.percent.mid).to.be.closeTo(96, 0.1);
    const month = shelfForecast(place(), [{ at: T0, voltageV: volts(100) }], T0 + 30.4 * DAY);
    expect(month.percent.mid).to.be.within(95.5, 97.5);
    expect(month.percent.low).to.be.below(month.percent.mid).and.above(85);
    expect(month.learntFrom).to.equal(0);
  });
  it('widens with time, and narrows with every reading', () => {
    const width = ({ percent }: { percent: { low: number; high: number } }) =>
      percent.high - percent.low;
    const one = [{ at: T0, voltageV: volts(95) }];
    const wide = shelfForecast(place(), one, T0 + 200 * DAY);
    expect(width(wide)).to.be.above(width(shelfForecast(place(), one, T0 + 20 * DAY)));
    const more = [
      ...one,
      ...[40, 80, 120].map((d) => ({
        at: T0 + d * DAY,
        voltageV: volts(95 * Math.exp(-lossPerDay(place().kind, 20) * d)),
      })),
    ];
    expect(width(shelfForecast(place(), more, T0 + 200 * DAY))).to.be.below(width(wide));
  });
  it('learns from a battery that loses twice what is usual', () => {
    const rate = 2 * lossPerDay(place().kind, 20);
    const readings = [0, 30, 60, 90].map((d) => ({
      at: T0 + d * DAY,
      voltageV: volts(98 * Math.exp(-rate * d)),
    }));
    const told = shelfForecast(place(), readings, T0 + 120 * DAY);
    expect(told.lossPerMonth).to.be.within(0.042, 0.075);
    expect(told.learntFrom).to.equal(3);
  });
  it('holds what comes in about eight cases of ten', () => {
    const { normal } = seeded(7);
    let inside = 0;
    const cases = 400;
    for (let i = 0; i < cases; i++) {
      const rate = lossPerDay(place().kind, 20) * Math.exp(0.45 * normal());
      const chargeOn = (d: number) => Math.min(100, 92 * Math.exp(-rate * d) + 4 * normal());
      const { percent } = shelfForecast(
        place(),
        [0, 35, 70].map((d) => ({ at: T0 + d * DAY, voltageV: volts(Math.min(100, chargeOn(d))) })),
        T0 + 120 * DAY,
      );
      const truth = 92 * Math.exp(-rate * 120);
      if (truth >= percent.low && truth <= percent.high) inside += 1;
    }
    expect(inside / cases).to.be.within(0.72, 0.95);
  });
  it('needs a first reading', () => {
    expect(() => shelfForecast(place(), [], T0)).to.throw('first rest voltage');
  });
});

const item = (change: Partial<StockItem> = {}): StockItem => ({
  batteryId: change.tag ?? 'b',
  tag: 'LK-0001',
  modelCode: 'M',
  kind: 'agm-sealed',
  cells: 6,
  since: T0,
  chargedAt: T0,
  readings: [{ at: T0, voltageV: 12.85 }],
  jobId: null,
  ...change,
});

describe('what the shelf wants', () => {
  it('follows the chosen school: at a voltage or a quarter, monthly, or by voltage alone', () => {
    const due = (id: string) =>
      Math.round((standingOf(item(), school(id), T0).rechargeAt - T0) / DAY);
    expect(due('volts-or-quarter')).to.equal(91);
    expect(due('monthly')).to.equal(30);
    expect(due('volts')).to.be.above(150);
  });
  it('asks for a reading when the month is over, and for a charge when it was read low or its quarter is over', () => {
    const rules = school('volts-or-quarter');
    expect(standingOf(item(), rules, T0 + 10 * DAY).wants).to.equal(null);
    expect(standingOf(item(), rules, T0 + 31 * DAY).wants).to.equal('check');
    const low = standingOf(
      item({ readings: [...item().readings, { at: T0 + 31 * DAY, voltageV: 12.4 }] }),
      rules,
      T0 + 32 * DAY,
    );
    expect(low).to.include({ wants: 'charge', because: 'read 12.40 V, at or below 12.40 V' });
    expect(standingOf(item(), rules, T0 + 92 * DAY)).to.include({
      wants: 'charge',
      because: '92 days since its charge',
    });
    // What is still to come is told by the rule, what is past by how long it has been.
    expect(standingOf(item(), rules, T0).because).to.equal('91 days since its charge');
    expect(standingOf(item(), rules, T0 + 317.9 * DAY).because).to.equal(
      '317 days since its charge',
    );
  });
  it('never lets one stand at half, whatever the school, and halves the line for three cells', () => {
    const antimony = item({ kind: 'flooded-dry', readings: [{ at: T0, voltageV: 12.3 }] });
    const standing = standingOf(antimony, { ...school('monthly'), shelfC: 30 }, T0);
    expect(standing.rechargeAt - T0).to.be.below(60 * DAY);
    const six = item({ cells: 3, readings: [{ at: T0, voltageV: 6.2 }] });
    expect(standingOf(six, school('volts'), T0).wants).to.equal('charge');
  });
  it('comes due on the first day on which its forecast stands at the line, or at half', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('agm-sealed', 'flooded-dry', 'gel'),
        fc.constantFrom('volts', 'volts-or-quarter', 'monthly'),
        fc.double({ min: 12.45, max: 12.9, noNaN: true }),
        fc.integer({ min: 10, max: 35 }),
        fc.integer({ min: 0, max: 40 }),
        (kind, by, voltageV, shelfC, days) => {
          const rules = { ...school(by), shelfC };
          const one = item({ kind, readings: [{ at: T0, voltageV }] });
          const now = T0 + days * DAY;
          const standing = standingOf(one, rules, now);
          const lineV = by === 'monthly' ? 0 : 12.4;
          // Volts are rounded to a microvolt.
          const low = (at: number, off = 2e-6) => {
            const { percent, volts: v } = shelfForecast(place(kind, shelfC), one.readings, at);
            return percent.mid <= 50 + off || v.mid <= lineV + off;
          };
          const lowBefore = (at: number) => low(at - DAY, -2e-6);
          if (/^expected at/.test(standing.because)) {
            expect(low(standing.rechargeAt)).to.equal(true);
            if (standing.rechargeAt > now) expect(lowBefore(standing.rechargeAt)).to.equal(false);
          } else if (standing.rechargeAt === Infinity) {
            expect(standing.because).to.equal('nothing within 2 years, by its readings');
            expect(low(now + 730 * DAY, -2e-6)).to.equal(false);
          } else {
            expect(standing.because).to.match(/^\d+ days since its charge$/);
            expect(lowBefore(standing.rechargeAt)).to.equal(false);
          }
        },
      ),
      { numRuns: 150 },
    );
  });
  it('lets the one go first that has stood longest and wants no charge', () => {
    const rules = school('volts-or-quarter');
    const now = T0 + 95 * DAY;
    const standings = [
      item({
        tag: 'LK-0003',
        since: T0 + 50 * DAY,
        chargedAt: T0 + 50 * DAY,
        readings: [{ at: T0 + 90 * DAY, voltageV: 12.8 }],
      }),
      item({ tag: 'LK-0001' }),
      item({
        tag: 'LK-0002',
        since: T0 + 20 * DAY,
        chargedAt: T0 + 20 * DAY,
        readings: [{ at: T0 + 90 * DAY, voltageV: 12.8 }],
        jobId: 'on the bench',
      }),
      item({
        tag: 'LK-0004',
        since: T0 + 60 * DAY,
        chargedAt: T0 + 60 * DAY,
        readings: [{ at: T0 + 90 * DAY, voltageV: 12.8 }],
      }),
    ].map((i) => standingOf(i, rules, now));
    expect(firstOut(standings, 'M')?.item.tag).to.equal('LK-0003');
    expect(firstOut(standings, 'other')).to.equal(null);
    expect(shelfHands(standings).charge.map((s) => s.item.tag)).to.deep.equal(['LK-0001']);
  });
});
