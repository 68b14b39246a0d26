import { expect } from 'chai';
import fc from 'fast-check';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import { chargeStatus } from '../../src/core/job/chargeStatus.ts';
import { decide } from '../../src/core/steps/decide.ts';
import { evolve } from '../../src/core/steps/evolve.ts';
import { handLines, nextHand, urgencyOf } from '../../src/core/watch/hands.ts';
import { standingReadings, runsWith } from '../../src/core/job/job.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { handoverSheet } from '../../src/core/paper/sheet.ts';
import { readyAt, timeline } from '../../src/core/watch/timeline.ts';
import { judge } from '../../src/core/job/verdict.ts';
import {
  deviationsOf,
  Driver,
  HOUR,
  MINUTE,
  PLAIN,
  refusal,
  SIX_VOLT,
  START,
} from '../support/battery.ts';

const words = { timeZone: 'UTC', temperatureUnit: 'C' as const, nameOf: (id: string) => id };

describe('a job from the box to the handover', () => {
  for (const model of [PLAIN, SIX_VOLT]) {
    it(`passes a sound ${model.nominalV} V battery`, () => {
      const d = new Driver(model).to('handover');
      d.send({ type: 'handOver', stepId: 'handover', destination: 'customer' });
      const { state } = d.job;
      expect(state).to.include({ status: 'closed', outcome: 'passed', destination: 'customer' });
      expect(state.deviations).to.deep.equal([]);
      expect(state.verdict).to.include({ outcome: 'pass', socPercent: 100 });
      expect(nextHand(d.job, d.now)).to.equal(null);
    });
  }

  it('is the fold of its events and nothing else', () => {
    const d = new Driver().to('verdict');
    expect(d.log.reduce(evolve, d.first)).to.deep.equal(d.job);
    expect(JSON.parse(JSON.stringify(d.job))).to.deep.equal(d.job);
  });

  it('lets waits end by the clock, at their own moment, without a tap', () => {
    const d = new Driver().to('dwell');
    const due = d.job.state.current?.dueAt ?? 0;
    expect(settle(d.job, due - 1).state.current?.stepId).to.equal('dwell');
    const after = settle(d.job, due + 3 * HOUR);
    expect(after.state.current).to.include({ stepId: 'lift', startedAt: due });
    expect(after.state.runs.at(-1)).to.include({ by: 'clock', endedAt: due });
  });

  it('counts the stand from the fill, not from the look at the bubbles', () => {
    const d = new Driver().to('fill');
    d.usual();
    const filled = d.now;
    d.wait(12 * MINUTE).usual();
    expect(d.job.state.current).to.include({ stepId: 'dwell', dueAt: filled + 30 * MINUTE });
  });

  it('does not end a stand before it has begun, however late the bubbles were looked at', () => {
    const d = new Driver().to('bubbles').wait(2 * HOUR);
    d.usual();
    d.wait(0);
    expect(d.step).to.equal('lift');
    const run = d.job.state.runs.findLast((r) => r.stepId === 'dwell');
    expect(run?.endedAt).to.equal(run?.startedAt);
  });
});

describe('it says no', () => {
  for (const [step, check] of [
    ['identify', 'label'],
    ['identify', 'case'],
    ['identify', 'posts'],
    ['foil', 'foil'],
  ] as const) {
    it(`to a battery that fails “${check}”, for good`, () => {
      const d = new Driver().to(step);
      d.send({ type: 'answerChecks', stepId: step, answers: { [check]: false } });
      expect(d.job.state).to.include({ status: 'refused', outcome: 'refused' });
      const tries: JobCommand[] = [
        { type: 'reopen', stepId: 'identify', reason: 'please' },
        { type: 'skip', stepId: step, reason: 'please' },
        { type: 'leadDecide', decision: 'go-on', reason: 'please' },
        { type: 'answerChecks', stepId: step, answers: { [check]: true } },
        { type: 'resume' },
        { type: 'escalate', reason: 'please' },
      ];
      d.role = 'lead';
      for (const command of tries)
        expect(refusal(() => d.send(command)).message).to.include('No one can override that');
      d.send({ type: 'note', text: 'Set aside' });
      expect(d.job.state.notes).to.have.length(1);
    });
  }

  it('to another pack, every time, and lets only the right one through', () => {
    const d = new Driver().to('pack');
    for (const code of ['E-67', 'e-66', 'E-66X', ''])
      d.send({ type: 'matchPack', stepId: 'pack', code, lot: 'L' });
    expect(d.step).to.equal('pack');
    expect(d.job.state.refusedPacks.map((p) => p.code)).to.deep.equal([
      'E-67',
      'e-66',
      'E-66X',
      '',
    ]);
    expect(
      refusal(() => d.send({ type: 'skip', stepId: 'pack', reason: 'same thing' })).message,
    ).to.include('cannot be skipped');
    d.usual();
    expect(d.step).to.equal('safe');
    expect(
      handoverSheet(d.job, words).steps.find((s) => s.title.startsWith('Match'))?.remark,
    ).to.include('refused E-67');
  });

  it('to a tube that stands still, and to one that is not empty', () => {
    const d = new Driver().to('bubbles');
    const ports = ['bubbling', 'bubbling', 'still', 'tapped', 'bubbling', 'bubbling'];
    expect(
      refusal(() => d.send({ type: 'answerPorts', stepId: 'bubbles', ports })).message,
    ).to.include('Tap that tube two or three times');
    expect(
      refusal(() => d.send({ type: 'answerPorts', stepId: 'bubbles', ports: ports.slice(0, 5) }))
        .message,
    ).to.include('all 6 ports');
    expect(
      refusal(() =>
        d.send({
          type: 'answerPorts',
          stepId: 'bubbles',
          ports: [...ports.slice(0, 5), 'perhaps'],
        }),
      ).code,
    ).to.equal('invalid');
    d.to('lift');
    expect(
      refusal(() =>
        d.send({ type: 'answerPorts', stepId: 'lift', ports: Array(6).fill('left') as string[] }),
      ).message,
    ).to.include('still holds acid');
  });

  it('to unanswered checks, steps out of order and steps that do not exist', () => {
    const d = new Driver();
    expect(
      refusal(() => d.send({ type: 'answerChecks', stepId: 'identify', answers: { label: true } }))
        .message,
    ).to.include('Case whole');
    expect(
      refusal(() => d.send({ type: 'answerChecks', stepId: 'identify', answers: { colour: true } }))
        .message,
    ).to.include('No check');
    expect(
      refusal(() => d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' })).code,
    ).to.equal('out-of-order');
    expect(refusal(() => d.send({ type: 'acknowledge', stepId: 'identify' })).message).to.include(
      'does not work that way',
    );
    expect(refusal(() => d.send({ type: 'acknowledge', stepId: 'dance' })).message).to.include(
      'no step',
    );
    expect(refusal(() => d.send({ type: 'giveVerdict', stepId: 'verdict' })).message).to.include(
      'In hand: Look the battery over',
    );
    expect(
      refusal(() => d.send({ type: 'reopen', stepId: 'load', reason: 'x' })).message,
    ).to.include('behind');
  });

  it('to cold acid unless there is a reason, which is printed', () => {
    const d = new Driver().to('fill');
    expect(refusal(() => d.send({ type: 'confirmDone', stepId: 'fill' })).field).to.equal(
      'temperatureC',
    );
    expect(
      refusal(() => d.send({ type: 'confirmDone', stepId: 'fill', temperatureC: 9 })).message,
    ).to.include('It reads 9 °C');
    d.send({ type: 'confirmDone', stepId: 'fill', temperatureC: 9, reason: 'Store is unheated' });
    expect(deviationsOf(d)).to.deep.equal(['Battery and pack at 9 °C, outside 16 °C to 30 °C']);
    expect(d.job.state.deviations[0]?.reason).to.equal('Store is unheated');
  });
});

describe('waits', () => {
  it('are cut only with a reason, and the sheet says by how much', () => {
    const d = new Driver().to('soak').wait(HOUR);
    d.send({ type: 'cutWait', stepId: 'soak', reason: 'Rescue leaves at noon' });
    expect(d.step).to.equal('charge');
    expect(handoverSheet(d.job, words).deviations[0]).to.deep.include({
      what: 'Let it soak: Wait ended 60 min early',
      reason: 'Rescue leaves at noon',
      by: 'ann',
    });
  });
  it('are not cut while gas clears', () => {
    const d = new Driver().to('clear');
    expect(
      refusal(() => d.send({ type: 'cutWait', stepId: 'clear', reason: 'hurry' })).message,
    ).to.include('cannot be cut');
  });
  it('go on while the job is paused, and nothing else does', () => {
    const d = new Driver().to('soak');
    d.send({ type: 'pause', reason: 'Lunch' });
    expect(
      refusal(() => d.send({ type: 'cutWait', stepId: 'soak', reason: 'x' })).message,
    ).to.include('Paused: Lunch');
    expect(nextHand(d.job, d.now)).to.include({ kind: 'paused', dueAt: null });
    d.wait(2 * HOUR);
    expect(d.step).to.equal('charge');
    d.send({ type: 'resume' });
    expect(refusal(() => d.send({ type: 'resume' })).message).to.include('not paused');
  });
});

describe('the charge', () => {
  it('wants a free place, a sane current and a ceiling it may have', () => {
    const d = new Driver().to('charge');
    d.takenPlaces = [3];
    const start = (change: object) => () =>
      d.send({ type: 'startCharge', stepId: 'charge', place: 1, setA: 1.2, setV: 14.7, ...change });
    expect(refusal(start({ place: 3 })).message).to.include('Place 3 is taken');
    expect(refusal(start({ place: 9 })).message).to.include('places 1 to 8');
    expect(refusal(start({ setV: 14.8 })).message).to.include('above the ceiling of 14.70 V');
    expect(refusal(start({ setA: 2 })).field).to.equal('reason');
    start({ setA: 2, reason: 'Only charger free' })();
    expect(deviationsOf(d)[0]).to.equal('Charged at 2.0 A instead of 1.2 A');
    expect(refusal(start({})).message).to.include('begun already');
  });

  it('asks for a reading each hour and says when it is overdue', () => {
    const d = new Driver().to('charge').startCharge();
    expect(nextHand(d.job, d.now)).to.include({ kind: 'read', dueAt: d.now + HOUR });
    d.wait(HOUR).read(13.6, 1.2, 24);
    const hand = nextHand(d.job, d.now);
    expect(hand?.dueAt).to.equal(d.now + HOUR);
    if (!hand) throw new Error('No hand.');
    expect(
      [-3, -1, 0, 0.4, 0.6].map((h) => urgencyOf(hand, (hand.dueAt ?? 0) + h * HOUR)),
    ).to.deep.equal(['waiting', 'soon', 'now', 'now', 'overdue']);
  });

  it('ends when the numbers agree; before that only with a reason', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(13.6, 1.2, 24);
    const early = refusal(() => d.send({ type: 'endCharge', stepId: 'charge' }));
    expect(early.message).to.include('do not agree yet');
    d.send({ type: 'endCharge', stepId: 'charge', reason: 'Charger says full' });
    expect(deviationsOf(d)[0]).to.include('before the numbers agreed');
    expect(d.job.state.charge?.mode).to.equal('ended');
    expect(runsWith(d.job.state, 'charge').at(-1)?.result.ampereHours).to.be.closeTo(1.2, 1e-9);
  });

  it('pauses by itself when warm, resumes when cool, and does not count the pause', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(13.9, 1.2, 31);
    expect(d.job.state.charge?.mode).to.equal('paused');
    expect(nextHand(d.job, d.now)?.act).to.equal('Resume');
    d.wait(HOUR);
    expect(
      refusal(() => d.send({ type: 'resumeCharge', stepId: 'charge', temperatureC: 28 })).message,
    ).to.include('not cool yet');
    d.send({ type: 'resumeCharge', stepId: 'charge', temperatureC: 24 });
    d.wait(HOUR).read(14.2, 1.2, 25);
    expect(chargeStatus(d.job, d.now).ampereHours).to.be.closeTo(2.4, 1e-9);
    expect(
      timeline(d.job, d.now).filter((s) => s.kind === 'charge' && s.phase === 'done'),
    ).to.have.length(2);
  });

  it('stops when hot, and only a lead lets it go on', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(14.1, 1.2, 52);
    expect(d.job.state.charge?.mode).to.equal('halted');
    expect(nextHand(d.job, d.now)?.kind).to.equal('stop');
    expect(
      refusal(() => d.send({ type: 'endCharge', stepId: 'charge', reason: 'x' })).message,
    ).to.include('A guard stopped it');
    const resume: JobCommand = { type: 'resumeCharge', stepId: 'charge', temperatureC: 22 };
    d.wait(3 * HOUR);
    expect(refusal(() => d.send(resume)).message).to.include('Only a lead');
    d.role = 'lead';
    d.send(resume);
    expect(d.job.state.charge?.mode).to.equal('running');
  });

  it('is let off a stop that was a slip of the pen', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(14.1, 1.2, 62, true);
    expect(d.job.state.charge?.mode).to.equal('halted');
    const readingId = d.job.state.readings[0]?.id ?? '';
    d.send({
      type: 'correct',
      readingId,
      values: { voltageV: 14.1, currentA: 1.2, temperatureC: 26 },
    });
    expect(d.job.state.charge?.mode).to.equal('paused');
  });

  it('warns of a lead that is off and goes on', () => {
    const d = new Driver().to('charge').startCharge();
    expect(
      d
        .wait(HOUR)
        .read(12.7, 0, 21)
        .map((e) => e.type),
    ).to.include('charge.warned');
    expect(d.job.state.charge?.mode).to.equal('running');
  });
});

describe('readings', () => {
  const resting = () => new Driver().to('rest');
  it('taken before the rest is over are kept, marked and never judged', () => {
    const d = resting().wait(20 * MINUTE);
    d.send({ type: 'read', role: 'rest', values: { voltageV: 12.95 } });
    expect(d.step).to.equal('rest');
    expect(d.job.state.readings.at(-1)?.marks).to.deep.equal(['early']);
    expect(judge(d.job)).to.deep.include({ outcome: 'incomplete', restV: null });
    d.wait(HOUR);
    expect(d.step).to.equal('ocv');
    d.send({ type: 'read', role: 'rest', values: { voltageV: 12.82 } });
    expect(d.step).to.equal('load');
    expect(judge(d.job).restV).to.equal(12.82);
    expect(handoverSheet(d.job, words).readings.map((r) => r.remark)).to.include(
      'early, not judged',
    );
  });
  it('stay early after a cut rest, until the hour it would have ended', () => {
    const d = resting().wait(20 * MINUTE);
    d.send({ type: 'cutWait', stepId: 'rest', reason: 'Queue' });
    d.send({ type: 'read', role: 'rest', values: { voltageV: 12.9 } });
    expect(d.step).to.equal('ocv');
    d.wait(40 * MINUTE).send({ type: 'read', role: 'rest', values: { voltageV: 12.84 } });
    expect(d.step).to.equal('load');
  });
  it('too high to be rested are surface charge and not judged', () => {
    const d = new Driver().to('ocv');
    d.send({ type: 'read', role: 'rest', values: { voltageV: 13.05 } });
    expect(d.job.state.readings.at(-1)?.marks).to.deep.equal(['surface']);
    expect(d.step).to.equal('ocv');
  });
  it('that are unlikely are asked about once, then kept as confirmed', () => {
    const d = new Driver().to('ocv');
    const command: JobCommand = { type: 'read', role: 'rest', values: { voltageV: 6.1 } };
    expect(refusal(() => d.send(command)).code).to.equal('ask');
    d.send({ ...command, sure: true });
    expect(d.job.state.readings.at(-1)).to.deep.include({ marks: ['confirmed'] });
  });
  it('are corrected by superseding; the old value stays', () => {
    const d = new Driver().to('charge').startCharge();
    d.wait(HOUR).read(13.6, 1.2, 24);
    const old = d.job.state.readings[0]?.id ?? '';
    d.wait(MINUTE).send({
      type: 'correct',
      readingId: old,
      values: { voltageV: 13.9, currentA: 1.2, temperatureC: 24 },
    });
    const [first, second] = d.job.state.readings;
    expect(first?.supersededBy).to.equal(second?.id);
    expect(second).to.include({ supersedes: old, at: first?.at, enteredAt: d.now });
    expect(standingReadings(d.job.state).map((r) => r.values.voltageV)).to.deep.equal([13.9]);
    expect(
      refusal(() =>
        d.send({
          type: 'correct',
          readingId: old,
          values: { voltageV: 1, currentA: 1, temperatureC: 1 },
        }),
      ).message,
    ).to.include('corrected already');
    expect(
      refusal(() => d.send({ type: 'correct', readingId: 'none', values: { voltageV: 13 } }))
        .message,
    ).to.include('no such reading');
  });
  it('a job holds what three months of hourly readings are, and no more', () => {
    const d = new Driver().to('verdict');
    const [one] = d.job.state.readings;
    const full = {
      ...d.job,
      state: { ...d.job.state, readings: Array.from({ length: 2200 }, () => one!) },
    };
    const spot: JobCommand = { type: 'read', role: 'spot', values: { voltageV: 12.7 } };
    const context = {
      now: d.now,
      by: { id: 'ann', role: 'technician' as const },
      commandId: 'x',
      places: 8,
      takenPlaces: [],
    };
    expect(() => decide(full, spot, context)).to.throw('go on in another');
    expect(decide(d.job, spot, context)).to.have.length(1);
  });

  it('are refused from the future, from before the job, and with fields that do not belong', () => {
    const d = new Driver().to('charge').startCharge().wait(HOUR);
    const values = { voltageV: 13.6, currentA: 1.2, temperatureC: 24 };
    const read = (change: object) =>
      refusal(() => d.send({ type: 'read', role: 'charge', values, ...change })).message;
    expect(read({ takenAt: d.now + 10 * MINUTE })).to.include('still to come');
    expect(read({ takenAt: START - MINUTE })).to.include('before the job');
    expect(read({ takenAt: d.now - 2 * HOUR })).to.include('before the charge');
    expect(read({ values: { voltageV: 13.6 } })).to.include('Type the amps');
    expect(read({ values: { ...values, massG: 4000 } })).to.include('does not belong');
    expect(read({ values: { ...values, specificGravity: 1.2 } })).to.include('no hydrometer');
    expect(read({ values: { ...values, voltageV: 400 } })).to.include('between -60 and 60');
    expect(read({ role: 'load', values: { voltageV: 10, temperatureC: 20 } })).to.include(
      'not the step in hand',
    );
    expect(read({ role: 'rest', values: { voltageV: 12.8 } })).to.include('comes after the charge');
    expect(read({ role: 'spot', values: {} })).to.include('at least one value');
    // A page whose clock runs a little ahead is not from the future.
    d.send({ type: 'read', role: 'charge', values, takenAt: d.now + MINUTE });
    expect(d.job.state.readings.at(-1)?.at).to.equal(d.now);
  });
});

describe('the verdict', () => {
  const judged = (
    restV: number,
    loadV: number,
    temperatureC = 20,
    rules = DEFAULT_RULES,
    fillSg = 1.28,
  ) => {
    const d = new Driver({ ...PLAIN, fillSg }, rules).to('ocv');
    d.send({ type: 'read', role: 'rest', values: { voltageV: restV } });
    d.send({ type: 'read', role: 'load', values: { voltageV: loadV, temperatureC } });
    return d;
  };
  it('passes exactly on the line, and not a hundredth below', () => {
    // Filled weakly enough to be full at the line.
    expect(judge(judged(12.6, 10.2, 20, DEFAULT_RULES, 1.255).job).outcome).to.equal('pass');
    expect(judge(judged(12.59, 10.2, 20, DEFAULT_RULES, 1.255).job).outcome).to.equal('repeat');
    const strict = { ...DEFAULT_RULES, schools: { ...DEFAULT_SCHOOLS, passLine: 'strict' } };
    expect(judge(judged(12.8, 10.2, 20, strict).job).outcome).to.equal('pass');
    expect(judge(judged(12.79, 10.2, 20, strict).job).outcome).to.equal('repeat');
  });
  it('over the line and under 90 % by its own acid wants more charge; the lead may let it go, and the sheet says so', () => {
    const d = judged(12.7, 10.9, 20, DEFAULT_RULES, 1.32);
    const verdict = judge(d.job);
    expect(verdict).to.include({ outcome: 'repeat', socBy: 'acid' });
    expect(verdict.socPercent).to.be.within(60, 85);
    expect(verdict.reasons.join(' '))
      .to.include('By the acid it was filled with (SG 1.320) it holds about')
      .and.include('ask the lead to let it go');
    d.wait(MINUTE).send({ type: 'escalate', reason: 'Wanted today' });
    d.role = 'lead';
    d.send({ type: 'leadDecide', decision: 'go-on', reason: 'It is charged in the machine' });
    expect(judge(d.job).outcome).to.equal('pass');
    d.to('handover').send({ type: 'handOver', stepId: 'handover', destination: 'customer' });
    const sheet = handoverSheet(d.job, words);
    expect(sheet.reasons.join(' ')).to.include('The lead lets it go as it is');
    expect(sheet.headline[0]?.label).to.include('by its own acid');
    // Short of charge is never a claim, however often.
    const again = judged(12.7, 10.9, 20, DEFAULT_RULES, 1.32);
    for (let attempt = 1; attempt <= 3; attempt++) {
      expect(judge(again.job).outcome).to.equal('repeat');
      again.send({ type: 'giveVerdict', stepId: 'verdict' });
      expect(again.job.state.status).to.equal('running');
      again.to('ocv').send({ type: 'read', role: 'rest', values: { voltageV: 12.7 } });
      again.send({ type: 'read', role: 'load', values: { voltageV: 10.9, temperatureC: 20 } });
    }
    // Above 90 % nobody has to be asked.
    expect(judge(judged(12.92, 10.9, 20, DEFAULT_RULES, 1.32).job).outcome).to.equal('pass');
  });
  it('judges the load test at its temperature', () => {
    expect(judge(judged(12.8, 9.6, 21).job).outcome).to.equal('pass');
    expect(judge(judged(12.8, 9.59, 21).job).outcome).to.equal('repeat');
    expect(judge(judged(12.8, 9.4, 10).job).outcome).to.equal('pass');
  });
  it('repeats once, counting, then goes to the lead; the strip is pressed once only', () => {
    const d = judged(12.4, 9.2);
    d.send({ type: 'giveVerdict', stepId: 'verdict' });
    expect(d.job.state).to.include({ attempt: 2 });
    expect(d.step).to.equal('charge');
    d.charge();
    d.usual();
    expect(d.step).to.equal('rest');
    d.to('ocv').send({ type: 'read', role: 'rest', values: { voltageV: 12.45 } });
    d.send({ type: 'read', role: 'load', values: { voltageV: 9.2, temperatureC: 20 } });
    d.send({ type: 'giveVerdict', stepId: 'verdict' });
    expect(d.job.state.status).to.equal('with-lead');
    const decide = (decision: 'go-on' | 'claim' | 'charge-again'): JobCommand => ({
      type: 'leadDecide',
      decision,
      reason: 'Twice under',
    });
    expect(refusal(() => d.send(decide('claim'))).message).to.include('Only a lead');
    expect(refusal(() => d.send({ type: 'giveVerdict', stepId: 'verdict' })).message).to.include(
      'The lead has this battery',
    );
    d.role = 'lead';
    expect(refusal(() => d.send(decide('go-on'))).message).to.include('cannot simply go on');
    d.send(decide('charge-again'));
    expect(d.job.state).to.include({ attempt: 3, status: 'running' });
  });
  it('gives nothing without a rested reading and a load test', () => {
    const d = new Driver().to('ocv');
    d.send({ type: 'skip', stepId: 'ocv', reason: 'Meter away' });
    d.send({ type: 'skip', stepId: 'load', reason: 'Tester away' });
    expect(refusal(() => d.send({ type: 'giveVerdict', stepId: 'verdict' })).message).to.include(
      'No rest voltage was measured. Neither a load test',
    );
    d.send({ type: 'reopen', stepId: 'ocv', reason: 'Meter is back' });
    expect(d.step).to.equal('ocv');
    expect(deviationsOf(d)).to.deep.equal(['Step skipped', 'Step skipped', 'Step reopened']);
  });
  it('says on the sheet when a later correction would have failed it', () => {
    const d = judged(12.62, 10.2, 20, DEFAULT_RULES, 1.255);
    const rest = d.job.state.readings.find((r) => r.role === 'rest')?.id ?? '';
    d.to('handover').send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
    const late = { type: 'correct', readingId: rest, values: { voltageV: 12.26 } } as const;
    expect(refusal(() => d.send(late)).message).to.include('Say why it is corrected now');
    d.send({ ...late, reason: 'The meter was out of date' });
    expect(deviationsOf(d).at(-1)).to.equal('Volts corrected after it was handed over');
    expect(handoverSheet(d.job, words).reasons.at(-1)).to.include('corrected after this verdict');
    expect(handoverSheet(d.job, words).verdict).to.equal('Passed');
  });
});

describe('a refusal', () => {
  const refused = () => {
    const d = new Driver();
    const step = d.job.procedure.steps.find((x) => x.kind === 'checks')!;
    d.to(step.id);
    const checks = step.kind === 'checks' ? step.checks : [];
    d.send({
      type: 'answerChecks',
      stepId: step.id,
      answers: Object.fromEntries(checks.map((c) => [c.id, !c.refusal])),
    });
    expect(d.job.state.status).to.equal('refused');
    return { d, stepId: step.id };
  };
  const back = { type: 'takeBackRefusal', reason: 'Tapped beside it' } as const;

  it('tapped by mistake is put right by who made it, on the record, and goes on where it was', () => {
    const { d, stepId } = refused();
    d.wait(9 * MINUTE).send(back);
    expect(d.job.state).to.include({
      status: 'running',
      refusal: null,
      outcome: null,
      closedAt: null,
    });
    expect(d.step).to.equal(stepId);
    expect(deviationsOf(d)).to.deep.equal(['Refused by mistake, and put right']);
    d.usual();
    expect(d.step).to.not.equal(stepId);
    expect(refusal(() => d.send(back)).message).to.equal('It was not refused.');
  });
  it('stands after ten minutes, and for everybody else but a lead', () => {
    const late = refused().d.wait(11 * MINUTE);
    expect(refusal(() => late.send(back)).message).to.include('This one stands');
    const { d } = refused();
    d.personId = 'bea';
    expect(refusal(() => d.send(back)).code).to.equal('forbidden');
    d.role = 'lead';
    d.send(back);
    expect(d.job.state.status).to.equal('running');
  });
});

describe('handing to the lead', () => {
  it('stops the current and everything else until the decision', () => {
    const d = new Driver().to('charge').startCharge();
    d.send({ type: 'escalate', reason: 'Cell 3 bulges' });
    expect(d.job.state.charge?.mode).to.equal('paused');
    expect(nextHand(d.job, d.now)?.kind).to.equal('lead');
    d.role = 'lead';
    d.send({ type: 'leadDecide', decision: 'recycle', reason: 'Case gave way' });
    expect(d.job.state).to.include({ status: 'closed', outcome: 'recycle' });
  });
});

describe('the ribbon and the hands list', () => {
  it('show the past as it was: late hands, then the rest to come', () => {
    const d = new Driver().to('lift').wait(2 * HOUR);
    const kinds = timeline(d.job, d.now).map((s) => `${s.phase} ${s.kind}`);
    expect(kinds).to.include('done late');
    expect(kinds.at(-1)).to.equal('coming hands');
    expect(readyAt(d.job, d.now)).to.be.greaterThan(d.now + 7 * HOUR);
  });
  it('never run backwards, whatever is done', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constant('usual'), fc.integer({ min: 1, max: 300 })), {
          maxLength: 40,
        }),
        (acts) => {
          const d = new Driver();
          for (const act of acts) {
            if (typeof act === 'number') d.wait(act * MINUTE);
            else if (d.step === 'charge') d.charge();
            else if (!['ocv', 'load', 'verdict', 'handover', ''].includes(d.step)) d.usual();
            const job = settle(d.job, d.now);
            const segments = timeline(job, d.now);
            for (const s of segments) expect(s.to).to.be.at.least(s.from);
            for (const s of segments.filter((x) => x.phase === 'done'))
              expect(s.to).to.be.at.most(d.now);
            for (const s of segments.filter((x) => x.phase === 'coming'))
              expect(s.from).to.be.at.least(d.now);
            expect(d.log.reduce(evolve, d.first)).to.deep.equal(d.job);
          }
        },
      ),
      { numRuns: 60 },
    );
  });
  it('put what is hot first, then what is late, and join readings into one walk', () => {
    const reading = () =>
      new Driver()
        .to('charge')
        .startCharge()
        .wait(HOUR + 5 * MINUTE);
    const [a, b] = [reading(), reading()];
    const hot = new Driver().to('charge').startCharge();
    hot.wait(HOUR).read(14, 1.2, 53);
    hot.wait(5 * MINUTE);
    const now = a.now;
    const lines = handLines(
      [
        { job: a.job, tag: 'A' },
        { job: b.job, tag: 'B' },
        { job: hot.job, tag: 'HOT' },
      ],
      now,
    );
    expect(lines.map((l) => l.jobs.map((j) => j.tag).join('+'))).to.deep.equal(['HOT', 'A+B']);
  });
});
