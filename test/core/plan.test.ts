import { expect } from 'chai';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS, QUESTION_KEYS, schoolOf, SCHOOLS } from '../../src/core/house/schools.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { figureOf } from '../../src/core/plan/jobPlan.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { FIGURE_KEYS } from '../../src/core/plan/figures.ts';
import { PURPOSE_WORDS, type Purpose } from '../../src/core/plan/procedure.ts';
import { plannedTimeline } from '../../src/core/watch/timeline.ts';
import { fillText } from '../../src/core/plan/words.ts';
import { BY_KIND, PLAIN, SIX_VOLT, START } from '../support/battery.ts';

const procedure = procedureFor('agm-dry', 'commission');
const withSchool = (key: keyof typeof SCHOOLS, id: string) => ({
  ...DEFAULT_RULES,
  schools: { ...DEFAULT_SCHOOLS, [key]: id },
});

describe('the commissioning plan', () => {
  it('works out a plain 12 Ah battery by the defaults', () => {
    const { figures } = jobPlan({ ...PLAIN, fillSg: null }, DEFAULT_RULES);
    const values = Object.fromEntries(FIGURE_KEYS.map((k) => [k, figures[k]?.value]));
    expect(values).to.deep.include({
      fillMl: 660,
      fillMlPerCell: 110,
      fillSg: 1.32,
      dwellS: 1800,
      soakS: 7200,
      ceilingV: 14.7,
      clearS: 300,
      restS: 3600,
      passV: 12.6,
      loadA: 36,
      loadS: 15,
      loadMinV: 9.6,
    });
    expect(figures.chargeA.value).to.be.closeTo(1.2, 1e-9);
    expect(figures.sodaKg?.value).to.be.closeTo(0.62, 0.02);
    // A pack of 1.32 rests near 13 V when full.
    expect(figures.fullV.value).to.be.within(12.9, 13.05);
  });

  it('halves what belongs to half the cells', () => {
    const plan = jobPlan(SIX_VOLT, DEFAULT_RULES);
    const { figures } = plan;
    expect([
      figures.passV.value,
      figures.ceilingV.value,
      figures.loadMinV.value,
      figureOf(plan, 'fillMlPerCell').value,
    ]).to.deep.equal([6.3, 7.35, 4.8, 55]);
  });

  it('gives every number a formula, an origin and somebody who stands behind it', () => {
    for (const model of Object.values(BY_KIND))
      for (const [key, figure] of Object.entries(
        jobPlan({ ...model, cca: 200, ccaStandard: 'EN' }, DEFAULT_RULES).figures,
      )) {
        expect(figure.key).to.equal(key);
        expect(figure.formula, key).to.not.equal('');
        expect(figure.source, key).to.not.equal('');
      }
  });

  it("puts the maker's printed values before the house's and ours", () => {
    const printed = {
      ...PLAIN,
      fillSg: 1.32,
      chargeA: 1.5,
      ceilingV: 14.5,
      dwellS: 2700,
      soakS: 5400,
      passV: 12.7,
    };
    const { figures } = jobPlan(printed, withSchool('passLine', 'strict'));
    for (const key of ['fillSg', 'chargeA', 'ceilingV', 'dwellS', 'soakS', 'passV'] as const)
      expect(figures[key]).to.include({ value: printed[key], origin: 'maker' });
  });

  it('follows the school the house chose and says that it is a house rule', () => {
    expect(jobPlan(PLAIN, withSchool('tubeFillStand', 'short')).figures.dwellS).to.include({
      value: 1200,
      origin: 'house',
    });
    expect(jobPlan(PLAIN, withSchool('tubeFillStand', 'counter')).figures.soakS).to.include({
      value: 1800,
      origin: 'house',
    });
    expect(jobPlan(PLAIN, withSchool('restNew', 'half-hour')).figures.restS).to.include({
      value: 1800,
      origin: 'house',
    });
    expect(jobPlan(PLAIN, withSchool('passLine', 'strict')).figures.passV).to.include({
      value: 12.8,
      origin: 'house',
    });
    expect(
      jobPlan({ ...PLAIN, c20Ah: 18, electrolyteMl: 930 }, DEFAULT_RULES).figures.dwellS?.value,
    ).to.equal(3600);
    expect(jobPlan(PLAIN, withSchool('capStrip', 'off')).words.strip).to.include('clean cloth');
  });

  it('says so when the maker prints more than the shop would dare', () => {
    expect(jobPlan({ ...PLAIN, chargeA: 4 }, DEFAULT_RULES).notices[0]).to.include(
      "The maker's word stands",
    );
    expect(jobPlan(PLAIN, DEFAULT_RULES).notices).to.deep.equal([]);
  });

  it('refuses lithium', () => {
    expect(() => jobPlan({ ...PLAIN, kind: 'lithium' }, DEFAULT_RULES)).to.throw('not lead-acid');
  });

  it('is ready after the sum of its waits and its hands', () => {
    const plan = jobPlan(PLAIN, DEFAULT_RULES);
    const segments = plannedTimeline(procedure, plan, START);
    const hands = procedure.steps.reduce((sum, s) => sum + (s.handsS ?? 0), 0) - 120; // the bubbles are looked at while the pack stands
    const waits = (['dwellS', 'soakS', 'chargeS', 'clearS', 'restS'] as const).reduce(
      (sum, key) => sum + figureOf(plan, key).value,
      0,
    );
    expect(((segments.at(-1)?.to ?? 0) - START) / 1000).to.equal(hands + waits);
    for (let i = 1; i < segments.length; i++)
      expect(segments[i]?.from).to.equal(segments[i - 1]?.to);
  });

  it('fills every placeholder of its procedure', () => {
    const plan = jobPlan(PLAIN, DEFAULT_RULES);
    expect(fillText('Fill {fillMl} in {cells} for {nobody}', plan)).to.equal(
      'Fill 660 mL in 6 for {nobody}',
    );
    for (const model of Object.values(BY_KIND))
      for (const purpose of Object.keys(PURPOSE_WORDS) as Purpose[]) {
        const own = jobPlan(model, DEFAULT_RULES, purpose);
        for (const step of procedureFor(model.kind, purpose).steps)
          expect(`${fillText(step.title, own)} ${fillText(step.detail, own)}`).to.not.match(/[{}]/);
      }
  });
});

describe('schools', () => {
  it('have a default first, plain words and ids that differ', () => {
    for (const key of QUESTION_KEYS) {
      const { schools } = SCHOOLS[key];
      expect(new Set(schools.map((s) => s.id)).size).to.equal(schools.length);
      for (const s of schools)
        for (const said of [s.plain, s.costs, s.heldBy]) expect(said).to.match(/^.{7,}\.$/);
      expect(schoolOf(key, DEFAULT_SCHOOLS)).to.deep.include({
        school: schools[0],
        origin: 'default',
      });
    }
  });
});
