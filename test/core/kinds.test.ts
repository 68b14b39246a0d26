import { expect } from 'chai';
import { KINDS, leadAcidKind } from '../../src/core/batteries/kinds.ts';
import { type BatteryModel, modelFaults } from '../../src/core/batteries/model.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { lotUses } from '../../src/core/steps/lotUse.ts';
import { PURPOSE_WORDS, type Purpose } from '../../src/core/plan/procedure.ts';
import { chargeStatus } from '../../src/core/job/chargeStatus.ts';
import { expectedChargeS } from '../../src/core/job/chargeExpected.ts';
import { handoverSheet } from '../../src/core/paper/sheet.ts';
import { stripLook } from '../../src/web/drawings/portState.ts';
import { deviationsOf, BY_KIND, Driver, HOUR, MINUTE, refusal } from '../support/battery.ts';
import { runsWith } from '../../src/core/job/job.ts';

const CONVENTIONAL = BY_KIND['flooded-dry'];
const conventional = (step: string, model: BatteryModel = CONVENTIONAL) =>
  new Driver(model).to(step);
const SIX_MARKS = ['mark', 'mark', 'mark', 'mark', 'mark', 'mark'];
const words = { timeZone: 'UTC', temperatureUnit: 'C' as const, nameOf: (id: string) => id };

describe('every kind, every purpose', () => {
  for (const [kind, model] of Object.entries(BY_KIND))
    for (const purpose of Object.keys(PURPOSE_WORDS) as Purpose[])
      it(`${kind}: ${purpose}, from its first step to the handover`, () => {
        const d = new Driver(model, DEFAULT_RULES, purpose);
        d.to('handover');
        d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
        expect(d.job.state).to.include({
          status: 'closed',
          outcome: 'passed',
          destination: 'shelf',
        });
        expect(d.job.state.deviations).to.deep.equal([]);
        const sheet = handoverSheet(d.job, words);
        expect(sheet.headline[0]?.value).to.match(/^\d+ %( \(\d+–\d+\))?$/);
        expect(sheet.facts.map((f) => f.value).join()).to.not.include('undefined');
        expect(stripLook(d.job).ports).to.have.length(model.cells);
      });

  it('share a form: ids once, waits with a figure of their plan, one charge of its own, a verdict that goes back to it', () => {
    for (const kind of KINDS) {
      if ('refusal' in kind) {
        expect(() => procedureFor(kind.key, 'commission')).to.throw('not lead-acid');
        continue;
      }
      for (const purpose of Object.keys(PURPOSE_WORDS) as Purpose[]) {
        const { steps } = procedureFor(kind.key, purpose);
        expect(new Set(steps.map((s) => s.id)).size).to.equal(steps.length);
        expect(steps.filter((s) => s.kind === 'charge' && !s.own)).to.have.length(1);
        const verdict = steps.find((s) => s.kind === 'verdict' || s.kind === 'outcome');
        expect(steps.some((s) => s.id === verdict?.repeatFrom)).to.equal(true);
        for (const s of steps)
          if (s.kind === 'ports' && s.passes)
            expect(steps.some((x) => x.id === s.passes?.from)).to.equal(true);
      }
    }
  });

  it('judge by their own lines and ceilings: gel below AGM, conventional at 12.40 V', () => {
    const figures = (kind: keyof typeof BY_KIND) => new Driver(BY_KIND[kind]).job.plan.figures;
    expect(figures('gel').ceilingV.value).to.equal(14.2);
    expect(figures('agm-sealed').ceilingV.value).to.equal(14.7);
    expect(figures('flooded-dry').ceilingV.value).to.equal(14.8);
    expect([
      figures('flooded-dry').passV.value,
      figures('flooded-sealed').passV.value,
      figures('gel').passV.value,
    ]).to.deep.equal([12.4, 12.4, 12.6]);
    expect(figures('gel').fillMl).to.equal(undefined);
  });
});

describe('a model of a kind', () => {
  const faultsOf = (change: Partial<BatteryModel>) =>
    modelFaults({ ...CONVENTIONAL, ...change }).map((f) => f.field);
  it('has what its kind needs and nothing of another', () => {
    for (const model of Object.values(BY_KIND))
      expect(modelFaults(model), model.kind).to.deep.equal([]);
    expect(faultsOf({ caps: null })).to.deep.equal(['caps']);
    expect(faultsOf({ electrolyteCode: 'E-1' })).to.deep.equal(['electrolyteCode']);
    expect(faultsOf({ dwellS: 1800 })).to.deep.equal(['dwellS']);
    expect(
      modelFaults({ ...BY_KIND.gel, electrolyteMl: 300, caps: 'pull' }).map((f) => f.field),
    ).to.deep.equal(['electrolyteMl', 'caps']);
    expect(
      modelFaults({ ...BY_KIND['agm-dry'], electrolyteCode: null, electrolyteMl: null }).map(
        (f) => f.field,
      ),
    ).to.deep.equal(['electrolyteCode', 'electrolyteMl']);
  });
  it('takes an estimated volume where a bulk fill has none printed', () => {
    const { fillMl } = new Driver({ ...CONVENTIONAL, electrolyteMl: null }).job.plan.figures;
    expect(fillMl).to.include({ value: 12 * 6 * 14, origin: 'default' });
  });
});

describe('bulk acid', () => {
  const judge = (d: Driver, change: object) =>
    d.send({
      type: 'matchAcid',
      stepId: 'acid',
      lot: 'B1',
      specificGravity: 1.265,
      temperatureC: 25,
      ...change,
    });

  it('is corrected for its temperature before it is judged: warm acid reads low', () => {
    const d = conventional('acid');
    judge(d, { specificGravity: 1.259, temperatureC: 30 });
    expect(runsWith(d.job.state, 'acid').at(-1)?.result.sg25).to.be.closeTo(1.2625, 1e-9);
    expect(d.job.state.deviations).to.deep.equal([]);
  });
  it('wants a reason when it is a little off or too cold, and puts it on the record', () => {
    expect(refusal(() => judge(conventional('acid'), { specificGravity: 1.25 }))).to.include({
      field: 'reason',
    });
    expect(
      refusal(() => judge(conventional('acid'), { temperatureC: 12, specificGravity: 1.272 }))
        .message,
    ).to.include('12 °C');
    const d = conventional('acid');
    judge(d, { specificGravity: 1.25, batteryC: 8, reason: 'Only acid in the house' });
    expect(deviationsOf(d).join(' ')).to.include('1.250').and.include('Battery at 8 °C');
  });
  it('does not go in when it is another acid, whatever the reason', () => {
    expect(
      refusal(() =>
        judge(conventional('acid'), { specificGravity: 1.32, reason: 'It is what we have' }),
      ).code,
    ).to.equal('forbidden');
  });
  it('is refused by the wet room when the lot is water, expired, or used up', () => {
    const d = conventional('acid');
    const lot = { code: 'B1', kind: 'acid' as const, packCode: null, expired: false, leftMl: 500 };
    for (const [change, said] of [
      [{ kind: 'water' as const }, 'distilled water'],
      [{ expired: true }, 'past its date'],
      [{ leftMl: 0 }, 'used up'],
    ] as const) {
      d.lot = { ...lot, ...change };
      expect(refusal(() => judge(d, {})).message).to.include(said);
    }
    d.lot = lot;
    judge(d, {});
    expect(d.step).to.equal('safe');
  });
});

describe('filling in passes', () => {
  const look = (d: Driver, ports: string[], reason?: string) =>
    d.send({ type: 'answerPorts', stepId: 'pass', ports, ...(reason ? { reason } : {}) });

  it('stands again after each topping up, three passes at most, and remembers every level', () => {
    const d = conventional('pass');
    look(d, ['topped', 'mark', 'topped', 'mark', 'mark', 'mark']);
    expect(d.step).to.equal('stand');
    expect(refusal(() => look(d, SIX_MARKS)).code).to.equal('out-of-order');
    d.wait(30 * MINUTE);
    look(d, ['mark', 'mark', 'mark', 'topped', 'mark', 'mark']);
    d.wait(30 * MINUTE);
    look(d, ['mark', 'mark', 'mark', 'topped', 'mark', 'mark']);
    expect(d.step).to.equal('used');
    expect(d.job.state.topUps.map((t) => [t.liquid, t.cells])).to.deep.equal([
      ['acid', [1, 3]],
      ['acid', [4]],
      ['acid', [4]],
    ]);
    expect(deviationsOf(d)).to.deep.equal(['Still topped up in pass 3: cell 4']);
    expect(d.job.state.runs.filter((r) => r.stepId === 'pass')).to.have.length(3);
  });
  it('holds while a cell is low', () => {
    expect(
      refusal(() => look(conventional('pass'), ['low', ...SIX_MARKS.slice(1)])).message,
    ).to.include('Top it up with the same acid');
  });
  it('records a cell over the mark: with a reason, or as the house tolerates it', () => {
    const d = conventional('pass');
    expect(refusal(() => look(d, ['over', ...SIX_MARKS.slice(1)])).field).to.equal('reason');
    look(d, ['over', ...SIX_MARKS.slice(1)], 'Syringe is away');
    expect(deviationsOf(d)[0]).to.equal('Filled over the upper mark in cell 1');
    expect(d.job.state.deviations[0]?.reason).to.equal('Syringe is away');
    const tolerant = new Driver(CONVENTIONAL, {
      ...DEFAULT_RULES,
      schools: { ...DEFAULT_SCHOOLS, fillMark: 'tolerant' },
    }).to('pass');
    look(tolerant, ['over', 'over', ...SIX_MARKS.slice(2)]);
    expect(deviationsOf(tolerant)[0]).to.equal('Filled over the upper mark in cells 1 and 2');
  });
  it('takes what it took from the lot that was judged', () => {
    const d = conventional('used');
    const before = d.job;
    const events = d.send({ type: 'confirmDone', stepId: 'used', amountMl: 980 });
    expect(lotUses(before, events)).to.deep.equal([{ lot: 'B1', ml: 980 }]);
    expect(
      handoverSheet(d.job, words).facts.find((f) => f.label === 'Electrolyte')?.value,
    ).to.equal('SG 1.265 at 25 °C, lot B1, 980 mL');
    expect(
      refusal(() => conventional('used').send({ type: 'confirmDone', stepId: 'used' })).field,
    ).to.equal('amountMl');
  });
  it('goes on only with the transport cap off and the vent tube whole', () => {
    const d = conventional('vent');
    expect(
      refusal(() =>
        d.send({ type: 'answerChecks', stepId: 'vent', answers: { transport: true, tube: false } }),
      ).message,
    ).to.include('vent tube');
    expect(d.job.state.status).to.equal('running');
    d.send({ type: 'answerChecks', stepId: 'vent', answers: { transport: true, tube: true } });
    expect(d.step).to.equal('fill');
  });
  it('stands 5 min where the house settles small three-cell batteries so', () => {
    const rules = { ...DEFAULT_RULES, schools: { ...DEFAULT_SCHOOLS, bulkFillStand: 'settle' } };
    const small = new Driver(
      { ...CONVENTIONAL, nominalV: 6, cells: 3, c20Ah: 6, electrolyteMl: 250 },
      rules,
    );
    expect([
      small.job.plan.figures.standS?.value,
      new Driver(CONVENTIONAL, rules).job.plan.figures.standS?.value,
    ]).to.deep.equal([300, 1800]);
  });
});

describe('topping up', () => {
  const topUp = (d: Driver, liquid: 'acid' | 'water') =>
    d.send({ type: 'topUp', liquid, cells: [2], ml: 20, lot: 'W1' });

  it('is acid before the first charge and only water after it', () => {
    const d = conventional('charge');
    expect(refusal(() => topUp(d, 'water')).message).to.include('not been charged yet');
    topUp(d, 'acid');
    d.startCharge();
    expect(refusal(() => topUp(d, 'acid')).message).to.include('only distilled water');
    topUp(d, 'water');
    expect(d.job.state.topUps.map((t) => t.liquid)).to.deep.equal(['acid', 'water']);
  });
  it('is water alone in a service, and nothing in a sealed battery', () => {
    expect(
      refusal(() => topUp(new Driver(CONVENTIONAL, DEFAULT_RULES, 'service'), 'acid')).code,
    ).to.equal('forbidden');
    expect(refusal(() => topUp(new Driver(BY_KIND.gel), 'water')).message).to.include('closed');
    expect(
      refusal(() => conventional('pass').send({ type: 'topUp', liquid: 'acid', cells: [7] })).field,
    ).to.equal('cells');
  });
});

describe('cells, one by one', () => {
  const read = (d: Driver, sgs: (number | undefined)[], sure?: boolean) =>
    d.send({
      type: 'read',
      role: 'cells',
      values: { temperatureC: 25 },
      cells: sgs.map((specificGravity) =>
        specificGravity === undefined ? {} : { specificGravity },
      ),
      ...(sure ? { sure } : {}),
    });

  it('fail a battery whose weakest is 0.050 below the others, whatever its posts say', () => {
    const d = conventional('sg');
    read(d, [1.265, 1.265, 1.265, 1.205, 1.265, 1.265]);
    d.to('verdict').send({ type: 'giveVerdict', stepId: 'verdict' });
    expect(d.job.state.verdict).to.include({ outcome: 'repeat' });
    expect(d.job.state.verdict?.reasons.join(' ')).to.include(
      'Cell 4 is 0.060 SG below the others',
    );
    expect(d.step).to.equal('charge');
  });
  it('say how full it is by its acid, corrected for warmth, beside what the volts say', () => {
    const d = conventional('sg');
    d.send({ type: 'read', role: 'cells', values: { temperatureC: 35 }, cells: d.cells(1.21) });
    d.to('verdict').send({ type: 'giveVerdict', stepId: 'verdict' });
    // 1.210 read at 35 °C is 1.217 at 25 °C: 2.065 V a cell, 12.39 V for six, about two thirds by the flooded table.
    expect(d.job.state.verdict?.reasons.join(' ')).to.match(
      /On average 1\.217 at 25 °C: about 6\d % charged by its acid/,
    );
  });
  it('are all answered, each possible, and reachable', () => {
    expect(refusal(() => read(conventional('sg'), [1.265, 1.265])).message).to.include(
      'all 6 cells',
    );
    expect(
      refusal(() => read(conventional('sg'), [1.265, undefined, 1.265, 1.265, 1.265, 1.265]))
        .message,
    ).to.include('Cell 2 is missing');
    expect(
      refusal(() => read(conventional('sg'), [1.265, 1.9, 1.265, 1.265, 1.265, 1.265])).message,
    ).to.include('cell 2');
    expect(
      refusal(() => read(new Driver(BY_KIND.gel), [1.2, 1.2, 1.2, 1.2, 1.2, 1.2])).message,
    ).to.include('no hydrometer');
    expect(
      refusal(() => read(conventional('sg'), [1.265, 1.4, 1.265, 1.265, 1.265, 1.265])).code,
    ).to.equal('ask');
    const d = conventional('sg');
    read(d, [1.265, 1.4, 1.265, 1.265, 1.265, 1.265], true);
    expect(d.job.state.readings.at(-1)?.marks).to.deep.equal(['confirmed']);
  });
  it('are asked about when they do not add up to the posts', () => {
    const d = conventional('charge');
    const cells = [2.1, 2.1, 2.1, 2.1, 2.1, 1.2].map((voltageV) => ({ voltageV }));
    const values = { voltageV: 12.6 } as const;
    expect(
      refusal(() => d.send({ type: 'read', role: 'cells', values, cells })).message,
    ).to.include('does not belong');
    const levels = ['mark', 'low', 'mark', 'mark', 'dry', 'mark'].map((level) => ({
      level: level as 'mark',
    }));
    d.send({ type: 'read', role: 'cells', values: {}, cells: levels });
    expect(stripLook(d.job).ports.map((p) => p.wrong ?? false)).to.deep.equal([
      false,
      false,
      false,
      false,
      true,
      false,
    ]);
  });
  it('can be corrected, the old ones staying', () => {
    const d = conventional('sg');
    read(d, [1.265, 1.262, 1.26, 1.263, 1.265, 1.264]);
    const first = d.job.state.readings.at(-1);
    d.send({
      type: 'correct',
      readingId: first?.id ?? '',
      values: { temperatureC: 25 },
      cells: d.cells(1.26),
    });
    expect(d.job.state.readings.at(-1)?.cells?.[0]).to.deep.equal({ specificGravity: 1.26 });
    expect(d.job.state.readings.find((r) => r.id === first?.id)?.supersededBy).to.not.equal(null);
  });
});

describe('wet stock', () => {
  it('is measured as it came, and its charge is expected from that', () => {
    const d = new Driver(BY_KIND['agm-sealed']).to('arrival');
    const usual = expectedChargeS(d.job);
    d.send({ type: 'read', role: 'arrival', values: { voltageV: 12.0 } });
    // 75 % missing of 12 Ah at 1.2 A: seven hours and more to the ceiling, then the tail.
    expect(expectedChargeS(d.job) / 3600).to.be.within(10, 18);
    expect(usual).to.be.lessThan(expectedChargeS(d.job));
    d.to('charge').startCharge();
    expect(
      refusal(() => d.send({ type: 'read', role: 'arrival', values: { voltageV: 12.4 } })).code,
    ).to.equal('out-of-order');
  });
});

describe('the end of a conventional charge', () => {
  const warm = (d: Driver, voltageV: number, specificGravity?: number) =>
    d.wait(HOUR).send({
      type: 'read',
      role: 'charge',
      values: {
        voltageV,
        currentA: 1.4,
        temperatureC: 28,
        ...(specificGravity ? { specificGravity } : {}),
      },
    });

  it('is told by three SG readings an hour apart that no longer rise, while the volts still do', () => {
    const d = conventional('charge').startCharge();
    warm(d, 13.9, 1.24);
    warm(d, 14.2, 1.259);
    warm(d, 14.3, 1.26);
    expect(chargeStatus(d.job, d.now).progress.agrees).to.equal(false);
    warm(d, 14.4, 1.26);
    expect(chargeStatus(d.job, d.now).progress).to.include({ agrees: true, by: 'sg' });
  });
  it('is not told by SG where no hydrometer reaches', () => {
    const d = new Driver(BY_KIND.gel).to('charge').startCharge();
    expect(refusal(() => warm(d, 13.6, 1.25)).message).to.include('no hydrometer');
  });
});

describe('an analyser instead of a load', () => {
  const rated: BatteryModel = { ...BY_KIND['agm-dry'], cca: 210, ccaStandard: 'EN' };
  const tested = (ccaA: number, standard: 'EN' | 'SAE' = 'EN') => {
    const d = new Driver(rated).to('load');
    d.send({ type: 'read', role: 'analyser', values: { ccaA }, standard });
    return d;
  };

  it('passes on its rating, and not below', () => {
    const good = tested(214);
    expect(good.step).to.equal('verdict');
    good.send({ type: 'giveVerdict', stepId: 'verdict' });
    expect(good.job.state.verdict).to.include({ outcome: 'pass', ccaA: 214, loadV: null });
    expect(handoverSheet(good.job, words).headline.at(-1)).to.deep.equal({
      label: 'CCA (EN)',
      value: '214 A',
    });
    const weak = tested(160);
    weak.send({ type: 'giveVerdict', stepId: 'verdict' });
    expect(weak.job.state.verdict?.outcome).to.equal('repeat');
  });
  it('is never converted from another standard, nor judged without a rating', () => {
    expect(refusal(() => tested(230, 'SAE')).message).to.include('never converted');
    const d = new Driver(BY_KIND['agm-dry']).to('load');
    expect(
      refusal(() =>
        d.send({ type: 'read', role: 'analyser', values: { ccaA: 200 }, standard: 'EN' }),
      ).message,
    ).to.include('prints no CCA');
    expect(
      refusal(() => d.send({ type: 'read', role: 'analyser', values: { ccaA: 200 } })).field,
    ).to.equal('standard');
    expect(
      refusal(() =>
        d.send({
          type: 'read',
          role: 'load',
          values: { voltageV: 10, temperatureC: 20 },
          standard: 'EN',
        }),
      ).field,
    ).to.equal('standard');
  });
});

describe('hands of a kind', () => {
  it('call for the act of the step, and the kind knows who may look into its cells', () => {
    expect(KINDS.flatMap((k) => ('refusal' in k ? [] : [leadAcidKind(k.key).ports]))).to.deep.equal(
      ['serviceable', 'once', 'never', 'never', 'never'],
    );
  });
});
