import { expect } from 'chai';
import fc from 'fast-check';
import { sgFromWeightPercent } from '../../src/core/electrolyte/concentration.ts';
import { blend, mixAcid, topUpEstimate } from '../../src/core/electrolyte/mixing.ts';
import { STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { chargingAir } from '../../src/core/procedures/chargingAir.ts';
import { airChanges, ventilationNeed, ventilationPeak } from '../../src/core/safety/ventilation.ts';

import { BY_KIND, Driver } from '../support/battery.ts';

const HOUR = 3_600_000;

describe('mixing acid', () => {
  it('balances mass and acid exactly, whatever the strengths', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1.3, max: 1.48, noNaN: true }),
        fc.double({ min: 1.05, max: 1.28, noNaN: true }),
        fc.double({ min: 50, max: 20_000, noNaN: true }),
        (strong, wanted, ml) => {
          const mixture = mixAcid(strong, wanted, ml);
          const back = blend({ sg: strong, ml: mixture.acidMl }, { sg: 1, ml: mixture.waterMl });
          expect(sgFromWeightPercent(back.weightPercent)).to.be.closeTo(wanted, 1e-6);
          expect(back.ml).to.be.closeTo(ml, ml * 1e-6);
          expect(mixture.contractionMl).to.be.above(0);
        },
      ),
    );
  });
  it('makes 1.265 from 1.400 as the tables say, and warns of the heat', () => {
    // 1.400 is 50.4 wt %, 1.265 is 35.2 wt % (Perry): 0.70 of the mass is acid.
    const { acidG, waterG, risesC, order } = mixAcid(1.4, 1.265, 2000);
    expect(acidG / (acidG + waterG)).to.be.closeTo(0.703, 0.006);
    expect(risesC).to.be.within(7, 14);
    expect(order[0]).to.include('water');
    expect(order[1]).to.include('into the water').and.include('Never water into acid');
  });
  it('warms more the stronger the acid in hand', () => {
    expect(mixAcid(1.48, 1.265, 1000).risesC).to.be.above(mixAcid(1.35, 1.265, 1000).risesC);
  });
  it('refuses a weaker acid, and no volume', () => {
    expect(() => mixAcid(1.2, 1.265, 1000)).to.throw('must be the stronger');
    expect(() => mixAcid(1.4, 1.265, 0)).to.throw('how much');
  });
});

describe('topping up', () => {
  it('grows with the battery and with how low each cell stands; a full cell takes nothing', () => {
    const small = topUpEstimate([5, 5, 5, 5, 5, 5], 14);
    expect(small.mid).to.be.closeTo(92, 1);
    expect(topUpEstimate([5, 5, 5, 5, 5, 5], 28).mid).to.be.closeTo(2 * small.mid, 1e-9);
    expect(topUpEstimate([0, -3], 14).mid).to.equal(0);
    expect(small.low).to.be.below(small.mid);
  });
});

describe('air for the bench', () => {
  const charge = (from: number, to: number, c20Ah = 100, vented = true) => ({ cells: 6, c20Ah, vented, from: from * HOUR, to: to * HOUR });

  it('needs 12 m³/h for a vented 200 Ah 12 V battery on boost, by EN IEC 62485-2', () => {
    expect(ventilationNeed([{ cells: 6, c20Ah: 200, vented: true }])).to.be.closeTo(0.05 * 6 * 20 * 200 * 1e-3, 1e-12);
    expect(ventilationNeed([{ cells: 6, c20Ah: 200, vented: false }])).to.be.closeTo(0.48, 1e-12);
  });
  it('peaks where the charges of the day overlap', () => {
    const peak = ventilationPeak([charge(1, 4), charge(3, 6), charge(5, 8, 50)]);
    expect(peak?.need).to.be.closeTo(1.2, 1e-9);
    expect(peak?.at).to.equal(3 * HOUR);
    // One that ends as another begins does not add to it.
    expect(ventilationPeak([charge(1, 3), charge(3, 6)])?.need).to.be.closeTo(0.6, 1e-12);
    expect(ventilationPeak([])).to.equal(null);
  });
  it('turns need into changes of the room', () => {
    expect(airChanges(40, 80)).to.equal(0.5);
  });
});

describe('air for a job on the bench', () => {
  it('a battery filled here counts as vented until its ports are closed; a plan that gasses on purpose with all of its current', () => {
    const first = new Driver();
    expect(chargingAir(first.job)).to.deep.equal({ cells: 6, c20Ah: 12, vented: true });
    expect(chargingAir(new Driver(BY_KIND['agm-sealed'], DEFAULT_RULES, 'recharge').job).vented).to.equal(false);
    const open = new Driver(BY_KIND['flooded-dry'], DEFAULT_RULES, 'service').job;
    const mixing = STANDARD_PLANS.find((p) => p.id === 'mix-and-lift')!;
    const gassing = chargingAir({ ...open, state: { ...open.state, chargePlan: mixing } });
    expect(gassing).to.include({ vented: true, gassesMaPerAh: 30 });
    // 0.05 · 6 · 30 mA/Ah · 14 Ah · 10⁻³
    expect(ventilationNeed([gassing])).to.be.closeTo(0.126, 1e-9);
    expect(ventilationNeed([chargingAir(open)])).to.be.closeTo(0.05 * 6 * 20 * 14 * 1e-3, 1e-9);
  });
});
