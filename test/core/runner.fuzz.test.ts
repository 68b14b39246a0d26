import { expect } from 'chai';
import fc from 'fast-check';
import { leadAcidKind } from '../../src/core/batteries/kinds.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { standingReadings, runsWith } from '../../src/core/job/job.ts';
import { PURPOSE_WORDS, type Purpose, stepById } from '../../src/core/plan/procedure.ts';
import { type JobCommand, Refused } from '../../src/core/job/commands.ts';
import { evolve } from '../../src/core/steps/evolve.ts';
import { nextHand } from '../../src/core/watch/hands.ts';
import { handoverSheet } from '../../src/core/paper/sheet.ts';
import { judge } from '../../src/core/job/verdict.ts';
import { timeline } from '../../src/core/watch/timeline.ts';
import { stripLook } from '../../src/web/drawings/portState.ts';
import { BY_KIND, Driver, MINUTE } from '../support/battery.ts';
import { anyCommand, HERE, recoveryCommand } from '../support/commands.ts';

const MODELS = Object.values(BY_KIND);
const PURPOSES = Object.keys(PURPOSE_WORDS) as Purpose[];

const act = fc.oneof(
  { weight: 5, arbitrary: fc.constant({ kind: 'usual' as const }) },
  { weight: 4, arbitrary: anyCommand.map((command) => ({ kind: 'command' as const, command })) },
  {
    weight: 2,
    arbitrary: fc
      .integer({ min: 1, max: 240 })
      .map((minutes) => ({ kind: 'wait' as const, minutes })),
  },
);

function checkSound(d: Driver): void {
  const { job } = d;
  const { state } = job;
  expect(d.log.reduce(evolve, d.first)).to.deep.equal(job);
  expect(['running', 'with-lead'].includes(state.status)).to.equal(state.closedAt === null);
  if (state.status === 'refused') expect(nextHand(job, d.now)).to.equal(null);
  if (state.outcome === 'passed' && state.recovery) {
    // Nothing recovered goes back into service without a capacity test and a hold.
    expect(state.recovery.tests.length).to.be.greaterThan(0);
    expect(standingReadings(state, 'hold').length).to.be.greaterThan(0);
  } else if (state.outcome === 'passed') {
    // Nothing passes without a rested reading on or over the line and a load test that held.
    const given = state.verdict;
    expect(given?.outcome).to.equal('pass');
    expect(given?.restV ?? 0).to.be.at.least(job.plan.figures.passV.value);
    const went = (id: string) => state.runs.some((r) => r.stepId === id && r.end === 'done');
    for (const step of job.procedure.steps)
      // What may not be skipped was done: matches, refusals, the place made safe, the charge.
      if (!step.skippable && !step.once && step.id !== 'handover')
        expect(went(step.id), step.id).to.equal(true);
    if (job.procedure.id === 'commission-agm-dry')
      expect(runsWith(state, 'pack').some((r) => r.result.code === 'E-66')).to.equal(true);
  }
  for (const r of state.readings) {
    if (r.supersedes)
      expect(state.readings.find((o) => o.id === r.supersedes)?.supersededBy).to.equal(r.id);
    expect(r.at).to.be.at.most(r.enteredAt);
  }
  const on = state.charge?.on ?? [];
  on.forEach((stretch, i) => {
    expect(stretch.to === null ? i === on.length - 1 : stretch.to >= stretch.from).to.equal(true);
  });
  expect(on.at(-1)?.to === null).to.equal(state.charge?.mode === 'running');
  // Acid goes in before the first charge and never after it; water never before it where it came dry.
  const firstOn = d.log.find((e) => e.event.type === 'charge.started')?.at ?? Infinity;
  for (const t of state.topUps)
    if (t.liquid === 'acid') expect(t.at).to.be.at.most(firstOn);
    else if (job.procedure.purpose === 'commission') expect(t.at).to.be.at.least(firstOn);
  if (leadAcidKind(job.plan.model.kind).ports !== 'serviceable')
    expect(state.topUps).to.deep.equal([]);
  const { ports } = stripLook(job);
  expect(ports.every((p) => p.level === null || (p.level >= 0 && p.level <= 1))).to.equal(true);
  const segments = timeline(job, d.now);
  segments.forEach((s, i) => {
    expect(s.to).to.be.at.least(s.from);
    if (i > 0) expect(s.from).to.be.at.least(segments[i - 1]?.from ?? 0);
  });
  const shortened = state.runs.filter((r) => r.end === 'cut' || r.end === 'skipped').length;
  expect(state.deviations.length).to.be.at.least(shortened);
  expect(judge(job).reasons.length).to.be.greaterThan(0);
  handoverSheet(job, { timeZone: 'UTC', temperatureUnit: 'C', nameOf: (id) => id });
}

type Act =
  | { kind: 'usual' }
  | { kind: 'wait'; minutes: number }
  | { kind: 'command'; command: JobCommand };

/** Plays the acts one after another; the job is sound after each. */
function play(d: Driver, acts: readonly Act[]): void {
  let refused = false;
  for (const a of acts) {
    try {
      if (a.kind === 'wait') d.wait(a.minutes * MINUTE);
      else if (a.kind === 'command')
        d.send(
          'stepId' in a.command && a.command.stepId === HERE
            ? { ...a.command, stepId: d.step }
            : a.command,
        );
      else if (isCharge(d) && d.job.state.charge?.mode !== 'running') d.charge();
      else if (!isCharge(d) && !['ocv', 'load', 'verdict', 'handover', ''].includes(d.step))
        d.usual();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      expect(error.message).to.match(/[.?]$/);
    }
    if (refused) expect(d.job.state.status).to.equal('refused');
    refused = d.job.state.status === 'refused';
    checkSound(d);
  }
}

const isCharge = (d: Driver): boolean =>
  d.step !== '' && stepById(d.job.procedure, d.step).kind === 'charge';
const role = fc.constantFrom('technician' as const, 'lead' as const);
const model = fc.constantFrom(...MODELS);

/** A recovery that has come to this step, or is on load for its capacity test. */
function recovering(battery: BatteryModel, begin: string): Driver {
  const d = new Driver(battery, DEFAULT_RULES, 'recover').to(
    begin === 'on-load' ? 'capacity' : begin,
  );
  const { testA, cutoffV } = d.job.plan.figures;
  if (begin === 'on-load')
    d.send({
      type: 'startDischarge',
      stepId: d.step,
      currentA: testA!.value,
      cutoffV: cutoffV!.value,
      temperatureC: 21,
    });
  return d;
}

describe('whatever is sent to a job', () => {
  it('it stays sound, and what is refused stays refused, of whatever kind and for whatever purpose', () => {
    fc.assert(
      fc.property(
        fc.array(act, { minLength: 5, maxLength: 60 }),
        role,
        model,
        fc.constantFrom(...PURPOSES),
        (acts, by, battery, purpose) => {
          const d = new Driver(battery, DEFAULT_RULES, purpose);
          d.role = by;
          play(d, acts);
        },
      ),
      { numRuns: 250 },
    );
  });

  it('a recovery stays sound too, whatever of its own commands comes when', () => {
    const from = fc.constantFrom('identify', 'diagnose', 'capacity', 'on-load', 'outcome');
    /** How often each was carried out, over all runs: a command that never is would prove nothing. */
    const done = new Map<string, number>();
    const recoveryAct = fc.oneof(
      { weight: 6, arbitrary: fc.constant({ kind: 'usual' as const }) },
      {
        weight: 5,
        arbitrary: recoveryCommand.map((command) => ({ kind: 'command' as const, command })),
      },
      {
        weight: 2,
        arbitrary: anyCommand.map((command) => ({ kind: 'command' as const, command })),
      },
      {
        weight: 2,
        arbitrary: fc
          .integer({ min: 1, max: 3000 })
          .map((minutes) => ({ kind: 'wait' as const, minutes })),
      },
    );
    fc.assert(
      fc.property(
        fc.array(recoveryAct, { minLength: 10, maxLength: 50 }),
        role,
        model,
        from,
        (acts, by, battery, begin) => {
          const d = recovering(battery, begin);
          d.role = by;
          play(d, acts);
          for (const { event } of d.log) done.set(event.type, (done.get(event.type) ?? 0) + 1);
        },
      ),
      { numRuns: 200 },
    );
    for (const type of [
      'story.told',
      'route.chosen',
      'discharge.started',
      'discharge.dropped',
      'capacity.tested',
      'outcome.given',
    ])
      expect(done.get(type) ?? 0, type).to.be.greaterThan(0);
  });
});
