import { expect } from 'chai';
import { nextHand, urgencyOf } from '../../src/core/watch/hands.ts';
import { restVoltageHolding } from '../../src/core/job/verdict.ts';
import { handoverSheet } from '../../src/core/paper/sheet.ts';
import { readingRemark, readingText } from '../../src/core/paper/readingWords.ts';
import { readyAt, timeline } from '../../src/core/watch/timeline.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { sayAllIn } from '../../src/core/quantities/shopUnits.ts';
import { BY_KIND, Driver, HOUR, MINUTE, PLAIN } from '../support/battery.ts';
import { strayUnits } from '../support/strayUnits.ts';

const words = {
  timeZone: 'UTC',
  temperatureUnit: 'C' as const,
  nameOf: (id: string) => ({ ann: 'Ann Test', clock: 'the clock' })[id] ?? id,
};

describe('papers in another shop’s style', () => {
  it('hold no °C, no gram, no 24-hour time, and the month first', () => {
    const us = {
      temperatureUnit: 'F',
      volumeUnit: 'oz',
      clock: '12h',
      dateOrder: 'month-first',
    } as const;
    const texts = (tree: unknown): string[] =>
      typeof tree === 'string'
        ? [tree]
        : tree && typeof tree === 'object'
          ? Object.values(tree).flatMap(texts)
          : [];
    const d = new Driver().to('verdict');
    const kept = texts(handoverSheet(d.job, words));
    expect(strayUnits(kept)).to.have.length.greaterThan(5);
    const said = texts(sayAllIn(handoverSheet(d.job, words), us));
    expect(strayUnits(said)).to.deep.equal([]);
    expect(said).to.have.length(kept.length);
  });
});

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
      { label: 'State of charge, by its own acid', value: '100 % (100–100)' },
      { label: 'At rest', value: '12.85 V' },
      { label: 'Under 36 A', value: '10.50 V' },
    ]);
    const facts = Object.fromEntries(sheet.facts.map((f) => [f.label, f.value]));
    expect(facts['Rating']).to.equal('12 V, 12 Ah (C20)');
    expect(facts['Electrolyte']).to.equal('E-66, lot L1, 660 mL');
    expect(facts['Charge']).to.equal('4 h with current on, about 3.3 Ah in');
    expect(sheet.deviations).to.deep.equal([]);
  });

  it('tells whoever takes it away when its loads come off, by its own figures', () => {
    const advice = (d: Driver) =>
      handoverSheet(d.job, words)
        .facts.filter((f) => f.label.startsWith('Loads off') || f.label.startsWith('Parked'))
        .map((f) => f.value);
    // Five times the size, 4.2 mΩ: 25 A more than 25 A take a tenth of a volt.
    const big = new Driver({ ...PLAIN, c20Ah: 60, electrolyteMl: 3300, milliohm: 4.2 });
    expect(advice(big.to('handover'))[0]).to.equal(
      'under load at 10.50 V up to 25 A; 10.4 V at 50 A; 10.2 V at 100 A',
    );
    expect(advice(new Driver().to('handover'))[0]).to.equal('under load at 10.50 V up to 25 A');
    // Strong acid stands higher: half full is not what the usual table says.
    const halfFull = (fillSg: number) =>
      restVoltageHolding(new Driver({ ...PLAIN, fillSg }).job, 50);
    expect(halfFull(1.32) - halfFull(1.28)).to.be.within(0.1, 0.3);
    expect(advice(new Driver().to('handover'))[1]).to.equal(
      'loads off at 11.9 to 12.2 V at rest, so that it still starts',
    );
    expect(advice(new Driver().to('verdict'))).to.deep.equal([]);
  });

  it('printed at the step that asks for it, says what was signed, not that it is in process', () => {
    expect(handoverSheet(new Driver().to('verdict').job, words).verdict).to.equal('In process');
    expect(handoverSheet(new Driver().to('handover').job, words).verdict).to.equal('Passed');
    const light = new Driver(BY_KIND['agm-sealed'], DEFAULT_RULES, 'recover').to('outcome');
    light.send({
      type: 'giveOutcome',
      stepId: 'outcome',
      outcome: 'light',
      reason: 'For the yard only',
    });
    expect(light.step).to.equal('handover');
    expect(handoverSheet(light.job, words).verdict).to.equal('Light duty only');
  });

  it('says what the lead decided and why', () => {
    const d = new Driver().to('soak');
    d.send({ type: 'escalate', reason: 'Smells of acid' });
    expect(handoverSheet(d.job, words).verdict).to.equal('With the lead');
    d.role = 'lead';
    d.send({ type: 'leadDecide', decision: 'claim', reason: 'Case sweats at the seam' });
    const sheet = handoverSheet(d.job, words);
    expect(sheet.verdict).to.equal('Set aside as a claim');
    expect(sheet.decisions).to.deep.equal([
      {
        when: '10 Mar 2026, 08:30',
        what: 'Set aside as a claim',
        reason: 'Case sweats at the seam',
        by: 'Ann Test',
      },
    ]);
  });

  it('says by which current, how long and to which volts a capacity was tested', () => {
    const d = new Driver(BY_KIND['agm-sealed'], DEFAULT_RULES, 'recover').to('refill');
    const facts = Object.fromEntries(
      handoverSheet(d.job, { ...words, temperatureUnit: 'F' }).facts.map((f) => [f.label, f.value]),
    );
    expect(facts['Capacity test']).to.equal('2.4 A for 3 h 30 min down to 10.50 V, begun at 77 °F');
  });

  it('keeps the case of what it quotes: amperes and degrees are capital letters', () => {
    const d = new Driver().to('charge');
    d.send({
      type: 'startCharge',
      stepId: 'charge',
      place: 1,
      setA: 3,
      setV: 14.7,
      reason: 'Only the large charger is free',
    });
    expect(handoverSheet(d.job, words).deviations.map((x) => x.what)).to.deep.equal([
      'Initial charge at 1.2 A: Charged at 3.0 A instead of 1.2 A',
    ]);
    const cold = new Driver().to('fill');
    cold.send({
      type: 'confirmDone',
      stepId: 'fill',
      temperatureC: 9,
      reason: 'Store is unheated',
    });
    for (const [unit, said] of [
      ['C', 'Battery and pack at 9 °C, outside 16 °C to 30 °C'],
      ['F', 'Battery and pack at 48 °F, outside 61 °F to 86 °F'],
    ] as const)
      expect(
        handoverSheet(cold.job, { ...words, temperatureUnit: unit }).deviations[0]?.what,
      ).to.equal(`Fill 660 mL from the pack: ${said}`);
  });

  it('takes a deviation as an earlier version wrote it', () => {
    const d = new Driver().to('soak');
    d.record({
      type: 'deviation',
      stepId: 'fill',
      what: 'Acid at 9 °C, outside 16–30 °C',
      reason: 'Store is unheated',
    });
    expect(handoverSheet(d.job, words).deviations[0]?.what).to.equal(
      'Fill 660 mL from the pack: Acid at 9 °C, outside 16–30 °C',
    );
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
    expect(handoverSheet(d.job, words).facts.map((f) => f.label)).to.include.members([
      'Charge 1',
      'Charge 2',
    ]);
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
    d.send({
      type: 'correct',
      readingId: d.job.state.readings[0]?.id ?? '',
      values: { voltageV: 13.9, currentA: 1.2, temperatureC: 24 },
    });
    const sheet = handoverSheet(d.job, { ...words, temperatureUnit: 'F' });
    expect(sheet.readings).to.deep.include({
      when: sheet.readings[0]?.when,
      what: 'On charge',
      values: '13.60 V · 1.20 A · 75 °F',
      remark: 'corrected',
      corrected: true,
    });
    expect(sheet.readings[1]).to.include({
      values: '13.90 V · 1.20 A · 75 °F',
      remark: 'correction',
      corrected: false,
    });
  });

  it('says readings in the order in which they are said', () => {
    const d = new Driver().to('load');
    d.send({
      type: 'read',
      role: 'load',
      values: { voltageV: 10.4, temperatureC: 20, beforeV: 12.8, afterV: 12.6 },
    });
    const load = d.job.state.readings.at(-1);
    expect(load && readingText(load, 'C')).to.equal(
      'before 12.80 V · 10.40 V · after 12.60 V · 20 °C',
    );
    expect(load && readingRemark(load)).to.equal('');
  });

  it('prints notes as they were written', () => {
    const d = new Driver();
    d.send({ type: 'note', text: 'Ring <b>Runa</b> =1+1' });
    expect(handoverSheet(d.job, words).notes[0]).to.include({
      text: 'Ring <b>Runa</b> =1+1',
      by: 'Ann Test',
    });
  });
});

describe('what a job wants next', () => {
  const hand = (d: Driver) => nextHand(d.job, d.now);
  it('is named by the step in hand, and by the step after a wait', () => {
    const d = new Driver();
    expect(hand(d)).to.include({
      title: 'Look the battery over',
      act: 'Check',
      kind: 'act',
      dueAt: d.now,
    });
    d.to('soak');
    expect(hand(d)).to.include({
      title: 'Initial charge at 1.2 A',
      act: 'Charge',
      kind: 'wait',
      dueAt: d.job.state.current?.dueAt,
    });
    d.to('rest');
    expect(hand(d)).to.include({ title: 'Measure the rest voltage', act: 'Measure' });
  });
  it('is to end a charge that is done, at once', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(14.69, 0.1, 23);
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
