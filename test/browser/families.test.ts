import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { RecordWire } from '../../src/contract/wire.ts';
import { FAMILIES, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import type { StoryKey } from '../../src/core/diagnosis/stories.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { Driver } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { CONVENTIONAL, SEALED } from '../support/simulatedRecovery.ts';

interface Walked {
  family: FamilyKey;
  sealed?: true;
  story: StoryKey;
  days?: number;
  years?: number;
  volts: number;
  /** Volts under three times C20. */
  load?: number;
  sg?: number[];
  missingG?: number;
  /** What the answer says to do. */
  says: RegExp;
}

const evenCells = (sg: number): number[] => Array.from({ length: 6 }, () => sg);
const ROUTE = (name: string): RegExp => new RegExp(`^Take this route: ${name}`);

/** One of each family, with readings that a shop would take of it. */
const WALKED: readonly Walked[] = [
  {
    family: 'flat',
    story: 'left-on',
    days: 2,
    years: 1,
    volts: 11.6,
    sg: evenCells(1.12),
    says: ROUTE('Full charge'),
  },
  {
    family: 'sulfated',
    story: 'parked',
    days: 260,
    years: 3,
    volts: 9.8,
    load: 0.5,
    sg: evenCells(1.1),
    says: ROUTE('Top up and slow restore'),
  },
  {
    family: 'bad-cell',
    story: 'weak',
    years: 5,
    volts: 10.5,
    load: 6.1,
    sg: [1.24, 1.24, 1.06, 1.24, 1.24, 1.24],
    says: /^To the recycler/,
  },
  {
    family: 'dry',
    sealed: true,
    story: 'boiled',
    years: 3,
    volts: 12.95,
    load: 9.6,
    missingG: 800,
    says: /^Take this route/,
  },
  {
    family: 'worn',
    story: 'weak',
    years: 7,
    volts: 12.5,
    load: 9.0,
    sg: evenCells(1.255),
    says: /^To the recycler/,
  },
  {
    family: 'layered',
    story: 'short-runs',
    years: 1,
    volts: 12.65,
    load: 10.8,
    sg: evenCells(1.17),
    says: ROUTE('Mix and lift'),
  },
  {
    family: 'nothing',
    story: 'unknown',
    volts: 12.66,
    load: 11.2,
    sg: evenCells(1.268),
    says: ROUTE('Full charge'),
  },
];

/** What is sent of it from the door to the diagnosis, as a careful hand does it. */
function commandsOf(b: Walked): JobCommand[] {
  const sent: JobCommand[] = [];
  const d = new Driver(b.sealed ? SEALED : CONVENTIONAL, DEFAULT_RULES, 'recover');
  const sends = d.send.bind(d);
  d.send = (command: JobCommand) => {
    sent.push(command);
    return sends(command);
  };
  d.to('story');
  const wetMassG = b.missingG ? 20_000 : null;
  d.send({
    type: 'tellStory',
    stepId: 'story',
    story: {
      story: b.story,
      standingDays: b.days ?? null,
      ageYears: b.years ?? null,
      coldestC: null,
      whitePost: false,
      wetMassG,
    },
  });
  const read = (command: Omit<Extract<JobCommand, { type: 'read' }>, 'type' | 'sure'>) =>
    d.send({ type: 'read', sure: true, ...command });
  read({ role: 'arrival', values: { voltageV: b.volts, temperatureC: 25 } });
  if (b.sg)
    read({
      role: 'cells',
      values: { temperatureC: 25 },
      cells: b.sg.map((specificGravity) => ({ specificGravity, level: 'mark' as const })),
    });
  if (b.load !== undefined)
    read({
      role: 'load',
      values: { voltageV: b.load, temperatureC: 25, beforeV: b.volts, afterV: b.volts - 0.1 },
    });
  if (wetMassG && b.missingG) read({ role: 'spot', values: { massG: wetMassG - b.missingG } });
  return sent;
}

describe('one battery of each family, on the page that says what it is', () => {
  let bench: TestBench;
  let t: Technician;
  let models: { open: string; sealed: string };
  before(async () => {
    bench = await TestBench.open();
    models = {
      open: await bench.addModel({ ...CONVENTIONAL, code: 'T-C60' }),
      sealed: await bench.addModel({ ...SEALED, code: 'T-S60' }),
    };
    t = await Technician.sitDown(bench, 'ann');
  });
  after(async () => {
    await t.leave();
    await bench.close();
  });

  /** In at the door, its story told, measured as it stands; up to the diagnosis. */
  async function comes(tag: string, b: Walked): Promise<string> {
    const { body } = await bench.post<{ jobId: string }>('/api/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      tag,
      modelId: b.sealed ? models.sealed : models.open,
      dateCode: '2024-01',
      owner: 'Test',
      promisedAt: null,
      purpose: 'recover',
    });
    const { jobId } = body;
    for (const command of commandsOf(b)) {
      const { status, body: answer } = await bench.send(jobId, command);
      expect(status, JSON.stringify(answer.error)).to.be.below(300);
    }
    return jobId;
  }

  for (const [i, b] of WALKED.entries())
    it(`${FAMILIES[b.family].name.toLowerCase()}: named, with what to do`, async () => {
      await t.open(`/jobs/${await comes(`F-${101 + i}`, b)}`);
      const answer = t.page.getByRole('region', { name: 'The answer' });
      await answer.getByText(FAMILIES[b.family].name, { exact: true }).waitFor();
      await t.page.getByText(/^(Settled|First answer)/).waitFor();
      await answer.getByText(FAMILIES[b.family].name, { exact: true }).waitFor();
      await answer.getByRole('button', { name: b.says }).waitFor();
      expect(t.complaints).to.deep.equal([]);
    });

  it('never charge: a cracked case is refused at the look, before anything is measured', async () => {
    const jobId = await bench
      .post<{ jobId: string }>('/api/batteries', {
        commandId: randomUUID(),
        by: 'ann',
        tag: 'F-100',
        modelId: models.open,
        dateCode: '2024-01',
        owner: 'Test',
        promisedAt: null,
        purpose: 'recover',
      })
      .then(({ body }) => body.jobId);
    const { status } = await bench.send(jobId, {
      type: 'answerChecks',
      stepId: 'identify',
      answers: { bulge: false },
    });
    expect(status).to.equal(200);
    await t.open(`/jobs/${jobId}`);
    await t.sees(/^Bulged or dented into the plates: it may be shorted inside/);
    const { body } = await bench.get<RecordWire>('/api/batteries/F-100');
    expect(body.jobs.at(-1)!.state.status).to.equal('refused');
    expect(await t.page.getByRole('region', { name: 'The answer' }).count()).to.equal(0);
  });
});
