import { expect } from 'chai';
import fc from 'fast-check';
import { type JobCommand, Refused } from '../../src/core/procedures/commands.ts';
import { evolve } from '../../src/core/procedures/evolve.ts';
import { nextHand } from '../../src/core/procedures/hands.ts';
import { handoverSheet } from '../../src/core/procedures/sheet.ts';
import { judge } from '../../src/core/procedures/verdict.ts';
import { Driver, MINUTE } from '../support/battery.ts';

/** Anything a hasty, confused or malicious page might send, sensible or not. */
const stepId = fc.constantFrom(
  'identify',
  'foil',
  'pack',
  'safe',
  'fill',
  'bubbles',
  'dwell',
  'lift',
  'soak',
  'charge',
  'clear',
  'close',
  'rest',
  'ocv',
  'load',
  'verdict',
  'handover',
  'x',
);
const reason = fc.constantFrom('because', 'hurry');
const volts = fc.double({ min: 5, max: 16, noNaN: true });
const celsius = fc.double({ min: -10, max: 60, noNaN: true });
const values = fc.record({ voltageV: volts, currentA: fc.double({ min: 0, max: 3, noNaN: true }), temperatureC: celsius });
const anyCommand: fc.Arbitrary<JobCommand> = fc.oneof(
  fc.record({ type: fc.constant('acknowledge' as const), stepId }),
  fc.record({ type: fc.constant('answerChecks' as const), stepId, answers: fc.dictionary(fc.constantFrom('label', 'case', 'posts', 'foil'), fc.boolean()) }),
  fc.record({ type: fc.constant('matchPack' as const), stepId, code: fc.constantFrom('E-66', 'E-67'), lot: fc.constant('L') }),
  fc.record({ type: fc.constant('confirmDone' as const), stepId, temperatureC: celsius, reason }),
  fc.record({
    type: fc.constant('answerPorts' as const),
    stepId,
    ports: fc.array(fc.constantFrom('bubbling', 'tapped', 'still', 'empty', 'left'), { minLength: 5, maxLength: 7 }),
  }),
  fc.record({ type: fc.constant('cutWait' as const), stepId, reason }),
  fc.record({ type: fc.constant('skip' as const), stepId, reason }),
  fc.record({ type: fc.constant('reopen' as const), stepId, reason }),
  fc.record({
    type: fc.constant('startCharge' as const),
    stepId,
    place: fc.integer({ min: 1, max: 9 }),
    setA: fc.constantFrom(1.2, 3),
    setV: fc.constantFrom(14.7, 15),
    reason,
  }),
  fc.record({ type: fc.constant('pauseCharge' as const), stepId, reason }),
  fc.record({ type: fc.constant('resumeCharge' as const), stepId, temperatureC: celsius }),
  fc.record({ type: fc.constant('endCharge' as const), stepId, reason }),
  fc.record({ type: fc.constant('read' as const), role: fc.constant('charge' as const), values, sure: fc.boolean() }),
  fc.record({ type: fc.constant('read' as const), role: fc.constant('rest' as const), values: fc.record({ voltageV: volts }), sure: fc.constant(true) }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constant('load' as const),
    values: fc.record({ voltageV: volts, temperatureC: celsius }),
    sure: fc.constant(true),
  }),
  fc.record({ type: fc.constant('correct' as const), readingId: fc.integer({ min: 1, max: 60 }).map((n) => `c${n}`), values, sure: fc.constant(true) }),
  fc.record({ type: fc.constant('giveVerdict' as const), stepId }),
  fc.record({ type: fc.constant('handOver' as const), stepId, destination: fc.constantFrom('customer' as const, 'shelf' as const) }),
  fc.record({ type: fc.constant('pause' as const), reason }),
  fc.record({ type: fc.constant('resume' as const) }),
  fc.record({ type: fc.constant('escalate' as const), reason }),
  fc.record({ type: fc.constant('leadDecide' as const), decision: fc.constantFrom('go-on' as const, 'charge-again' as const, 'claim' as const), reason }),
);
const act = fc.oneof(
  { weight: 5, arbitrary: fc.constant({ kind: 'usual' as const }) },
  { weight: 4, arbitrary: anyCommand.map((command) => ({ kind: 'command' as const, command })) },
  { weight: 2, arbitrary: fc.integer({ min: 1, max: 240 }).map((minutes) => ({ kind: 'wait' as const, minutes })) },
);

function checkSound(d: Driver): void {
  const { job } = d;
  const { state } = job;
  expect(d.log.reduce(evolve, d.first)).to.deep.equal(job);
  expect(['running', 'with-lead'].includes(state.status)).to.equal(state.closedAt === null);
  if (state.status === 'refused') expect(nextHand(job, d.now)).to.equal(null);
  if (state.outcome === 'passed') {
    // Nothing passes without a rested reading on or over the line and a load test that held.
    const given = state.verdict;
    expect(given?.outcome).to.equal('pass');
    expect(given?.restV ?? 0).to.be.at.least(job.plan.figures.passV.value);
    expect(state.runs.some((r) => r.stepId === 'pack' && r.result?.['code'] === 'E-66')).to.equal(true);
    expect(state.runs.filter((r) => r.stepId === 'foil' && r.end === 'done')).to.have.length.at.least(1);
  }
  for (const r of state.readings) {
    if (r.supersedes) expect(state.readings.find((o) => o.id === r.supersedes)?.supersededBy).to.equal(r.id);
    expect(r.at).to.be.at.most(r.enteredAt);
  }
  const on = state.charge?.on ?? [];
  on.forEach((stretch, i) => {
    expect(stretch.to === null ? i === on.length - 1 : stretch.to >= stretch.from).to.equal(true);
  });
  expect(on.at(-1)?.to === null).to.equal(state.charge?.mode === 'running');
  const shortened = state.runs.filter((r) => r.end === 'cut' || r.end === 'skipped').length;
  expect(state.deviations.length).to.be.at.least(shortened);
  expect(judge(job).reasons.length).to.be.greaterThan(0);
  handoverSheet(job, { timeZone: 'UTC', temperatureUnit: 'C', nameOf: (id) => id });
}

describe('whatever is sent to a job', () => {
  it('it stays sound, and what is refused stays refused', () => {
    fc.assert(
      fc.property(fc.array(act, { minLength: 5, maxLength: 60 }), fc.boolean(), (acts, lead) => {
        const d = new Driver();
        d.role = lead ? 'lead' : 'technician';
        let refused = false;
        for (const a of acts) {
          try {
            if (a.kind === 'wait') d.wait(a.minutes * MINUTE);
            else if (a.kind === 'command') d.send(a.command);
            else if (d.step === 'charge' && !d.job.state.charge) d.charge();
            else if (!['charge', 'ocv', 'load', 'verdict', 'handover', ''].includes(d.step)) d.usual();
          } catch (error) {
            if (!(error instanceof Refused)) throw error;
            expect(error.message).to.match(/[.?]$/);
          }
          if (refused) expect(d.job.state.status).to.equal('refused');
          refused = d.job.state.status === 'refused';
          checkSound(d);
        }
      }),
      { numRuns: 150 },
    );
  });
});
