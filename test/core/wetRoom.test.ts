import { expect } from 'chai';
import fc from 'fast-check';
import {
  sgFromWeightPercent,
  weightPercentFromSg,
} from '../../src/core/electrolyte/concentration.ts';
import { acidDensity } from '../../src/core/electrolyte/density.ts';
import { blend, mixAcid, mixingOrder, topUpEstimate } from '../../src/core/electrolyte/mixing.ts';
import { STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { formatRise, formatVolume } from '../../src/core/quantities/format.ts';
import { chargingAir } from '../../src/core/watch/chargingAir.ts';
import { airChanges, ventilationNeed, ventilationPeak } from '../../src/core/safety/ventilation.ts';

import { BY_KIND, Driver } from '../support/battery.ts';

const HOUR = 3_600_000;

describe('mixing acid', () => {
  const METRIC = {
    volume: (ml: number) => formatVolume(ml, 'mL'),
    rise: (celsius: number) => formatRise(celsius, 'C'),
  };
  const bySg = (sg: number, wantedSg: number, ml: number, roomC?: number) =>
    mixAcid(weightPercentFromSg(sg), wantedSg, ml, roomC);

  it('balances mass and acid exactly, whatever the strengths, up to 98 %', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 40, max: 98, noNaN: true }),
        fc.double({ min: 1.05, max: 1.28, noNaN: true }),
        fc.double({ min: 50, max: 20_000, noNaN: true }),
        fc.double({ min: 0, max: 50, noNaN: true }),
        (strong, wanted, ml, roomC) => {
          const mixture = mixAcid(strong, wanted, ml, roomC);
          const grams = mixture.acidG + mixture.waterG;
          const reached = (mixture.acidG * strong) / grams;
          expect(sgFromWeightPercent(reached)).to.be.closeTo(wanted, 1e-6);
          expect(grams / acidDensity(reached, 25)).to.be.closeTo(ml, ml * 1e-6);
          expect(mixture.acidMl * acidDensity(strong, roomC)).to.be.closeTo(
            mixture.acidG,
            ml * 1e-9,
          );
          expect(mixture.contractionMl).to.be.above(0);
          expect(mixture.pourRisesC).to.be.at.most(25);
        },
      ),
    );
  });
  it('blends back what it has taken apart', () => {
    const { acidMl, waterMl } = bySg(1.4, 1.265, 1000);
    const back = blend({ sg: 1.4, ml: acidMl }, { sg: 1, ml: waterMl });
    expect(sgFromWeightPercent(back.weightPercent)).to.be.closeTo(1.265, 1e-6);
    expect(back.ml).to.be.closeTo(1000, 1e-3);
  });
  it('makes 1.265 from 1.400 as the tables say, and warns of the heat', () => {
    // 1.400 is 50.4 wt %, 1.265 is 35.2 wt % (Perry): 0.70 of the mass is acid.
    const mixture = bySg(1.4, 1.265, 2000);
    const { acidG, waterG, risesC, pours } = mixture;
    const order = mixingOrder(mixture, METRIC);
    expect(acidG / (acidG + waterG)).to.be.closeTo(0.703, 0.006);
    expect(risesC).to.be.within(7, 14);
    expect(pours).to.equal(1);
    expect(order).to.have.length(4);
    expect(order[0]).to.include('water');
    expect(order[1]).to.include('into the water').and.include('Never water into acid');
  });
  it('makes 1.265 from 98 % in pours, because all at once it would boil', () => {
    // 100 g of 35.6 wt % from 98 %: 0.363 mol, which give off 67 − 3.5 kJ each (NBS 500) into about 3.0 J/(g K): 76 °C.
    const mixture = mixAcid(98, 1.265, 1000);
    const { acidG, waterG, risesC, pours, pourRisesC } = mixture;
    const order = mixingOrder(mixture, METRIC);
    expect(acidG / (acidG + waterG)).to.be.closeTo(0.363, 0.005);
    expect(risesC).to.be.within(70, 82);
    expect(pours).to.be.within(3, 5);
    expect(pourRisesC).to.be.within(15, 25);
    expect(order.join(' '))
      .to.include(`in ${pours} pours`)
      .and.include('and boil')
      .and.include('licensed');
  });
  it('measures out at the temperature of the room: cold acid takes less room', () => {
    expect(bySg(1.4, 1.265, 1000, 5).acidMl).to.be.below(bySg(1.4, 1.265, 1000).acidMl);
    expect(bySg(1.4, 1.265, 1000, 5).acidG).to.equal(bySg(1.4, 1.265, 1000).acidG);
    expect(() => bySg(1.4, 1.265, 1000, -5)).to.throw('between 0 and 50');
  });
  it('warms more the stronger the acid in hand', () => {
    expect(bySg(1.48, 1.265, 1000).risesC).to.be.above(bySg(1.35, 1.265, 1000).risesC);
    expect(mixAcid(98, 1.265, 1000).risesC).to.be.above(bySg(1.48, 1.265, 1000).risesC);
  });
  it('refuses a weaker acid, and no volume', () => {
    expect(() => bySg(1.2, 1.265, 1000)).to.throw('must be the stronger');
    expect(() => bySg(1.4, 1.265, 0)).to.throw('how much');
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
  const charge = (from: number, to: number, c20Ah = 100, vented = true) => ({
    cells: 6,
    c20Ah,
    vented,
    from: from * HOUR,
    to: to * HOUR,
  });

  it('needs 12 m³/h for a vented 200 Ah 12 V battery on boost, by EN IEC 62485-2', () => {
    expect(ventilationNeed([{ cells: 6, c20Ah: 200, vented: true }])).to.be.closeTo(
      0.05 * 6 * 20 * 200 * 1e-3,
      1e-12,
    );
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
    expect(
      chargingAir(new Driver(BY_KIND['agm-sealed'], DEFAULT_RULES, 'recharge').job).vented,
    ).to.equal(false);
    const open = new Driver(BY_KIND['flooded-dry'], DEFAULT_RULES, 'service').job;
    const mixing = STANDARD_PLANS.find((p) => p.id === 'mix-and-lift')!;
    const gassing = chargingAir({ ...open, state: { ...open.state, chargePlan: mixing } });
    expect(gassing).to.include({ vented: true, gassesMaPerAh: 30 });
    // 0.05 · 6 · 30 mA/Ah · 14 Ah · 10⁻³
    expect(ventilationNeed([gassing])).to.be.closeTo(0.126, 1e-9);
    expect(ventilationNeed([chargingAir(open)])).to.be.closeTo(0.05 * 6 * 20 * 14 * 1e-3, 1e-9);
  });
});
