import { expect } from 'chai';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import type { JobEvent } from '../../src/core/job/events.ts';
import {
  eventNow,
  procedureNow,
  stageEndNow,
  stateNow,
  tripNow,
} from '../../src/core/job/stored.ts';
import { whyLine } from '../../src/core/job/why.ts';
import { openJob } from '../../src/core/steps/openJob.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { stepOfKind, type StepKind } from '../../src/core/plan/procedure.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { PLAIN } from '../support/battery.ts';

const recovery = procedureFor('flooded-dry', 'recover');
const commission = procedureFor('flooded-dry', 'commission');
const agm = procedureFor('agm-dry', 'commission');

/** An event as it lies in the log of an earlier version. */
const stored = (event: object): JobEvent => event as JobEvent;

describe('what an earlier version stored', () => {
  const result = (kind: StepKind, bag: object | null) => {
    const procedure = [recovery, commission, agm].find((p) => stepOfKind(p, kind))!;
    const event = eventNow(
      stored({ type: 'step.done', stepId: stepOfKind(procedure, kind)!.id, result: bag }),
      procedure,
    );
    return event.type === 'step.done' ? event.result : undefined;
  };

  it('as a bag of names is told by the kind of its step', () => {
    expect(result('checks', { answers: { foil: true } })).to.deep.equal({
      kind: 'checks',
      answers: { foil: true },
    });
    expect(result('pack', { code: 'E-66', lot: 'L-1' })).to.deep.equal({
      kind: 'pack',
      code: 'E-66',
      lot: 'L-1',
    });
    expect(
      result('acid', { lot: 'B1', specificGravity: 1.26, sg25: 1.263, temperatureC: 29 }),
    ).to.deep.equal({
      kind: 'acid',
      lot: 'B1',
      specificGravity: 1.26,
      sg25: 1.263,
      temperatureC: 29,
    });
    expect(result('do', { amountMl: 640 })).to.deep.equal({ kind: 'do', amountMl: 640 });
    expect(result('do', {})).to.equal(null);
    expect(result('ports', { ports: ['mark', 'low'] })).to.deep.equal({
      kind: 'ports',
      ports: ['mark', 'low'],
    });
    expect(result('wait', { remainingS: 90 })).to.deep.equal({ kind: 'wait', remainingS: 90 });
    expect(result('wake-check', { voltageV: 10.8, feel: ['cool', 'warm'] })).to.deep.equal({
      kind: 'wake-check',
      voltageV: 10.8,
      feel: ['cool', 'warm'],
    });
    expect(result('rinse', { sediment: 'grey', drainedMl: 3900 })).to.deep.equal({
      kind: 'rinse',
      sediment: 'grey',
      drainedMl: 3900,
    });
    expect(result('capacity', { method: 'instrument' })).to.deep.equal({
      kind: 'capacity',
      by: 'instrument',
    });
    expect(result('capacity', { ah: 40, c20Ah: 52 })).to.deep.equal({
      kind: 'capacity',
      by: 'hand',
    });
    expect(result('measure', { readingId: 'r1' })).to.equal(null);
    expect(result('diagnose', { route: 'pulse', wake: 'none' })).to.equal(null);
    expect(result('acknowledge', null)).to.equal(null);
  });

  it('of a charge and of a waking keeps its figures, its plan and its donor', () => {
    const bag = {
      agrees: true,
      ampereHours: 12.3,
      chargeStartedAt: 1e12,
      hours: 9.5,
      chargeId: 'c',
      planName: 'Slow',
      sentences: ['Charge.'],
      ended: 'by hand: Wanted',
    };
    expect(result('charge', bag)).to.deep.equal({
      kind: 'charge',
      agrees: true,
      ampereHours: 12.3,
      chargeStartedAt: 1e12,
      hours: 9.5,
      ended: { by: 'hand', reason: 'Wanted' },
      live: { chargeId: 'c', planName: 'Slow', sentences: ['Charge.'] },
    });
    expect(
      result('charge', { agrees: false, ampereHours: 3, chargeStartedAt: 1e12, hours: 2 }),
    ).to.deep.include({ ended: null, live: null });
    expect(
      result('wake', {
        way: 'parallel',
        chargerA: 5,
        donorV: 12.7,
        donorAh: 70,
        leadM: 1.5,
        leadMm2: 16,
        inrushA: 60,
        donorTag: 'D-1',
      }),
    ).to.deep.equal({
      kind: 'wake',
      way: 'parallel',
      chargerA: 5,
      donor: { voltageV: 12.7, c20Ah: 70, leadM: 1.5, leadMm2: 16, inrushA: 60, tag: 'D-1' },
    });
    expect(result('wake', { way: 'dumb', chargerA: 2 })).to.deep.equal({
      kind: 'wake',
      way: 'dumb',
      chargerA: 2,
    });
  });

  it('as a sentence stays that sentence, and what is told today passes through', () => {
    const paused = eventNow(
      stored({ type: 'charge.paused', reason: 'Warm: 31.0 °C is 11.0 °C over the room.' }),
      recovery,
    );
    expect(paused.type === 'charge.paused' && whyLine(paused.why, 'F')).to.equal(
      'Warm: 31.0 °C is 11.0 °C over the room.',
    );
    expect(
      eventNow(
        stored({ type: 'charge.stage', said: 'Stage 2 is over: the volts had not risen for 2 h.' }),
        recovery,
      ),
    ).to.deep.equal({
      type: 'charge.stage',
      stage: 1,
      end: { by: 'said', text: 'the volts had not risen for 2 h' },
    });
    expect(
      eventNow(stored({ type: 'job.refused', stepId: 'look', reason: 'The foil is broken.' }), agm),
    ).to.deep.equal({
      type: 'job.refused',
      stepId: 'look',
      why: { by: 'said', text: 'The foil is broken.' },
    });
    expect(tripNow({ key: 'hot', title: 'Hot', sentence: 'Too hot.' })).to.deep.equal({
      key: 'said',
      figures: { title: 'Hot', text: 'Too hot.' },
    });
    expect(tripNow(null)).to.equal(null);
    for (const today of [{ key: 'hot', figures: { temperatureC: 51, limitC: 50 } }])
      expect(tripNow(today)).to.equal(today);
    expect(stageEndNow({ by: 'time', s: 60 })).to.deep.equal({ by: 'time', s: 60 });
    const event: JobEvent = { type: 'charge.halted', why: { by: 'person', reason: 'Smell' } };
    expect(eventNow(event, recovery)).to.equal(event);
  });

  it('in a state and a procedure is told anew as a whole, and twice is as once', () => {
    const job = openJob(agm, jobPlan(PLAIN, DEFAULT_RULES), 1e12, 'ann');
    const run = {
      ...job.state.current!,
      stepId: stepOfKind(agm, 'pack')!.id,
      end: 'done',
      result: { code: 'E-66', lot: 'L' },
    };
    const charge = {
      mode: 'halted',
      place: 1,
      setA: 1,
      setV: 14,
      on: [],
      resumesItself: false,
      live: null,
      reason: 'Hot: 51 °C.',
    };
    const old = {
      ...job.state,
      runs: [run],
      charge,
      refusal: { at: 1, by: 'ann', stepId: 'x', reason: 'Broken.' },
    } as unknown as typeof job.state;
    const now = stateNow(old, agm);
    expect(now.runs[0]!.result).to.deep.equal({ kind: 'pack', code: 'E-66', lot: 'L' });
    expect(now.charge).to.not.have.property('reason');
    expect(now.charge!.why).to.deep.equal({
      by: 'guard',
      trip: { key: 'said', figures: { title: '', text: 'Hot: 51 °C.' } },
    });
    expect(now.refusal).to.deep.equal({
      at: 1,
      by: 'ann',
      stepId: 'x',
      why: { by: 'said', text: 'Broken.' },
    });
    expect(stateNow(now, agm)).to.deep.equal(now);
    const older = {
      ...recovery,
      steps: recovery.steps.map(({ role: _, ...step }) => step as (typeof recovery.steps)[number]),
    };
    expect(procedureNow(older)).to.deep.equal(recovery);
  });
});
