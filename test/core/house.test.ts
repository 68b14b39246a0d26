import { expect } from 'chai';
import { ALWAYS, handsAt } from '../../src/core/house/hours.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS, type QuestionKey } from '../../src/core/house/schools.ts';
import { whatChanges } from '../../src/core/watch/whatChanges.ts';
import { plannedTimeline, readyAt } from '../../src/core/watch/timeline.ts';
import { BY_KIND, Driver, HOUR, MINUTE } from '../support/battery.ts';

const MODELS = Object.values(BY_KIND);
const rules = (key: QuestionKey, id: string) => ({
  ...DEFAULT_RULES,
  schools: { ...DEFAULT_SCHOOLS, [key]: id },
});

describe('what a rule changes', () => {
  it('is nothing when nothing changed', () => {
    expect(whatChanges(MODELS, DEFAULT_RULES, DEFAULT_RULES)).to.deep.equal([]);
  });
  it('is the numbers that move, for the models they move for', () => {
    const changes = whatChanges(MODELS, DEFAULT_RULES, rules('tubeFillStand', 'counter'));
    expect(changes).to.deep.include({ label: 'Soak', from: '2 h', to: '30 min', models: ['T-12'] });
    expect(changes.find((c) => c.label === 'Box to sheet')?.models).to.deep.equal(['T-12']);
    const strict = whatChanges(MODELS, DEFAULT_RULES, rules('passLine', 'strict'));
    expect(strict).to.deep.equal([
      {
        label: 'Pass line at rest',
        from: '12.60 V',
        to: '12.80 V',
        models: ['T-12', 'T-S12', 'T-G12'],
      },
    ]);
  });
  it('leaves alone what the maker printed', () => {
    const printed = MODELS.map((m) => ({
      ...m,
      passV: m.kind.startsWith('flooded') ? 12.5 : 12.7,
    }));
    expect(whatChanges(printed, DEFAULT_RULES, rules('passLine', 'strict'))).to.deep.equal([]);
  });
  it('tells words that change as well as numbers', () => {
    expect(
      whatChanges(MODELS, DEFAULT_RULES, rules('fillMark', 'tolerant')).map((c) => [
        c.label,
        c.to,
        c.models,
      ]),
    ).to.deep.equal([['A cell over the mark', 'is recorded', ['T-C14']]]);
    expect(whatChanges(MODELS, DEFAULT_RULES, rules('capStrip', 'off'))[0]?.label).to.equal(
      'Cap strip during charge',
    );
  });
});

describe('working hours', () => {
  const hands = handsAt({
    timeZone: 'Europe/London',
    hours: { from: 8 * 60, to: 18 * 60, days: [true, true, true, true, true, false, false] },
  });
  const london = (text: string) => Date.parse(`${text}Z`);

  it('are there within the hours, and from the next opening outside them', () => {
    // March is still on GMT; 10 March 2026 is a Tuesday.
    expect(hands(london('2026-03-10T09:30:00'))).to.equal(london('2026-03-10T09:30:00'));
    expect(hands(london('2026-03-10T07:12:30'))).to.equal(london('2026-03-10T08:00:00'));
    expect(hands(london('2026-03-10T18:00:00'))).to.equal(london('2026-03-11T08:00:00'));
    expect(hands(london('2026-03-13T20:00:00'))).to.equal(london('2026-03-16T08:00:00'));
    // In summer the wall is an hour ahead.
    expect(hands(london('2026-07-01T06:00:00'))).to.equal(london('2026-07-01T07:00:00'));
  });
  it('are by the clock on the wall on the nights that are an hour shorter or longer, wherever they fall', () => {
    const everyDay = Array.from({ length: 7 }, () => true);
    const opens = (timeZone: string, at: string, from = 8 * 60) =>
      new Date(
        handsAt({ timeZone, hours: { from, to: from + 600, days: everyDay } })(Date.parse(at)),
      ).toISOString();
    // Spring: 29 March 2026 has 23 hours in Berlin, 8 March in New York. Autumn: 25 October and 1 November have 25.
    expect(opens('Europe/Berlin', '2026-03-28T19:00Z')).to.equal('2026-03-29T06:00:00.000Z');
    expect(opens('Europe/Berlin', '2026-10-24T19:00Z')).to.equal('2026-10-25T07:00:00.000Z');
    expect(opens('America/New_York', '2026-03-08T01:00Z')).to.equal('2026-03-08T12:00:00.000Z');
    expect(opens('America/New_York', '2026-11-01T00:30Z')).to.equal('2026-11-01T13:00:00.000Z');
    // After midnight of that very day, before and after the clock was moved.
    expect(opens('Europe/Berlin', '2026-10-25T00:30Z')).to.equal('2026-10-25T07:00:00.000Z');
    expect(opens('Europe/Berlin', '2026-10-25T02:30Z')).to.equal('2026-10-25T07:00:00.000Z');
    // Half an hour on Lord Howe; none in Kathmandu, a quarter off the hour; a shop that opens at the hour that is skipped.
    expect(opens('Australia/Lord_Howe', '2026-10-03T10:00Z')).to.equal('2026-10-03T21:00:00.000Z');
    expect(opens('Asia/Kathmandu', '2026-03-28T19:00Z')).to.equal('2026-03-29T02:15:00.000Z');
    expect(opens('Europe/Berlin', '2026-03-28T23:30Z', 150)).to.equal('2026-03-29T01:30:00.000Z');
  });
  it('are always where the shop has said no day', () => {
    expect(
      handsAt({
        timeZone: 'UTC',
        hours: { from: 480, to: 1080, days: Array.from({ length: 7 }, () => false) },
      })(5),
    ).to.equal(5);
  });
  it('put a job that ends at night off until the morning', () => {
    const d = new Driver();
    const evening = handsAt({
      timeZone: 'UTC',
      hours: { from: 8 * 60, to: 12 * 60, days: Array.from({ length: 7 }, () => true) },
    });
    const late = readyAt(d.job, d.now, evening) as number;
    expect(late - (readyAt(d.job, d.now, ALWAYS) as number)).to.be.above(9 * HOUR);
    const segments = plannedTimeline(d.job.procedure, d.job.plan, d.now, evening);
    expect(segments.some((s) => s.kind === 'idle' && s.label === 'closed')).to.equal(true);
    for (let i = 1; i < segments.length; i++)
      expect((segments[i]?.from ?? 0) - (segments[i - 1]?.to ?? 0)).to.be.at.most(MINUTE);
  });
});
