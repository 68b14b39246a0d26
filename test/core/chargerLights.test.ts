import { expect } from 'chai';
import type { ShopCharger } from '../../src/core/chargers/charger.ts';
import { showingsOf, type ShowingMeaning } from '../../src/core/chargers/showing.ts';
import { showingFindingWords } from '../../src/core/chargers/showingWords.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { chargeStatus } from '../../src/core/job/chargeStatus.ts';
import { expectedChargeS } from '../../src/core/job/chargeExpected.ts';
import { lastShowing } from '../../src/core/job/chargeShowing.ts';
import { evidenceOf } from '../../src/core/recovery/evidence.ts';
import { readingRemark, readingText } from '../../src/core/paper/readingWords.ts';
import { deviationWords } from '../../src/core/job/deviationWords.ts';
import { runsWith } from '../../src/core/job/job.ts';
import { BY_KIND, Driver, HOUR, MINUTE } from '../support/battery.ts';

const wall: ShopCharger[] = CHARGER_TEMPLATES.map(({ key, facts }) => ({
  ...facts,
  id: key,
  name: key,
  standingSince: 0,
}));

/** An AGM battery of 60 Ah at 11.9 V, on a charger of the wall. */
function on(id: string, setting: string, program?: string, restV = 11.9) {
  const d = new Driver({ ...BY_KIND['agm-sealed'], c20Ah: 60 }, DEFAULT_RULES, 'recharge');
  d.chargers = wall;
  d.send({ type: 'read', role: 'arrival', values: { voltageV: restV }, sure: true });
  d.to('charge');
  d.send({
    type: 'startCharge',
    stepId: 'charge',
    place: 1,
    setA: 4,
    setV: 14.4,
    charger: { id, setting, ...(program ? { program } : {}) },
    reason: 'To see',
  });
  return d;
}
const LIGHTS: Partial<Record<ShowingMeaning, string>> = { charging: 'Red', full: 'Green' };
const look = (d: Driver, means: ShowingMeaning) =>
  d.send({
    type: 'read',
    role: 'light',
    values: {},
    showing: { light: LIGHTS[means] ?? means, means },
  });

describe('a charger that shows lights and no current', () => {
  it('is read by one tap, with no number asked for', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    d.wait(30 * MINUTE);
    expect(look(d, 'charging').map((e) => e.type)).to.deep.equal(['reading.taken']);
    const [reading] = d.job.state.readings.slice(-1);
    expect(readingText(reading!, 'C')).to.equal('Red (charging)');
    // Volts and warmth may be read, without a current.
    d.send({ type: 'read', role: 'charge', values: { voltageV: 12.9, temperatureC: 21 } });
    expect(() => d.send({ type: 'read', role: 'light', values: {} })).to.throw(/Tap what/);
    expect(() =>
      d.send({
        type: 'read',
        role: 'rest',
        values: { voltageV: 12.9 },
        showing: { light: 'Green', means: 'full' },
      }),
    ).to.throw(/Lights belong|after the charge/);
  });

  it('is looked at after half an hour, half way, when it should be done, and then hourly', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    const began = d.now;
    const expectedH = expectedChargeS(d.job) / 3600;
    const next = () => (chargeStatus(d.job, d.now).nextReadingAt! - began) / HOUR;
    expect(next()).to.equal(0.5);
    for (const [after, due] of [
      [0.5, expectedH / 2],
      [expectedH / 2, expectedH],
      [expectedH, expectedH + 1],
    ] as const) {
      d.now = began + after * HOUR;
      look(d, 'charging');
      expect(next()).to.be.closeTo(due, 0.01);
    }
  });

  it('has put in an estimate with a band, which stops where it said that it was full', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    d.wait(5 * HOUR);
    const { estimatedAh, ampereHours } = chargeStatus(d.job, d.now);
    expect(estimatedAh!.middle).to.be.closeTo(20, 0.5);
    expect([estimatedAh!.low, estimatedAh!.high].map(Math.round)).to.deep.equal([16, 24]);
    expect(ampereHours).to.equal(estimatedAh!.middle);
    d.now += expectedChargeS(d.job) * 1000;
    look(d, 'full');
    const full = chargeStatus(d.job, d.now).estimatedAh!.middle;
    d.wait(20 * HOUR);
    expect(chargeStatus(d.job, d.now).estimatedAh!.middle).to.equal(full);
    d.send({ type: 'endCharge', stepId: 'charge' });
    const [run] = runsWith(d.job.state, 'charge');
    expect(run!.result.agrees).to.equal(true);
    expect(run!.result.estimatedAh!.low).to.be.below(full);
    // Nobody missed an hourly reading: it ends by itself.
    expect(
      d.job.state.deviations.map((x) => typeof x.what === 'object' && x.what.kind),
    ).to.not.include('readings-missed');
  });

  it('that is full at once, does not start, clicks or errs says what that means and what to do', () => {
    const titles = (['full', 'refuses', 'clicks', 'error'] as const).map((means) => {
      const d = on('automatic-4', '4 A', 'AGM');
      d.wait(5 * MINUTE);
      look(d, means);
      const { finding } = lastShowing(d.job)!;
      const { title, next } = showingFindingWords(finding!);
      expect(next).to.not.equal('');
      expect(chargeStatus(d.job, d.now).progress.agrees).to.equal(false);
      return [title.replace(/;.*/, ''), d.job.state.charge!.mode];
    });
    expect(titles).to.deep.equal([
      ['Full after 5 min', 'running'],
      ['Does not start', 'paused'],
      ['Clicks on and off', 'paused'],
      ['Error after 5 min', 'paused'],
    ]);
    // A battery that lacked next to nothing may well be full after five minutes.
    const nearly = on('automatic-4', '4 A', 'AGM', 12.84);
    nearly.wait(5 * MINUTE);
    look(nearly, 'full');
    expect(lastShowing(nearly.job)!.finding!.kind).to.equal('full');
  });

  it('says why it does not start where the battery is too flat for it', () => {
    const d = on('automatic-4', '4 A', 'AGM', 9.8);
    d.wait(MINUTE);
    look(d, 'refuses');
    const { means } = showingFindingWords(lastShowing(d.job)!.finding!);
    expect(means).to.match(/starts at 10\.50 V, and the battery read 9\.80 V: too flat/);
  });

  it('that still charges after twice the time is told', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    d.now += 2.2 * expectedChargeS(d.job) * 1000;
    look(d, 'charging');
    expect(lastShowing(d.job)!.finding!.kind).to.equal('late');
    expect(chargeStatus(d.job, d.now).progress.sentence).to.match(/shorted/);
  });

  it('starts anew when it is connected again, and the time without current is not counted', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    d.wait(2 * HOUR);
    look(d, 'error');
    d.wait(3 * HOUR);
    d.send({ type: 'reconnect', stepId: 'charge' });
    expect(d.job.state.charge!.mode).to.equal('running');
    const { estimatedAh } = chargeStatus(d.job, d.now);
    expect(estimatedAh!.middle).to.be.closeTo(8, 0.4);
    expect(lastShowing(d.job)).to.equal(null);
  });

  it('goes on from another charger while it is paused', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    d.wait(HOUR);
    const move = () =>
      d.send({
        type: 'startCharge',
        stepId: 'charge',
        place: 1,
        setA: 5,
        setV: 14.4,
        charger: { id: 'recovery-5', setting: '5 A', program: 'AGM' },
      });
    expect(move).to.throw(/Pause it first/);
    look(d, 'refuses');
    expect(move().map((e) => e.type)).to.deep.equal(['charge.moved']);
    const { charge } = d.job.state;
    expect(charge).to.include({ mode: 'running', setA: 5, place: 1 });
    expect(charge!.charger!.name).to.equal('recovery-5');
    expect(charge!.on).to.have.length(2);
  });
});

describe('a charger found unplugged', () => {
  it('counts no hours and no Ah since, and says so on the sheet', () => {
    const d = on('automatic-4', '4 A', 'AGM');
    d.wait(6 * HOUR);
    const since = d.now - 4 * HOUR;
    expect(() =>
      d.send({ type: 'foundOff', stepId: 'charge', sinceAt: d.now - 7 * HOUR }),
    ).to.throw(/outside the time/);
    d.send({ type: 'foundOff', stepId: 'charge', sinceAt: since });
    expect(d.job.state.charge!.mode).to.equal('running');
    expect(chargeStatus(d.job, d.now).estimatedAh!.middle).to.be.closeTo(8, 0.4);
    expect(d.job.state.deviations.at(-1)!.what).to.deep.equal({ kind: 'found-off', hours: 4 });
    expect(deviationWords(d.job.state.deviations.at(-1)!.what, 'C')).to.equal(
      'Found without current, for about 4.0 h',
    );
  });
});

describe('an unregulated charger with a needle', () => {
  it('is done when the voltage no longer rises, though less flows than is printed on it', () => {
    const d = new Driver({ ...BY_KIND['flooded-sealed'], c20Ah: 60 }, DEFAULT_RULES, 'recharge');
    d.chargers = wall;
    d.send({ type: 'read', role: 'arrival', values: { voltageV: 12.1 } });
    d.to('charge');
    d.send({
      type: 'startCharge',
      stepId: 'charge',
      place: 1,
      setA: 4,
      setV: 14.4,
      charger: { id: 'taper', setting: '4 A', program: 'No program' },
      reason: 'Nothing else',
    });
    for (const [v, a] of [
      [14.9, 0.42],
      [14.92, 0.4],
      [14.93, 0.39],
    ] as const) {
      d.wait(HOUR);
      d.send({
        type: 'read',
        role: 'charge',
        values: { voltageV: v, currentA: a, temperatureC: 22 },
        sure: true,
      });
    }
    expect(chargeStatus(d.job, d.now).progress).to.include({ agrees: true, by: 'flat' });
    expect(d.job.state.charge!.mode).to.equal('running');
  });
});

describe('a fixed charger on a sealed battery', () => {
  it('is to be switched off at the ceiling, which nothing holds', () => {
    const d = on('fixed-2-10', '2 A', 'No program', 12.6);
    const read = (voltageV: number) => {
      d.wait(HOUR);
      d.send({
        type: 'read',
        role: 'charge',
        values: { voltageV, currentA: 1.6, temperatureC: 25 },
      });
      return chargeStatus(d.job, d.now).progress;
    };
    expect(read(14.1).agrees).to.equal(false);
    const { agrees, sentence } = read(d.job.state.charge!.setV);
    expect(agrees).to.equal(true);
    expect(sentence).to.match(/does not hold it. Charger off now/);
    d.send({ type: 'endCharge', stepId: 'charge' });
    expect(d.job.state.charge!.mode).to.equal('ended');
  });
});

describe('what can be tapped', () => {
  it('is its own lights, and what any charger may do; nothing where it shows a needle', () => {
    const of = (key: string) =>
      showingsOf(CHARGER_TEMPLATES.find((t) => t.key === key)!.facts).map((s) => s.light);
    expect(of('automatic-4')).to.deep.equal([
      'Red',
      'Green',
      'Red, flashing',
      'Does not start',
      'Clicks on and off',
    ]);
    expect(of('fixed-2-10')).to.deep.equal([]);
  });
});

describe('a first voltage just off a charger', () => {
  it('is kept with its mark and ends nothing; one that has stood does', () => {
    const d = new Driver({ ...BY_KIND['agm-sealed'], c20Ah: 60 }, DEFAULT_RULES, 'recharge');
    while (d.step !== 'arrival') d.usual();
    d.send({ type: 'read', role: 'arrival', values: { voltageV: 12.95 }, fresh: true });
    expect(d.step).to.equal('arrival');
    expect(readingRemark(d.job.state.readings[0]!)).to.equal('just off a charger: surface charge');
    expect(evidenceOf(d.job).some((e) => e.of === 'rest-volts')).to.equal(false);
    d.wait(4 * HOUR).send({ type: 'read', role: 'arrival', values: { voltageV: 12.61 } });
    expect(d.step).to.not.equal('arrival');
    expect(evidenceOf(d.job)).to.deep.include({ of: 'rest-volts', voltageV: 12.61 });
  });
});
