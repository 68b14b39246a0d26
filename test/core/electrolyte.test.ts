import { expect } from 'chai';
import fc from 'fast-check';
import {
  correctSg,
  parseStrength,
  STRONGEST_TOLD_BY_SG,
  molalityFromWeightPercent,
  sgFromWeightPercent,
  weightPercentFromMolality,
  weightPercentFromSg,
} from '../../src/core/electrolyte/concentration.ts';
import { ACID_DENSITY, acidDensity } from '../../src/core/electrolyte/density.ts';
import { FREEZING_POINTS, freezingPointC } from '../../src/core/electrolyte/freezing.ts';
import { gassing } from '../../src/core/electrolyte/gassing.ts';
import { neutraliser } from '../../src/core/electrolyte/neutralising.ts';
import {
  restVoltageFromMolality,
  restVoltageFromSg,
  restVoltageRule,
} from '../../src/core/electrolyte/restVoltage.ts';

/** The handbook's densities at strengths between those the table here is made of: wt %, at 20 °C, at 25 °C, g/mL. */
const HELD_BACK = [
  [5, 1.0317, 1.03],
  [15, 1.102, 1.0994],
  [25, 1.1783, 1.175],
  [35, 1.2599, 1.2563],
  [45, 1.3476, 1.3437],
  [55, 1.4453, 1.4412],
  [65, 1.5533, 1.549],
  [75, 1.6692, 1.6644],
  [95, 1.8337, 1.8286],
  [97, 1.8364, 1.8314],
] as const;

describe('acid density', () => {
  it('meets the published table at every strength and temperature of it', () => {
    for (const [w, row] of ACID_DENSITY.rows) {
      ACID_DENSITY.temperaturesC.forEach((t, i) =>
        expect(acidDensity(w, t), `${w} % at ${t} °C`).to.be.closeTo(row[i] as number, 1e-12),
      );
    }
  });

  it('meets the handbook between its own points', () => {
    for (const [w, at20, at25] of HELD_BACK) {
      expect(acidDensity(w, 20), `${w} % at 20 °C`).to.be.closeTo(at20, 3e-4);
      expect(acidDensity(w, 25), `${w} % at 25 °C`).to.be.closeTo(at25, 3e-4);
    }
  });

  it('rises with strength, where SG tells it, and falls with warmth', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: STRONGEST_TOLD_BY_SG, noNaN: true }),
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
    for (const w of [10, 20, 30, 40, 50, 60, 70, 80, 90, 93]) {
      const left = acidDensity(w, 25) - acidDensity(w - 1e-4, 25);
      const right = acidDensity(w + 1e-4, 25) - acidDensity(w, 25);
      expect(right / left).to.be.closeTo(1, 1e-3);
    }
  });

  it('refuses strengths outside its table', () => {
    expect(() => acidDensity(-0.1, 25)).to.throw(RangeError, 'between 0 and 98');
    expect(() => acidDensity(98.1, 25)).to.throw(RangeError);
    expect(() => acidDensity(Number.NaN, 25)).to.throw(RangeError);
  });
});

describe('concentration', () => {
  it('round-trips SG and strength to 1e-6', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: STRONGEST_TOLD_BY_SG, noNaN: true }), (w) => {
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
    expect(() => weightPercentFromSg(1.9)).to.throw(RangeError, 'SG must lie between');
  });

  it('says where gravity no longer tells the strength, and takes the percent instead', () => {
    expect(() => weightPercentFromSg(1.84)).to.throw('percent on its label');
    expect(parseStrength('98 %')).to.equal(98);
    expect(parseStrength('96,5%')).to.equal(96.5);
    // Perry: 1.400 at 25/25 °C is 50.5 wt %, 1.265 is 35.6.
    expect(parseStrength('1.400')).to.be.closeTo(50.5, 0.2);
    for (const same of ['1,265', '1265', 'SG 1.265'])
      expect(parseStrength(same)).to.be.closeTo(parseStrength('1.265'), 1e-9);
    expect(() => parseStrength('37')).to.throw('"37 %"');
    expect(() => parseStrength('120 %')).to.throw('up to 98');
    for (const nonsense of ['', 'strong', 'SG 98 %', '1.2.6'])
      expect(() => parseStrength(nonsense), nonsense).to.throw('Type its SG');
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
      expect(restVoltageFromSg(sg), `SG ${sg.toFixed(2)}`).to.be.closeTo(
        restVoltageRule(sg),
        sg < 1.175 ? 0.02 : 0.01,
      );
  });

  it('puts six cells of 1.265 acid near 12.65 V', () => {
    expect(6 * restVoltageFromSg(1.265)).to.be.closeTo(12.65, 0.03);
  });

  it('rises with strength', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1.05, max: 1.45, noNaN: true }),
        (sg) => restVoltageFromSg(sg + 0.005) > restVoltageFromSg(sg),
      ),
    );
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
