import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { JobWire, RecordWire, ShelfItem } from '../../src/contract/wire.ts';
import type { KindKey } from '../../src/core/batteries/kinds.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import {
  type Procedure,
  PURPOSE_WORDS,
  type Purpose,
  stepById,
} from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { exportSchema } from '../../src/server/resources/exchange/exportSchema.ts';
import { BY_KIND, HOUR } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';

/** Walks a job over the wire as a careful technician does; returns it at its end. */
async function walk(bench: TestBench, id: string): Promise<JobWire> {
  const send = async (command: JobCommand) => {
    const { status, body } = await bench.send(id, command);
    expect(status, `${command.type}: ${JSON.stringify(body)}`).to.equal(200);
  };
  for (let turn = 0; turn < 60; turn++) {
    const { body } = await bench.get<{ job: JobWire; procedure: Procedure }>(`/api/jobs/${id}`);
    const { plan, state } = settle(
      { procedure: body.procedure, plan: body.job.plan, state: body.job.state },
      bench.now,
    );
    if (!state.current) return body.job;
    const step = stepById(body.procedure, state.current.stepId);
    const { cells } = plan.model;
    const of12 = (v: number) => (v * cells) / 6;
    const stepId = step.id;
    if (step.kind === 'wait') bench.now = state.current.dueAt ?? bench.now;
    else if (step.kind === 'acknowledge') await send({ type: 'acknowledge', stepId });
    else if (step.kind === 'checks')
      await send({
        type: 'answerChecks',
        stepId,
        answers: Object.fromEntries(step.checks.map((c) => [c.id, true])),
      });
    else if (step.kind === 'pack')
      await send({ type: 'matchPack', stepId, code: plan.model.electrolyteCode ?? '', lot: 'L1' });
    else if (step.kind === 'acid')
      await send({
        type: 'matchAcid',
        stepId,
        lot: 'B1',
        specificGravity: 1.265,
        temperatureC: 25,
      });
    else if (step.kind === 'do')
      await send({
        type: 'confirmDone',
        stepId,
        ...(step.temperature ? { temperatureC: 21 } : {}),
        ...(step.amount ? { amountMl: 900 } : {}),
      });
    else if (step.kind === 'ports')
      await send({
        type: 'answerPorts',
        stepId,
        ports: Array.from({ length: cells }, () => step.answers[0]?.id ?? ''),
      });
    else if (step.kind === 'arrival')
      await send({ type: 'read', role: 'arrival', values: { voltageV: of12(12.5) } });
    else if (step.kind === 'cells')
      await send({
        type: 'read',
        role: 'cells',
        values: { temperatureC: 25 },
        cells: Array.from({ length: cells }, () => ({ specificGravity: 1.264 })),
      });
    else if (step.kind === 'charge') {
      const { chargeA, ceilingV } = plan.figures;
      await send({
        type: 'startCharge',
        stepId,
        place: 1,
        setA: chargeA.value,
        setV: ceilingV.value,
      });
      for (const [below, share] of [
        [1, 1],
        [0.2, 0.8],
        [0.01, 0.15],
        [0.01, 0.145],
      ] as const) {
        bench.now += HOUR;
        await send({
          type: 'read',
          role: 'charge',
          values: {
            voltageV: ceilingV.value - of12(below),
            currentA: chargeA.value * share,
            temperatureC: 24,
          },
        });
      }
      await send({ type: 'endCharge', stepId });
    } else if (step.kind === 'measure')
      await send({
        type: 'read',
        role: 'rest',
        values: { voltageV: of12(plan.model.kind.startsWith('flooded') ? 12.6 : 12.84) },
      });
    else if (step.kind === 'load')
      await send({
        type: 'read',
        role: 'load',
        values: { voltageV: of12(10.4), temperatureC: 20 },
      });
    else if (step.kind === 'verdict') await send({ type: 'giveVerdict', stepId });
    else await send({ type: 'handOver', stepId, destination: 'shelf' });
  }
  throw new Error('The job never ended.');
}

describe('every kind over the wire', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  let tag = 100;
  for (const kind of Object.keys(BY_KIND) as Exclude<KindKey, 'lithium'>[])
    it(`${kind}: from the box onto the shelf, and from there through a recharge and a service`, async () => {
      tag += 1;
      const name = `K-${tag}`;
      const modelId = await bench.addModel(BY_KIND[kind]);
      const first = await walk(bench, await bench.takeIn(modelId, name));
      expect(first.state).to.include({ status: 'closed', outcome: 'passed', destination: 'shelf' });
      const since = (await bench.get<{ items: ShelfItem[] }>('/api/shelf')).body.items.find(
        (i) => i.tag === name,
      )?.since;

      for (const purpose of ['recharge', 'service'] as Purpose[]) {
        bench.now += 40 * 24 * HOUR;
        const { status, body } = await bench.post<{ jobId: string }>(
          `/api/batteries/${name}/jobs`,
          {
            commandId: randomUUID(),
            by: 'ann',
            purpose,
            promisedAt: null,
          },
        );
        expect(status, purpose).to.equal(201);
        expect((await walk(bench, body.jobId)).state.outcome, purpose).to.equal('passed');
      }
      const { body: items } = await bench.get<{ items: ShelfItem[] }>('/api/shelf');
      const item = items.items.find((i) => i.tag === name);
      expect(item).to.include({ since, jobId: null });
      expect(item?.readings).to.have.length(1);

      const { body: record } = await bench.get<RecordWire>(`/api/batteries/${name}`);
      expect(record.jobs.map((j) => record.procedures[j.procedureId]?.purpose)).to.deep.equal([
        'commission',
        'recharge',
        'service',
      ]);
      expect(record.jobs.flatMap((j) => j.state.deviations)).to.deep.equal([]);
      const { body: exported } = await bench.get(`/api/batteries/${name}/export.json`);
      expect(exportSchema.validate(exported).error?.message).to.equal(undefined);
      for (const { id } of record.jobs)
        expect((await bench.get<string>(`/api/jobs/${id}/sheet.pdf`)).body.slice(0, 5)).to.equal(
          '%PDF-',
        );
      const { body: csv } = await bench.get<string>(`/api/batteries/${name}/readings.csv`);
      expect(csv.split('\r\n').length - 2).to.equal(
        record.jobs.reduce((n, j) => n + j.state.readings.length, 0),
      );
    });

  it('finds each by its kind of job, newest standing first', async () => {
    const { body } = await bench.get<{
      batteries: { tag: string; status: string }[];
      total: number;
    }>('/api/batteries?q=K-1');
    expect(body.total).to.equal(Object.keys(BY_KIND).length);
    expect(body.batteries.every((b) => b.status === 'passed')).to.equal(true);
  });

  it('opens only purposes it knows', async () => {
    const open = (purpose: string) =>
      bench.post(`/api/batteries/K-101/jobs`, {
        commandId: randomUUID(),
        by: 'ann',
        purpose,
        promisedAt: null,
      });
    expect((await open('polish')).status).to.equal(400);
    expect((await open('commission')).body.error.fields['purpose']).to.include(
      'commissioned already',
    );
    expect(Object.keys(PURPOSE_WORDS)).to.have.length(5);
  });
});
