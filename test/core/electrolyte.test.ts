import { expect } from 'chai';
import fc from 'fast-check';
import {
  correctSg,
  molalityFromWeightPercent,
  sgFromWeightPercent,
  weightPercentFromMolality,
  weightPercentFromSg,
} from '../../src/core/electrolyte/concentration.ts';
import { ACID_DENSITY, acidDensity } from '../../src/core/electrolyte/density.ts';
import { FREEZING_POINTS, freezingPointC } from '../../src/core/electrolyte/freezing.ts';
import { gassing } from '../../src/core/electrolyte/gassing.ts';
import { neutraliser } from '../../src/core/electrolyte/neutralising.ts';
import { restVoltageFromMolality, restVoltageFromSg, restVoltageRule } from '../../src/core/electrolyte/restVoltage.ts';

describe('acid density', () => {
  for (const column of ACID_DENSITY.columns) {
    it(`meets the published table at ${column.temperatureC} °C`, () => {
      ACID_DENSITY.weightPercent.forEach((w, i) => expect(acidDensity(w, column.temperatureC)).to.be.closeTo(column.gPerMl[i] as number, 1e-12));
    });
  }

  it('rises with strength and falls with warmth everywhere', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 59.5, noNaN: true }),
        fc.double({ min: 0.01, max: 0.5, noNaN: true }),
        fc.double({ min: 0, max: 50, noNaN: true }),
        (w, dw, t) => {
          expect(acidDensity(w + dw, t)).to.be.greaterThan(acidDensity(w, t));
          expect(acidDensity(w, t + 1)).to.be.lessThan(acidDensity(w, t));
        },
      ),
    );
  });

  it('is smooth: no kink at the tabulated strengths', () => {
    for (const w of [10, 20, 30, 40, 50]) {
      const left = acidDensity(w, 25) - acidDensity(w - 1e-4, 25);
      const right = acidDensity(w + 1e-4, 25) - acidDensity(w, 25);
      expect(right / left).to.be.closeTo(1, 1e-3);
    }
  });

  it('refuses strengths outside its table', () => {
    expect(() => acidDensity(-0.1, 25)).to.throw(RangeError, 'between 0 and 60');
    expect(() => acidDensity(60.1, 25)).to.throw(RangeError);
    expect(() => acidDensity(Number.NaN, 25)).to.throw(RangeError);
  });
});

describe('concentration', () => {
  it('round-trips SG and strength to 1e-6', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 60, noNaN: true }), (w) => {
        expect(weightPercentFromSg(sgFromWeightPercent(w))).to.be.closeTo(w, 1e-6);
      }),
    );
  });

  it('round-trips strength and molality', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 60, noNaN: true }), (w) => {
        expect(weightPercentFromMolality(molalityFromWeightPercent(w))).to.be.closeTo(w, 1e-9);
      }),
    );
  });

  it('puts usual filling acid at about 36 % and 5.7 mol/kg', () => {
    const w = weightPercentFromSg(1.265);
    expect(w).to.be.within(35.3, 36.3);
    expect(molalityFromWeightPercent(w)).to.be.within(5.5, 5.9);
  });

  it('has no acid lighter than water or heavier than its table', () => {
    expect(() => weightPercentFromSg(0.99)).to.throw(RangeError, 'SG must lie between');
    expect(() => weightPercentFromSg(1.6)).to.throw(RangeError);
  });

  it('corrects a hydrometer by 0.0007 per °C: warm acid reads low', () => {
    expect(correctSg(1.25, 35)).to.be.closeTo(1.257, 1e-12);
    expect(correctSg(1.265, 25)).to.equal(1.265);
    expect(correctSg(1.265, 15)).to.be.closeTo(1.258, 1e-12);
    // 0.004 per 10 °F, the same rule as it is printed elsewhere.
    expect(correctSg(1.25, 25 + 50 / 9) - 1.25).to.be.closeTo(0.004, 2e-4);
  });
});

describe('rest voltage of a cell', () => {
  it('is 1.9228 V at 1 mol/kg, the constant of the polynomial', () => {
    expect(restVoltageFromMolality(1)).to.equal(1.9228);
  });

  it('agrees with SG + 0.845 within 10 mV from 1.18 to 1.30, and within 20 mV down to 1.10', () => {
    for (let sg = 1.1; sg <= 1.3001; sg += 0.01)
      expect(restVoltageFromSg(sg), `SG ${sg.toFixed(2)}`).to.be.closeTo(restVoltageRule(sg), sg < 1.175 ? 0.02 : 0.01);
  });

  it('puts six cells of 1.265 acid near 12.65 V', () => {
    expect(6 * restVoltageFromSg(1.265)).to.be.closeTo(12.65, 0.03);
  });

  it('rises with strength', () => {
    fc.assert(fc.property(fc.double({ min: 1.05, max: 1.45, noNaN: true }), (sg) => restVoltageFromSg(sg + 0.005) > restVoltageFromSg(sg)));
  });
});

describe('freezing, gas and neutraliser', () => {
  it('meets the published freezing points and says nothing beyond them', () => {
    for (const [sg, c] of FREEZING_POINTS.points) expect(freezingPointC(sg)).to.be.closeTo(c, 1e-9);
    expect(freezingPointC(1.225)).to.be.closeTo(-39.5, 1e-9);
    expect(freezingPointC(1.09)).to.equal(null);
    expect(freezingPointC(1.3)).to.equal(null);
  });

  it('loses 0.336 g of water and gives 0.418 L of hydrogen per cell and Ah', () => {
    expect(gassing(1, 1)).to.deep.equal({ waterG: 0.336, hydrogenL: 0.418, oxygenL: 0.209 });
    // Faraday: 18.015 g and 22.414 L to two moles of electrons, 26.801 Ah each.
    expect(gassing(1, 1).waterG).to.be.closeTo(18.015 / (2 * 26.801), 1e-3);
    expect(gassing(10, 6).hydrogenL).to.be.closeTo((10 * 6 * 22.414) / (2 * 26.801), 0.1);
  });

  it('takes about 0.76 kg of bicarbonate and gives 220 L of gas for a litre of 1.265', () => {
    const { bicarbonateKg, carbonDioxideL } = neutraliser(1, 1.265);
    expect(bicarbonateKg).to.be.closeTo(0.76, 0.02);
    expect(carbonDioxideL).to.be.closeTo(220, 6);
  });
});
