import { createHash } from 'node:crypto';
import { expect } from 'chai';
import { KINDS } from '../../src/core/batteries/kinds.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { notAsked, QUESTION_KEYS, schoolOf, SCHOOLS } from '../../src/core/house/schools.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { linesNotKept, linesOf } from '../../src/core/plan/lines.ts';
import type { Purpose } from '../../src/core/plan/procedure.ts';
import { handoverSheet, sinceKept } from '../../src/core/paper/sheet.ts';
import { jobChemistry } from '../../src/core/job/verdict.ts';
import { Driver, refusal } from '../support/battery.ts';

const PURPOSES: readonly Purpose[] = ['commission', 'recharge', 'display', 'service', 'recover'];

/** What each procedure was when it last changed: another content is another version. */
const KNOWN: Readonly<Record<string, string>> = {
  'commission-agm-dry 5': '3ca42123',
  'commission-agm-sealed 3': 'd90e4816',
  'commission-flooded-dry 4': 'ad84a734',
  'commission-flooded-sealed 3': 'ae8e1ff0',
  'commission-gel 3': '32bb5b43',
  'display-open 3': '62cf8524',
  'display-sealed 3': 'b6148c7d',
  'recharge-open 3': '11015307',
  'recharge-sealed 3': '358b927d',
  'recover-open 5': 'f274143a',
  'recover-sealed 5': '8db99d0e',
  'service-open 3': 'efbf1cfd',
  'service-sealed 3': '6da2c2b6',
};

const words = { timeZone: 'UTC', temperatureUnit: 'C' as const, nameOf: (id: string) => id };

describe('what a job rests on', () => {
  it('is a procedure of a version: whoever changes its content raises that, and writes both down here', () => {
    const found: Record<string, string> = {};
    for (const kind of KINDS)
      for (const purpose of PURPOSES) {
        if ('refusal' in kind) continue;
        const procedure = procedureFor(kind.key, purpose);
        // A role tells the program what a step is; nobody who works by the procedure sees it.
        const { version, ...content } = {
          ...procedure,
          steps: procedure.steps.map(({ role: _, ...step }) => step),
        };
        found[`${procedure.id} ${version}`] = createHash('sha256')
          .update(JSON.stringify(content))
          .digest('hex')
          .slice(0, 8);
      }
    expect(found).to.deep.equal(KNOWN);
  });

  it('goes on where a question is younger than the job: the default stands, and the sheet says so', () => {
    const old = { ...DEFAULT_RULES.schools } as Record<string, string>;
    delete old['wake'];
    old['restNew'] = 'a school that is gone';
    const choices = old as never;
    expect(notAsked(choices)).to.deep.equal(
      QUESTION_KEYS.filter((k) => k === 'wake' || k === 'restNew'),
    );
    expect(schoolOf('wake', choices)).to.deep.include({
      school: SCHOOLS.wake.schools[0],
      origin: 'default',
      asked: false,
    });
    const d = new Driver();
    d.job = { ...d.job, plan: { ...d.job.plan, schools: choices } };
    d.to('handover');
    const said = handoverSheet(d.job, words).facts.filter((f) => f.label === 'By default');
    expect(said.map((f) => f.value)).to.have.length(2);
    expect(said[0]!.value).to.match(/: asked only since, /);
  });

  it('keeps the lines it is judged by with its plan: later ones change nothing, missing ones are named', () => {
    const d = new Driver();
    expect(linesNotKept(d.job.plan)).to.deep.equal([]);
    const { plan } = d.job;
    const stricter = {
      ...plan,
      lines: {
        ...plan.lines,
        failingCellSg: 0.02,
        stateOfCharge: [
          [100, 13.0],
          [0, 12.0],
        ] as const,
      },
    };
    expect(linesOf(stricter)).to.deep.include({ failingCellSg: 0.02, mostCycles: 4 });
    expect(jobChemistry({ ...d.job, plan: stricter }).stateOfCharge[0]).to.deep.equal([100, 13.0]);
    const { lines: _, ...older } = plan;
    expect(linesOf(older)).to.deep.equal(linesOf(plan));
    d.job = { ...d.job, plan: { ...plan, lines: { failingCellSg: 0.05 } } };
    d.to('handover');
    const said = handoverSheet(d.job, words).facts.filter((f) => f.label === 'By today’s rule');
    expect(said.map((f) => f.value)).to.include(
      'When a charge is finished: this job began before it was kept with the plan',
    );
    expect(said.map((f) => f.value).join()).not.to.include('SG of a failing cell');
  });

  it('and its sheet, once kept, is told with what came after', () => {
    const d = new Driver().to('handover');
    const rest = d.job.state.readings.find((r) => r.role === 'rest')!.id;
    d.send({ type: 'handOver', stepId: 'handover', destination: 'customer' });
    const keptAt = d.now;
    expect(sinceKept(d.job, keptAt, words)).to.deep.equal([]);
    expect(handoverSheet(d.job, words).facts.find((f) => f.label === 'Procedure')?.value).to.match(
      /, version \d+$/,
    );
    const late = { type: 'correct', readingId: rest, values: { voltageV: 12.7 } } as const;
    expect(refusal(() => d.wait(60_000).send(late)).field).to.equal('reason');
    d.send({ ...late, reason: 'Read off the wrong battery' });
    expect(sinceKept(d.job, keptAt, words)).to.deep.equal([
      '10 Mar 2026, 19:27: Volts corrected after it was handed over. Read off the wrong battery (ann)'.replace(
        /\d\d:\d\d/,
        /\d\d:\d\d/.exec(sinceKept(d.job, keptAt, words)[0]!)![0],
      ),
    ]);
  });
});
