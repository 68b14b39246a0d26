import { expect } from 'chai';
import { settledVoltage } from '../../src/core/capacity/surfaceCharge.ts';
import { seeded } from '../../src/core/simulation/random.ts';

const MINUTES = 60;

describe('surface charge', () => {
  const relaxing =
    (settled: number, fastV: number, slowV: number, fastS: number, slowS: number) =>
    (minutes: number, noise = 0) => ({
      afterS: minutes * MINUTES,
      voltageV:
        settled +
        fastV * Math.exp((-minutes * MINUTES) / fastS) +
        slowV * Math.exp((-minutes * MINUTES) / slowS) +
        noise,
    });

  it('finds where a falling voltage settles, within a few hundredths', () => {
    const at = relaxing(12.78, 0.25, 0.18, 400, 4200);
    const estimate = settledVoltage([at(6), at(15), at(25), at(40)], 6);
    expect(estimate?.mid).to.be.closeTo(12.78, 0.05);
    expect(estimate?.sentence).to.include('nothing is passed on it');
  });
  it('is surer with more and later readings, and says what it does not know', () => {
    const at = relaxing(12.7, 0.2, 0.15, 300, 3600);
    const width = (minutes: number[]) => {
      const e = settledVoltage(
        minutes.map((m) => at(m)),
        6,
      );
      return (e?.high ?? 0) - (e?.low ?? 0);
    };
    expect(width([5, 10])).to.be.above(width([5, 10, 20, 30, 45]));
  });
  it('holds the settled value in about eight cases of ten', () => {
    const { even, normal } = seeded(3);
    let inside = 0;
    const cases = 300;
    for (let i = 0; i < cases; i++) {
      const settled = 12.66 + 0.15 * normal();
      const fastS = 180 * Math.exp(1.2 * even());
      const slowS = 1800 * Math.exp(1.9 * even());
      const at = relaxing(
        settled,
        Math.abs(0.2 * normal()) + 0.05,
        Math.abs(0.12 * normal()) + 0.03,
        fastS,
        slowS,
      );
      const e = settledVoltage(
        [8, 16, 28].map((m) => at(m, 0.008 * normal())),
        6,
      );
      if (e && settled >= e.low && settled <= e.high) inside += 1;
    }
    expect(inside / cases).to.be.within(0.7, 0.97);
  });
  it('says nothing from one reading, or from two in the same minute', () => {
    const at = relaxing(12.7, 0.2, 0.15, 300, 3600);
    expect(settledVoltage([at(5)], 6)).to.equal(null);
    expect(settledVoltage([at(5), at(5.5)], 6)).to.equal(null);
  });
});
