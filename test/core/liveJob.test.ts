import { expect } from 'chai';
import { chargeStatus } from '../../src/core/job/chargeStatus.ts';
import type { JobEvent } from '../../src/core/job/events.ts';
import type { LiveStart } from '../../src/core/job/chargeState.ts';
import { evolve } from '../../src/core/steps/evolve.ts';
import { nextHand, urgencyOf } from '../../src/core/watch/hands.ts';
import { chargeToCome, type Job, liveChargesOf } from '../../src/core/job/job.ts';
import { handoverSheet } from '../../src/core/paper/sheet.ts';
import { INSTRUMENT, signerName } from '../../src/core/job/signers.ts';
import { readyAt, timeline } from '../../src/core/watch/timeline.ts';
import { Driver, HOUR, MINUTE } from '../support/battery.ts';
import { trip } from '../../src/core/charging/trips.ts';

const LIVE: LiveStart = {
  chargeId: 'c1',
  planName: 'Slow',
  sentences: ['Charge at 1.20 A until it reaches 14.70 V.', 'Hold 14.70 V for 2.0 h.'],
  expectedS: 3 * 3600,
};

/** A job whose charge an instrument runs, its events told as the server tells them. */
class LiveJob {
  job: Job;
  now: number;
  constructor() {
    const d = new Driver().to('charge');
    this.job = d.job;
    this.now = d.now;
    this.tell({ type: 'charge.started', place: 2, setA: 1.2, setV: 14.7, live: LIVE });
  }

  tell(event: JobEvent, by = INSTRUMENT): this {
    this.job = evolve(this.job, { at: this.now, by, event });
    return this;
  }

  after(ms: number): this {
    this.now += ms;
    return this;
  }

  get hand() {
    return nextHand(this.job, this.now);
  }
}

describe('a job whose charge an instrument runs', () => {
  it('wants no hands while it runs, and says when it ends by itself', () => {
    const t = new LiveJob().after(HOUR);
    expect(t.hand).to.deep.include({
      kind: 'wait',
      title: 'The charge ends by itself',
      dueAt: t.now + 2 * HOUR,
    });
    expect(urgencyOf(t.hand!, t.now)).to.equal('waiting');
    expect(chargeStatus(t.job, t.now).nextReadingAt).to.equal(null);
    const coming = timeline(t.job, t.now).find((s) => s.kind === 'charge' && s.phase === 'coming')!;
    expect(coming.to).to.equal(t.now + 2 * HOUR);
  });

  it('cooling it wants nobody; asking it wants an answer; stopped it comes first', () => {
    const cooling = new LiveJob().after(HOUR).tell({
      type: 'charge.paused',
      why: { by: 'guard', trip: trip('warm', { temperatureC: 31, overRoomC: 11 }) },
      resumesItself: true,
    });
    expect(cooling.hand).to.deep.include({ kind: 'wait', dueAt: null });
    expect(cooling.hand!.title).to.contain('goes on by itself');
    cooling.after(30 * MINUTE).tell({ type: 'charge.resumed', temperatureC: 24 });
    expect(cooling.job.state.charge).to.include({ mode: 'running', resumesItself: false });

    const asking = new LiveJob().after(HOUR).tell({
      type: 'charge.paused',
      why: { by: 'guard', trip: trip('no-current', { askedA: 1.2 }) },
    });
    expect(asking.hand).to.deep.include({
      kind: 'act',
      title: 'No current: look, then answer',
      act: 'Answer',
    });
    expect(urgencyOf(asking.hand!, asking.now)).to.equal('now');
    const stopped = new LiveJob().after(HOUR).tell({
      type: 'charge.halted',
      why: { by: 'guard', trip: trip('heating-fast', { riseC: 6 }) },
    });
    expect(stopped.hand).to.deep.include({
      kind: 'stop',
      title: 'Heating fast: the charger is off',
    });
  });

  it('a pause moves the end; hours with current off do not count', () => {
    const t = new LiveJob()
      .after(HOUR)
      .tell({ type: 'charge.paused', why: { by: 'person', reason: 'x' } })
      .after(2 * HOUR)
      .tell({ type: 'charge.resumed', temperatureC: 21 });
    expect(chargeStatus(t.job, t.now).expectedEndAt).to.equal(t.now + 2 * HOUR);
    const ready = readyAt(t.job, t.now)!;
    expect(ready).to.be.greaterThan(t.now + 3 * HOUR);
  });

  it('hourly readings that look full do not end what the plan still runs', () => {
    const t = new LiveJob();
    for (let i = 0; i < 3; i++) {
      t.after(HOUR / 2).tell({
        type: 'reading.taken',
        reading: {
          id: `r${i}`,
          at: t.now,
          enteredAt: t.now,
          by: INSTRUMENT,
          role: 'charge',
          stepId: 'charge',
          attempt: 1,
          values: { voltageV: 14.7, currentA: 0.1, temperatureC: 22 },
          marks: [],
          supersedes: null,
          supersededBy: null,
        },
      });
    }
    expect(chargeStatus(t.job, t.now).progress.agrees).to.equal(true);
    expect(t.hand!.title).to.equal('The charge ends by itself');
    expect(
      timeline(t.job, t.now).some((s) => s.kind === 'charge' && s.phase === 'coming'),
    ).to.equal(true);
  });

  it('the sheet says the plan in its sentences, and how it ended', () => {
    const t = new LiveJob().after(3 * HOUR);
    const { expectedS: _, ...live } = LIVE;
    const result = {
      agrees: true,
      ampereHours: 2.2,
      hours: 3,
      chargeStartedAt: t.now - 3 * HOUR,
      ended: { by: 'tail', currentA: 0.2, forS: 3600 } as const,
      live,
    };
    t.tell({ type: 'step.done', stepId: 'charge', result: { kind: 'charge', ...result } });
    const words = {
      timeZone: 'UTC',
      temperatureUnit: 'C' as const,
      nameOf: (id: string) => signerName(id, [{ id: 'ann', name: 'Ann' }]),
    };
    const sheet = handoverSheet(t.job, words);
    expect(sheet.charges).to.deep.equal([
      {
        title: 'Charge by plan: Slow',
        said: LIVE.sentences,
        ended: 'It ended when the current had tailed off to 0.20 A and stood there for 1 h.',
      },
    ]);
    expect(sheet.steps.at(-1)).to.include({ by: 'the instrument' });
    expect(liveChargesOf(t.job.state)).to.deep.equal([{ chargeId: 'c1', planName: 'Slow' }]);
    const byHand = handoverSheet(new Driver().to('verdict').job, words);
    expect(byHand.charges).to.deep.equal([]);
    expect(signerName('clock', [])).to.equal('the clock');
  });

  it('a plan is chosen before the charge, fits the battery, and stays once it has begun', () => {
    const d = new Driver().to('charge');
    const plan = {
      id: 'p',
      name: 'P',
      plain: '',
      kinds: ['agm' as const],
      mostS: 40_000,
      stages: [
        { do: 'current' as const, cRate: 0.05, until: [{ when: 'volts' as const, perCell: 2.4 }] },
      ],
    };
    expect(d.send({ type: 'planCharge', stepId: 'charge', plan })).to.deep.equal([
      { type: 'charge.planned', plan },
    ]);
    expect(d.job.state.chargePlan?.name).to.equal('P');
    expect(() =>
      d.send({ type: 'planCharge', stepId: 'charge', plan: { ...plan, kinds: ['gel'] } }),
    ).to.throw('not for AGM');
    expect(() => d.send({ type: 'planCharge', stepId: 'fill', plan })).to.throw(
      'not the charge of this job',
    );
    const only = {
      ...plan,
      stages: [
        {
          do: 'discharge' as const,
          cRate: 0.05,
          perCell: 1.75,
          until: [{ when: 'time' as const, s: 3600 }],
        },
      ],
    };
    expect(() => d.send({ type: 'planCharge', stepId: 'charge', plan: only })).to.throw(
      'never charges',
    );
    expect(chargeToCome(d.job.procedure, d.job.state)).to.equal('charge');
    d.startCharge();
    expect(chargeToCome(d.job.procedure, d.job.state)).to.equal(null);
    expect(() => d.send({ type: 'planCharge', stepId: 'charge', plan })).to.throw('keeps its plan');
  });
});
