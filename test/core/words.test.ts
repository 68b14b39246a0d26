import { expect } from 'chai';
import { KINDS } from '../../src/core/batteries/kinds.ts';
import { QUESTION_KEYS, SCHOOLS } from '../../src/core/house/schools.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { PURPOSE_WORDS, type Purpose, type Step } from '../../src/core/plan/procedure.ts';
import { cellWords } from '../../src/core/plan/words.ts';
import { HAZARDS } from '../../src/core/safety/hazards.ts';
import { BY_KIND } from '../support/battery.ts';

const PURPOSES = Object.keys(PURPOSE_WORDS) as Purpose[];
const every = Object.keys(BY_KIND).flatMap((kind) =>
  PURPOSES.map((purpose) => procedureFor(kind, purpose)),
);
const steps: Step[] = every.flatMap((p) => p.steps);

/** Everything a step may say to a technician. */
function saidBy(step: Step): string[] {
  const said = [step.title, step.detail];
  if (step.kind === 'checks')
    said.push(...step.checks.flatMap((c) => [c.text, ...c.answers, c.refusal ?? '', c.hold ?? '']));
  if (step.kind === 'ports') said.push(step.hold, ...step.answers.map((a) => a.label));
  if (step.kind === 'wait') said.push(step.early);
  return said.filter((s) => s !== '');
}

describe('the words of the work', () => {
  it('say what to do and why, without cheer', () => {
    for (const step of steps) {
      for (const said of saidBy(step))
        expect(said, step.id).to.not.match(/!|\bplease\b|\bsimply\b|\bjust\b/i);
      expect(step.detail, step.id).to.match(/[.”}?]$/);
      expect(step.detail.length, step.id).to.be.above(20);
      expect(step.act.length, step.id).to.be.at.most(10);
    }
  });
  it('end every job with its tag, its sheet and how it is fitted', () => {
    for (const { steps: own, id } of every) {
      const last = own.at(-1);
      expect(last?.kind, id).to.equal('handover');
      expect(last?.detail, id)
        .to.include('negative goes off first and on last')
        .and.include('quarter turn and no more');
    }
  });
  it('show a hazard where it bites: hydrogen at every charge and before every clip, acid wherever a cell is open', () => {
    for (const { steps: own, id } of every) {
      const charge = own.find((s) => s.kind === 'charge');
      expect(charge?.hazards, id).to.include('hydrogen').and.include('heat');
      const clear = own.find((s) => s.id === 'clear');
      expect(clear?.hazards, id).to.include('hydrogen');
      expect(
        own.findIndex((s) => s.kind === 'acknowledge'),
        `${id}: safe before current`,
      ).to.be.below(own.findIndex((s) => s.kind === 'charge'));
      for (const s of own)
        if (s.id === 'fill' || s.kind === 'cells' || s.kind === 'acid')
          expect(s.hazards, `${id} ${s.id}`).to.include('acid');
      for (const key of own.flatMap((s) => s.hazards ?? []))
        expect(HAZARDS[key].text.length).to.be.above(20);
    }
  });
  it('let nobody skip a match, a refusal, the gas or a verdict', () => {
    for (const step of steps) {
      const never =
        ['acknowledge', 'pack', 'acid', 'charge', 'verdict', 'handover'].includes(step.kind) ||
        step.id === 'clear' ||
        step.id === 'foil' ||
        step.id === 'identify';
      if (never) expect(step.skippable, step.id).to.not.equal(true);
    }
  });
  it('wait five minutes before the clips come off, and rest before they judge, in that order', () => {
    for (const { steps: own, id } of every) {
      const order = [
        'charge',
        'clear',
        'rest',
        'ocv',
        own.some((s) => s.id === 'outcome') ? 'outcome' : 'verdict',
        'handover',
      ].map((step) => own.findIndex((s) => s.id === step));
      expect(
        order.every((at, i) => at >= 0 && (i === 0 || at > (order[i - 1] ?? 0))),
        id,
      ).to.equal(true);
    }
  });
  it('give each school a name of its own, what it costs and who holds it', () => {
    for (const key of QUESTION_KEYS) {
      const { schools } = SCHOOLS[key];
      expect(new Set(schools.map((s) => s.name)).size, key).to.equal(schools.length);
      for (const s of schools) expect(`${s.plain} ${s.costs} ${s.heldBy}`).to.not.match(/!/);
    }
  });
  it('tell of each kind how it arrives, or why it is turned away', () => {
    for (const kind of KINDS)
      expect(('refusal' in kind ? kind.refusal : kind.arrives).length, kind.key).to.be.above(30);
  });
  it('name cells as people do', () => {
    expect([[4], [2, 5], [1, 2, 6]].map(cellWords)).to.deep.equal([
      'cell 4',
      'cells 2 and 5',
      'cells 1, 2 and 6',
    ]);
  });
});
