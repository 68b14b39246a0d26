import { expect } from 'chai';
import { nextHand, urgencyOf } from '../../src/core/procedures/hands.ts';
import { handoverSheet, readingRemark, readingText } from '../../src/core/procedures/sheet.ts';
import { readyAt, timeline } from '../../src/core/procedures/timeline.ts';
import { Driver, HOUR, MINUTE } from '../support/battery.ts';

const words = { timeZone: 'UTC', temperatureUnit: 'C' as const, nameOf: (id: string) => ({ ann: 'Ann Test', clock: 'the clock' })[id] ?? id };

describe('the handover sheet', () => {
  const passed = () => {
    const d = new Driver().to('handover');
    d.send({ type: 'handOver', stepId: 'handover', destination: 'customer' });
    return d;
  };

  it('says what was found, large, and what the battery is', () => {
    const sheet = handoverSheet(passed().job, words);
    expect(sheet.verdict).to.equal('Passed');
    expect(sheet.headline).to.deep.equal([
      { label: 'State of charge', value: '100 %' },
      { label: 'At rest', value: '12.85 V' },
      { label: 'Under 36 A', value: '10.50 V' },
    ]);
    const facts = Object.fromEntries(sheet.facts.map((f) => [f.label, f.value]));
    expect(facts['Rating']).to.equal('12 V, 12 Ah (C20)');
    expect(facts['Electrolyte']).to.equal('E-66, lot L1, 660 mL');
    expect(facts['Charge']).to.equal('3 h with current on, about 3.1 Ah in');
    expect(sheet.deviations).to.deep.equal([]);
  });

  it('lists each step with who did it, waits with how long they were', () => {
    const sheet = handoverSheet(passed().job, words);
    const step = (title: string) => sheet.steps.find((s) => s.title === title);
    expect(step('Leave the pack on')).to.include({ by: 'the clock', remark: '30 min' });
    expect(step('Let it soak')?.remark).to.equal('2 h');
    expect(step('Fill 660 mL from the pack')).to.include({ by: 'Ann Test', remark: '' });
    expect(sheet.steps.every((s) => /^\d+ \w+ 2026, \d\d:\d\d$/.test(s.when))).to.equal(true);
  });

  it('counts charges when there were two', () => {
    const d = new Driver().to('ocv');
    d.send({ type: 'read', role: 'rest', values: { voltageV: 12.4 } });
    d.send({ type: 'read', role: 'load', values: { voltageV: 9.1, temperatureC: 20 } });
    d.send({ type: 'giveVerdict', stepId: 'verdict' });
    d.charge();
    expect(handoverSheet(d.job, words).facts.map((f) => f.label)).to.include.members(['Charge 1', 'Charge 2']);
  });

  it('of a refused battery says why and claims nothing else', () => {
    const d = new Driver().to('foil');
    d.send({ type: 'answerChecks', stepId: 'foil', answers: { foil: false } });
    const sheet = handoverSheet(d.job, words);
    expect(sheet).to.deep.include({ verdict: 'Refused', headline: [] });
    expect(sheet.reasons[0]).to.include('plates may have oxidised');
    expect(sheet.facts.find((f) => f.label === 'Electrolyte')?.value).to.equal('not filled');
  });

  it('keeps a corrected reading beside its correction', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(13.6, 1.2, 24);
    d.send({ type: 'correct', readingId: d.job.state.readings[0]?.id ?? '', values: { voltageV: 13.9, currentA: 1.2, temperatureC: 24 } });
    const sheet = handoverSheet(d.job, { ...words, temperatureUnit: 'F' });
    expect(sheet.readings).to.deep.include({
      when: sheet.readings[0]?.when,
      what: 'On charge',
      values: '13.60 V · 1.20 A · 75 °F',
      remark: 'corrected',
      corrected: true,
    });
    expect(sheet.readings[1]).to.include({ values: '13.90 V · 1.20 A · 75 °F', remark: 'correction', corrected: false });
  });

  it('says readings in the order in which they are said', () => {
    const d = new Driver().to('load');
    d.send({ type: 'read', role: 'load', values: { voltageV: 10.4, temperatureC: 20, beforeV: 12.8, afterV: 12.6 } });
    const load = d.job.state.readings.at(-1);
    expect(load && readingText(load, 'C')).to.equal('before 12.80 V · 10.40 V · after 12.60 V · 20 °C');
    expect(load && readingRemark(load)).to.equal('');
  });

  it('prints notes as they were written', () => {
    const d = new Driver();
    d.send({ type: 'note', text: 'Ring <b>Runa</b> =1+1' });
    expect(handoverSheet(d.job, words).notes[0]).to.include({ text: 'Ring <b>Runa</b> =1+1', by: 'Ann Test' });
  });
});

describe('what a job wants next', () => {
  const hand = (d: Driver) => nextHand(d.job, d.now);
  it('is named by the step in hand, and by the step after a wait', () => {
    const d = new Driver();
    expect(hand(d)).to.include({ title: 'Look the battery over', act: 'Check', kind: 'act', dueAt: d.now });
    d.to('soak');
    expect(hand(d)).to.include({ title: 'Initial charge at 1.2 A', act: 'Charge', kind: 'wait', dueAt: d.job.state.current?.dueAt });
    d.to('rest');
    expect(hand(d)).to.include({ title: 'Measure the rest voltage', act: 'Measure' });
  });
  it('is to end a charge that is done, at once', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(14.69, 0.1, 23);
    expect(hand(d)).to.include({ act: 'End it', dueAt: d.now });
  });
  it('is nothing to be called for while nobody can do anything', () => {
    const d = new Driver();
    d.send({ type: 'pause', reason: 'Lunch' });
    const paused = hand(d);
    expect(paused && urgencyOf(paused, d.now + 9 * HOUR)).to.equal('waiting');
  });
});

describe('the ribbon', () => {
  it('tells fill, stand, soak, charge, rest and test apart, in that order', () => {
    const d = new Driver().to('handover');
    const kinds = timeline(d.job, d.now)
      .filter((s) => s.phase === 'done' && s.kind !== 'idle')
      .map((s) => s.kind);
    const order = kinds.filter((k, i) => k !== kinds[i - 1]);
    // Everything in this job was done at once, so hands take no room; waits and the charge do.
    expect(order).to.deep.equal(['dwell', 'soak', 'charge', 'rest']);
  });
  it('moves the ready hour by what is lost, and not by what is only waited', () => {
    const d = new Driver().to('soak');
    const ready = readyAt(d.job, d.now);
    d.wait(HOUR);
    expect(readyAt(d.job, d.now)).to.equal(ready);
    d.to('charge');
    const before = readyAt(d.job, d.now) ?? 0;
    d.wait(45 * MINUTE);
    expect(readyAt(d.job, d.now)).to.equal(before + 45 * MINUTE);
  });
  it('ends in a mark where a battery was refused', () => {
    const d = new Driver().to('foil');
    d.send({ type: 'answerChecks', stepId: 'foil', answers: { foil: false } });
    expect(timeline(d.job, d.now + 5 * HOUR).at(-1)).to.include({ kind: 'refused', from: d.now });
    expect(readyAt(d.job, d.now)).to.equal(null);
  });
});
