import { expect } from 'chai';
import fc from 'fast-check';
import { hourTicks, hourWord, tickDecimals, valueTicks } from '../../src/web/drawings/ticks.ts';

describe('the axes of a chart', () => {
  it('stand on round numbers that hold every value, in three steps at most', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -40, max: 400, noNaN: true }), { minLength: 1, maxLength: 30 }),
        fc.boolean(),
        (values, fromZero) => {
          const ticks = valueTicks(values, undefined, fromZero, 2);
          expect(ticks.length).to.be.within(2, 4);
          expect(ticks[0]!).to.be.at.most(Math.min(...values, fromZero ? 0 : Infinity) + 1e-6);
          expect(ticks.at(-1)!).to.be.at.least(Math.max(...values) - 1e-6);
        },
      ),
    );
    expect(valueTicks([12.1, 14.8], undefined, false, 2)).to.deep.equal([12, 13, 14, 15]);
    expect(valueTicks([0.05, 0.31], undefined, true, 2).map((t) => t.toFixed(1))).to.deep.equal([
      '0.0',
      '0.2',
      '0.4',
    ]);
    expect(valueTicks([13.5, 13.5], undefined, false, 2).length).to.be.at.least(2);
    expect(valueTicks([13, 14], 16.2, false, 2).at(-1)!).to.be.at.least(16.2);
  });

  it('tell one tick from the next with as few decimals as that takes', () => {
    expect([10, 5, 0.5, 0.2, 0.25, 0.01].map(tickDecimals)).to.deep.equal([0, 0, 1, 1, 2, 2]);
  });

  it('count hours as people do', () => {
    expect(hourTicks(48)).to.deep.equal([0, 8, 16, 24, 32, 40, 48]);
    expect(hourTicks(1)).to.deep.equal([0, 0.25, 0.5, 0.75, 1]);
    for (const untilH of [0.3, 2, 7, 30, 100, 330])
      expect(hourTicks(untilH).length).to.be.within(2, 7);
    expect([0, 0.25, 1, 1.5, 24].map(hourWord)).to.deep.equal([
      '0',
      '15 min',
      '1 h',
      '1.5 h',
      '24 h',
    ]);
  });
});
