import { expect } from 'chai';
import { HOW_TO } from '../../src/core/guide/howTo.ts';
import { readingGrade } from '../../src/core/guide/readingGrade.ts';
import { PROCEDURE_PAGES } from '../../src/core/guide/procedures.ts';
import { SIGNS } from '../../src/core/guide/symbols.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { EXAMPLES } from '../../src/core/catalogue/examples.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { fillText } from '../../src/core/plan/words.ts';
import { TERMS } from '../../src/core/guide/terms.ts';

const pages = [
  ...TERMS.map(({ key, term, text }) => ({ key, text: `${term}. ${text}` })),
  ...HOW_TO.map(({ key, why, steps, slips }) => ({
    key,
    text: [why, ...steps, ...slips].join(' '),
  })),
  ...SIGNS.map(({ key, text }) => ({ key, text })),
  ...PROCEDURE_PAGES.map(({ key, why, slips }) => ({ key, text: [why, ...slips].join(' ') })),
];

describe('the field guide', () => {
  it('is read by somebody in the second week: grade 8 or less on the whole, none above 11', () => {
    const graded = pages
      .map(({ key, text }) => ({ key, grade: readingGrade(text) }))
      .toSorted((a, b) => b.grade - a.grade);
    console.log(
      `        worst: ${graded
        .slice(0, 10)
        .map((p) => `${p.key} ${p.grade.toFixed(1)}`)
        .join(', ')}`,
    );
    expect(readingGrade(pages.map((p) => p.text).join(' '))).to.be.below(8);
    expect(graded[0]!.grade).to.be.below(11);
  });

  it('grades as the formula does: short words in short sentences are easy', () => {
    // Kincaid's own scale: a primer lies below 3, a treatise above 14.
    expect(readingGrade('The cat sat on the mat. It was a red mat.')).to.be.below(3);
    expect(
      readingGrade(
        'Electrochemical considerations necessitate comprehensive documentation of irreversible deterioration mechanisms.',
      ),
    ).to.be.above(14);
  });

  it('has one entry a key, and every entry it points to', () => {
    const keys = pages.map((p) => p.key);
    expect(new Set(keys).size).to.equal(keys.length);
    for (const { see = [], key } of TERMS)
      for (const other of see)
        expect(
          TERMS.map((t) => t.key),
          key,
        ).to.include(other);
  });

  it('explains a procedure for every kind and every job type, with its figures filled in', () => {
    for (const { kind, purpose, key } of PROCEDURE_PAGES) {
      const plan = jobPlan(EXAMPLES[kind], DEFAULT_RULES, purpose);
      const { steps } = procedureFor(kind, purpose);
      expect(steps.length, key).to.be.greaterThan(3);
      for (const step of steps)
        expect(fillText(`${step.title} ${step.detail}`, plan), `${key}, ${step.id}`).to.not.match(
          /[{}]|undefined|NaN/,
        );
    }
    expect(new Set(PROCEDURE_PAGES.map((p) => p.kind)).size).to.equal(5);
    expect(new Set(PROCEDURE_PAGES.map((p) => p.purpose))).to.include.keys([
      'commission',
      'recharge',
      'recover',
      'service',
    ]);
  });

  it('answers what a beginner asks', () => {
    const find = (...words: string[]) =>
      pages.filter(({ text }) => words.every((w) => text.toLowerCase().includes(w)));
    for (const words of [
      ['12 ah', 'tube'],
      ['green', 'timer'],
      ['10.5 v', 'shorted'],
      ['surface', 'hours'],
      ['plus first'],
      ['distilled water'],
      ['three times c20', '15 seconds'],
      ['eye level'],
      ['gel', 'ceiling'],
      ['donor', 'current first'],
      ['hydrogen', 'air'],
      ['recycler'],
    ])
      expect(find(...words), words.join(' ')).to.not.deep.equal([]);
  });
});
