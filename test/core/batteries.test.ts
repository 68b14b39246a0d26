import { expect } from 'chai';
import fc from 'fast-check';
import { CHEMISTRIES } from '../../src/core/batteries/chemistry.ts';
import { usualBuild } from '../../src/core/batteries/builds.ts';
import { KINDS, kindOf } from '../../src/core/batteries/kinds.ts';
import { type BatteryModel, modelFaults } from '../../src/core/batteries/model.ts';
import { followingTag, normaliseTag } from '../../src/core/batteries/tag.ts';
import {
  LOAD_TEST_MINIMUM,
  loadTestA,
  loadTestMinimumV,
} from '../../src/core/capacity/loadTest.ts';
import { labelMilliohm } from '../../src/core/batteries/labelResistance.ts';
import {
  believableRestV,
  chargeByAcid,
  stateOfChargePercent,
} from '../../src/core/capacity/stateOfCharge.ts';
import { ventilationNeed } from '../../src/core/safety/ventilation.ts';
import { PLAIN, SIX_VOLT } from '../support/battery.ts';

describe('state of charge from rest voltage', () => {
  const published = {
    flooded: [
      [100, 12.65],
      [75, 12.45],
      [50, 12.24],
      [25, 12.06],
      [0, 11.89],
    ],
    agm: [
      [100, 12.85],
      [75, 12.6],
      [50, 12.3],
      [25, 12.0],
      [0, 11.75],
    ],
  } as const;
  for (const [key, table] of Object.entries(published)) {
    it(`meets the usual ${key} table, and half of it for 6 V`, () => {
      const chemistry = CHEMISTRIES[key as 'flooded' | 'agm'];
      for (const [percent, volts] of table) {
        expect(stateOfChargePercent(volts, 6, chemistry)).to.be.closeTo(percent, 1e-9);
        expect(stateOfChargePercent(volts / 2, 3, chemistry)).to.be.closeTo(percent, 1e-9);
      }
    });
  }
  it('stays within 0 and 100 and never falls as volts rise', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 15, noNaN: true }),
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        (v, dv) => {
          const [a, b] = [
            stateOfChargePercent(v, 6, CHEMISTRIES.agm),
            stateOfChargePercent(v + dv, 6, CHEMISTRIES.agm),
          ];
          expect(a).to.be.within(0, 100);
          expect(b).to.be.at.least(a);
        },
      ),
    );
  });
  it('believes no rest voltage more than 0.15 V over full charge', () => {
    expect(believableRestV(6, CHEMISTRIES.agm, 1.265)).to.be.closeTo(13.0, 1e-9);
    expect(believableRestV(3, CHEMISTRIES.agm, 1.265)).to.be.closeTo(6.5, 1e-9);
    // Stronger acid rests higher: SG 1.320 stands near 2.165 V a cell.
    expect(believableRestV(6, CHEMISTRIES.agm, 1.32)).to.be.within(13.1, 13.2);
  });
});

describe('families', () => {
  it('keeps the published ceilings, floats, recharge factors and losses', () => {
    const { flooded, agm, gel } = CHEMISTRIES;
    expect([flooded.absorptionV, agm.absorptionV, gel.absorptionV]).to.deep.equal([
      [14.4, 14.8],
      [14.4, 14.7],
      [14.1, 14.2],
    ]);
    expect([flooded.floatV, agm.floatV, gel.floatV]).to.deep.equal([13.4, 13.6, 13.5]);
    expect([agm.rechargeFactor, flooded.rechargeFactor]).to.deep.equal([1.05, 1.15]);
    expect([
      flooded.selfDischargePerMonth,
      agm.selfDischargePerMonth,
      gel.selfDischargePerMonth,
    ]).to.deep.equal([0.08, 0.03, 0.02]);
  });
  it('turns lithium away with the reason, and knows no other strangers', () => {
    const lithium = kindOf('lithium');
    expect('refusal' in lithium && lithium.refusal).to.include('not lead-acid');
    expect(() => kindOf('nickel')).to.throw('No battery kind');
    expect(KINDS.filter((k) => 'refusal' in k).map((k) => k.key)).to.deep.equal(['lithium']);
    expect(KINDS).to.have.length(6);
  });
});

describe('load test', () => {
  it('meets the published minimum at each temperature', () => {
    for (const [c, v] of LOAD_TEST_MINIMUM.points) {
      expect(loadTestMinimumV(c, 6)).to.be.closeTo(v, 1e-9);
      expect(loadTestMinimumV(c, 3)).to.be.closeTo(v / 2, 1e-9);
    }
    expect(loadTestMinimumV(40, 6)).to.equal(9.6);
    expect(loadTestMinimumV(-30, 6)).to.equal(8.5);
    expect(loadTestMinimumV(13, 6)).to.be.closeTo(9.45, 1e-9);
  });
  it('draws three times C20', () => expect(loadTestA(12)).to.equal(36));
});

describe('a model as the maker prints it', () => {
  it('finds nothing wrong with a sound one', () => {
    expect(modelFaults(PLAIN)).to.deep.equal([]);
    expect(modelFaults(SIX_VOLT)).to.deep.equal([]);
  });
  const wrong: [Partial<typeof PLAIN>, string][] = [
    [{ cells: 3 }, 'cells'],
    [{ cca: 200 }, 'ccaStandard'],
    [{ ccaStandard: 'EN' }, 'ccaStandard'],
    [{ passV: 6.3 }, 'passV'],
    [{ ceilingV: 19 }, 'ceilingV'],
    [{ chargeA: 12 }, 'chargeA'],
    [{ electrolyteMl: 66 }, 'electrolyteMl'],
  ];
  for (const [change, field] of wrong) {
    it(`names ${field} when it contradicts the rest: ${JSON.stringify(change)}`, () => {
      expect(modelFaults({ ...PLAIN, ...change }).map((f) => f.field)).to.include(field);
    });
  }
});

describe('tags and air', () => {
  it('knows a tag however it is typed', () => {
    expect(normaliseTag(' lk-0412 ')).to.equal('LK-0412');
    for (const no of ['LK0412', '0412', 'LK-1', '<b>-0412', 'LK-0412x', ''])
      expect(normaliseTag(no)).to.equal(null);
  });
  it('runs tags on without changing their width', () => {
    expect(followingTag('LK-0412')).to.equal('LK-0413');
    expect(followingTag('LK-0999')).to.equal('LK-1000');
    expect(followingTag('A-9999')).to.equal('A-10000');
  });
  it('needs air by EN IEC 62485 at boost gassing', () => {
    // One vented 12 V 100 Ah battery: 0.05 · 6 · 20 mA/Ah · 100 Ah · 10⁻³ = 0.6 m³/h.
    expect(ventilationNeed([{ cells: 6, c20Ah: 100, vented: true }])).to.be.closeTo(0.6, 1e-12);
    expect(ventilationNeed([{ cells: 6, c20Ah: 100, vented: false }])).to.be.closeTo(0.24, 1e-12);
    expect(ventilationNeed([])).to.equal(0);
  });
});

describe('state of charge by its own acid', () => {
  /** Rest voltage of 18 Ah filled with SG 1.320, so full, from Bode and Faraday worked by hand. */
  const readOff = (volts: number, sg = 1.32, temperatureC = 25) =>
    chargeByAcid(volts, 6, CHEMISTRIES.agm, { sg, mlPerAh: 930 / 6 / 18 }, temperatureC);
  it('a battery of strong acid that reads 100 % by the usual table is at 90 %, one that reads 91 % at 80 %', () => {
    expect(stateOfChargePercent(12.88, 6, CHEMISTRIES.agm)).to.equal(100);
    expect(readOff(12.88).mid).to.be.closeTo(0.9, 0.02);
    expect(stateOfChargePercent(12.76, 6, CHEMISTRIES.agm)).to.be.closeTo(91, 1.5);
    expect(readOff(12.76).mid).to.be.closeTo(0.8, 0.02);
    expect(readOff(12.6).mid).to.be.closeTo(0.66, 0.03);
    expect(readOff(13.05).mid).to.equal(1);
  });
  it('has a band, goes by the temperature, and agrees with the table where the acid is the table’s', () => {
    const { low, mid, high } = readOff(12.8);
    expect(low).to.be.lessThan(mid);
    expect(high).to.be.greaterThan(mid);
    expect(readOff(12.8, 1.32, 0).mid).to.be.greaterThan(mid);
    for (const [percent, volts] of CHEMISTRIES.flooded.stateOfCharge)
      expect(chargeByAcid(volts, 6, CHEMISTRIES.flooded, { sg: 1.263 }).mid).to.be.closeTo(
        percent / 100,
        0.08,
      );
  });
});

describe('the resistance a label stands for', () => {
  const label = (more: Partial<BatteryModel>) =>
    labelMilliohm({ ...PLAIN, kind: 'flooded-dry', c20Ah: 60, ...more });

  it('is 2,700 over the CCA by EN; other tests are other numbers; a printed one comes first', () => {
    expect(label({ cca: 540, ccaStandard: 'EN' })).to.equal(5);
    expect(label({ cca: 324, ccaStandard: 'DIN' })).to.be.closeTo(5, 0.01);
    expect(label({ cca: 270, ccaStandard: 'EN', cells: 3 })).to.equal(5);
    expect(label({ cca: 540, ccaStandard: 'EN', milliohm: 4.4 })).to.equal(4.4);
  });
  it('is what its build has for its size, where the label says nothing', () => {
    // A starter of 60 Ah has about 540 A (EN); a deep-cycle one 330; 7 Ah of standby AGM 20–27 mΩ, 200 Ah 2–3.5.
    expect(label({})).to.be.closeTo(5, 0.01);
    expect(label({ build: 'deep-cycle' })).to.be.closeTo(2700 / 330, 0.01);
    expect(label({ kind: 'agm-sealed', c20Ah: 7 })).to.be.within(20, 27);
    expect(label({ kind: 'agm-sealed', c20Ah: 200 })).to.be.within(2, 3.5);
    expect(label({ kind: 'gel', c20Ah: 60 })).to.be.above(label({ kind: 'agm-sealed', c20Ah: 60 }));
  });
  it('takes small ones for powersport, those with a CCA for starters, and what is said before what is usual', () => {
    const usual = (more: Partial<BatteryModel>) => usualBuild({ ...PLAIN, ...more });
    expect(usual({ kind: 'agm-dry', c20Ah: 12 })).to.equal('powersport');
    expect(usual({ kind: 'flooded-dry', c20Ah: 60 })).to.equal('starter');
    expect(usual({ kind: 'agm-sealed', c20Ah: 80, cca: 800 })).to.equal('starter');
    expect(usual({ kind: 'agm-sealed', c20Ah: 80, cca: null })).to.equal('standby');
    expect(usual({ kind: 'gel', c20Ah: 12 })).to.equal('standby');
  });
  it('believes no pair of ratings that one battery cannot have', () => {
    const faults = (more: Partial<BatteryModel>) =>
      modelFaults({ ...PLAIN, ...more }).map((f) => f.field);
    const large = {
      kind: 'flooded-sealed',
      c20Ah: 60,
      electrolyteCode: null,
      electrolyteMl: null,
    } as const;
    expect(faults({ ...large, reserveMin: 95, c10Ah: 56 })).to.deep.equal([]);
    expect(faults({ ...large, reserveMin: 200 })).to.deep.equal(['reserveMin']);
    expect(faults({ ...large, c10Ah: 61 })).to.deep.equal(['c10Ah']);
    expect(modelFaults({ ...PLAIN, c20Ah: 12, reserveMin: 20 })[0]?.message).to.include('25 A');
  });
});
