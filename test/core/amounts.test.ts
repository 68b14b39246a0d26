import { expect } from 'chai';
import { parseReading } from '../../src/core/quantities/parseReading.ts';
import { parseSpan } from '../../src/core/quantities/parseSpan.ts';
import { lookedAwayFrom } from '../../src/core/steps/amounts.ts';
import { BY_KIND, deviationsOf, Driver, HOUR, MINUTE, refusal, START } from '../support/battery.ts';

describe('amounts that cannot be, or are odd', () => {
  it('filled: asked about when unusual, refused when it does not fit', () => {
    const d = new Driver(BY_KIND['flooded-dry']).to('used');
    const step = d.step;
    const expected = d.job.plan.figures.fillMl!.value;
    const fill = (share: number, sure?: boolean) =>
      d.send({
        type: 'confirmDone',
        stepId: step,
        amountMl: share * expected,
        ...(sure ? { sure } : {}),
      });
    expect(refusal(() => fill(3)).message).to.match(/do not fit: it takes about \d+ mL/);
    expect(refusal(() => fill(3, true)).code, 'not even when sure').to.equal('invalid');
    for (const share of [1.4, 0.4])
      expect(
        refusal(() => fill(share)),
        String(share),
      ).to.include({ code: 'ask', field: 'amountMl' });
    fill(1.4, true);
    expect(d.step).to.not.equal(step);
  });

  it('topped up: by what a cell holds', () => {
    const d = new Driver(BY_KIND['flooded-dry']).to('charge');
    const holds = d.job.plan.model.electrolyteMl! / 6;
    const top = (ml: number, cells: number[], sure?: boolean) =>
      d.send({ type: 'topUp', liquid: 'acid', cells, ml, ...(sure ? { sure } : {}) });
    expect(refusal(() => top(0.7 * holds, [1])).message).to.match(/mL a cell do not fit/);
    expect(refusal(() => top(0.3 * holds, [1])).code).to.equal('ask');
    top(0.3 * holds, [1], true);
    top(0.3 * holds, [1, 2, 3]);
    expect(d.job.state.topUps).to.have.length(2);
  });

  it('a lot nobody has is asked about where lots are counted, and only there', () => {
    const d = new Driver().to('pack');
    const match = (sure?: boolean) =>
      d.send({
        type: 'matchPack',
        stepId: d.step,
        code: d.job.plan.model.electrolyteCode!,
        lot: 'B-1 typo',
        ...(sure ? { sure } : {}),
      });
    d.lotsCounted = true;
    expect(refusal(() => match())).to.include({ code: 'ask', field: 'lot' });
    match(true);
    const other = new Driver().to('pack');
    other.send({
      type: 'matchPack',
      stepId: other.step,
      code: other.job.plan.model.electrolyteCode!,
      lot: 'B-1 typo',
    });
    expect(other.step).to.not.equal('pack');
  });

  it('charge by hand: what readings add up to is looked at twice; hours nobody looked, and hours too many, are deviations', () => {
    const d = new Driver().to('charge');
    d.send({ type: 'startCharge', stepId: 'charge', place: 1, setA: 1.2, setV: 14.4 });
    const read = (currentA: number) =>
      d.send({
        type: 'read',
        role: 'charge',
        values: { voltageV: 14.3, currentA, temperatureC: 24 },
        sure: true,
      });
    d.wait(5 * MINUTE);
    read(1.2);
    d.wait(190 * HOUR);
    read(1.19);
    const end = (sure?: boolean) =>
      d.send({
        type: 'endCharge',
        stepId: 'charge',
        reason: 'Forgotten over a week',
        ...(sure ? { sure } : {}),
      });
    expect(refusal(() => end())).to.include({ code: 'ask', field: 'ampereHours' });
    expect(refusal(() => end()).message).to.match(
      /By its readings 2\d\d Ah went into a 12 Ah battery/,
    );
    end(true);
    const said = deviationsOf(d).join('\n');
    expect(said).to.match(
      /189 hourly readings were missed; the longest while without one was 190\.0 h/,
    );
    expect(said).to.match(/Charged for 190\.1 h where \d+\.\d h were expected/);
  });

  it('looks in time are none, and a pause is no missed look', () => {
    const readAt = [1, 2, 3.2, 4.1].map((h) => START + h * HOUR);
    expect(
      lookedAwayFrom([{ from: START, to: null }], readAt, START + 5 * HOUR, 5 * 3600),
    ).to.deep.equal([]);
    const paused = [
      { from: START, to: START + HOUR },
      { from: START + 9 * HOUR, to: START + 10 * HOUR },
    ];
    expect(lookedAwayFrom(paused, [], START + 10 * HOUR, 5 * 3600)).to.deep.equal([]);
    expect(
      lookedAwayFrom([{ from: START, to: null }], [START + 3 * HOUR], START + 4 * HOUR, 5 * 3600),
    ).to.deep.equal([{ kind: 'readings-missed', missed: 2, longestS: 3 * 3600 }]);
  });
});

describe('a correction', () => {
  it('obeys the rules of the reading it corrects', () => {
    const sealed = new Driver(BY_KIND['agm-sealed']).to('charge');
    sealed.send({ type: 'startCharge', stepId: sealed.step, place: 1, setA: 1, setV: 14.4 });
    sealed.wait(5 * MINUTE).send({
      type: 'read',
      role: 'charge',
      values: { voltageV: 13.6, currentA: 1, temperatureC: 22 },
    });
    const old = sealed.job.state.readings.at(-1)!.id;
    const values = { voltageV: 13.7, currentA: 1, temperatureC: 22, specificGravity: 1.26 };
    expect(
      refusal(() => sealed.send({ type: 'correct', readingId: old, values })).message,
    ).to.include('Its cells are closed');

    const d = new Driver();
    d.send({ type: 'read', role: 'analyser', values: { ccaA: 180 }, standard: 'EN' });
    const cca = d.job.state.readings.at(-1)!.id;
    d.send({ type: 'correct', readingId: cca, values: { ccaA: 190 } });
    expect(d.job.state.readings.at(-1)).to.include({ standard: 'EN', supersedes: cca });
    const again = d.job.state.readings.at(-1)!.id;
    d.send({ type: 'correct', readingId: again, values: { ccaA: 190 }, standard: 'SAE' });
    expect(d.job.state.readings.at(-1)).to.include({ standard: 'SAE' });
  });
});

describe('a span of time', () => {
  it('is read as it is told, or not at all', () => {
    const days = (text: string, bare: 'days' | 'years' = 'days') => {
      const span = parseSpan(text, bare);
      return span.ok ? span.days : null;
    };
    expect([
      days('240'),
      days('8 months'),
      days('2 weeks'),
      days('1,5 y'),
      days('3', 'years'),
      days('18mo', 'years'),
    ]).to.deep.equal([240, 243.5, 14, 547.9, 1095.8, 547.9]);
    for (const wrong of ['about a year', '8 m', '-3', '1e3', '0x10', '', '9'.repeat(80_000)])
      expect(days(wrong), wrong.slice(0, 20)).to.equal(null);
  });
  it('and a reading of eighty thousand digits is answered at once', () => {
    const began = performance.now();
    for (const text of ['1'.repeat(80_000), `${'1'.repeat(80_000)}x`, `${' '.repeat(80_000)}1`])
      expect(parseReading(text, 'voltage').ok).to.equal(false);
    expect(performance.now() - began).to.be.below(50);
    for (const hex of ['0x10', '1e29', '١٢', 'Infinity'])
      expect(parseReading(hex, 'voltage').ok, hex).to.equal(false);
  });
});
