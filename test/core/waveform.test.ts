import { expect } from 'chai';
import {
  firstBurstS,
  orderedShape,
  recordSeconds,
  waveformFigures,
  waveformFinding,
} from '../../src/core/charging/waveform.ts';
import { seeded } from '../../src/core/simulation/random.ts';

const STAGE = { currentA: 9, onS: 20, offS: 40 };
const POINTS = 2000;

/** A record as an instrument would take it: bursts from a moment of their period on, with noise. */
function record(stage = STAGE, { from = 13, noise = 0.02, peak = stage.currentA } = {}) {
  const random = seeded(7);
  const seconds = recordSeconds(stage);
  const currentA = orderedShape({ ...stage, currentA: peak }, seconds, POINTS, from).map(
    (a) => a + noise * random.normal(),
  );
  return { seconds, currentA, voltageV: currentA.map((a) => 12 + 0.1 * a) };
}

describe('a record of pulses', () => {
  it('tells rate, duty, mean, peak and RMS, wherever in a period it begins', () => {
    for (const from of [0, 5, 30, 55]) {
      const f = waveformFigures(record(STAGE, { from }));
      expect(f.perSecond! * 60).to.be.closeTo(1, 0.01);
      expect(f.duty).to.be.closeTo(1 / 3, 0.01);
      expect(f.peakA).to.be.closeTo(9, 0.1);
      // A square wave: the RMS is the peak times the root of the duty.
      expect(f.rmsA / f.peakA).to.be.closeTo(Math.sqrt(1 / 3), 0.02);
      expect(waveformFinding(f, STAGE)).to.equal('as-ordered');
    }
  });

  it('of a hundred bursts a second has its rate, too', () => {
    const fast = { currentA: 5, onS: 0.002, offS: 0.008 };
    const f = waveformFigures(record(fast));
    expect(f.perSecond).to.be.closeTo(100, 1);
    expect(f.meanA).to.be.closeTo(1, 0.05);
  });

  it('says what is wrong: steady, nothing, another rate, or held at the ceiling', () => {
    const steady = record();
    const meanA = 3;
    const found = (currentA: number[], stage = STAGE) =>
      waveformFinding(waveformFigures({ ...steady, currentA }), stage);
    expect(found(steady.currentA.map((_, i) => meanA + 0.02 * Math.sin(i)))).to.equal('no-pulses');
    expect(found(steady.currentA.map(() => 0.001))).to.equal('no-current');
    expect(found(record(STAGE, { peak: 5 }).currentA)).to.equal('held-lower');
    expect(found(record(STAGE).currentA, { currentA: 9, onS: 10, offS: 20 })).to.equal(
      'another-rate',
    );
  });

  it('is laid over the ordered shape from its first whole burst', () => {
    const taken = record(STAGE, { from: 13 });
    expect(firstBurstS(taken, 9)).to.be.closeTo(13, 0.2);
  });
});
