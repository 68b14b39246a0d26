import { expect } from 'chai';
import fc from 'fast-check';
import { leadAcidKind } from '../../src/core/batteries/kinds.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { CAUSE_KEYS } from '../../src/core/diagnosis/causes.ts';
import { ROUTE_KEYS } from '../../src/core/diagnosis/routes.ts';
import { STORY_KEYS } from '../../src/core/diagnosis/stories.ts';
import { standingReadings } from '../../src/core/procedures/job.ts';
import { PURPOSE_WORDS, type Purpose, stepById } from '../../src/core/procedures/procedure.ts';
import { OUTCOMES, type RecoveryOutcome, WAKE_KEYS } from '../../src/core/procedures/recovery.ts';
import { type JobCommand, Refused } from '../../src/core/procedures/commands.ts';
import { evolve } from '../../src/core/procedures/evolve.ts';
import { nextHand } from '../../src/core/procedures/hands.ts';
import { handoverSheet } from '../../src/core/procedures/sheet.ts';
import { judge } from '../../src/core/procedures/verdict.ts';
import { timeline } from '../../src/core/procedures/timeline.ts';
import { stripLook } from '../../src/web/drawings/portState.ts';
import { BY_KIND, Driver, MINUTE } from '../support/battery.ts';

const MODELS = Object.values(BY_KIND);
const RECOVERY_OUTCOMES = Object.keys(OUTCOMES) as RecoveryOutcome[];
const PURPOSES = Object.keys(PURPOSE_WORDS) as Purpose[];

const HERE = 'here';

/** Anything a hasty, confused or malicious page might send, sensible or not. */
const stepId = fc.constantFrom(
  'identify',
  'acid',
  'vent',
  'stand',
  'pass',
  'used',
  'arrival',
  'sg',
  'levels',
  'clean',
  'mix',
  'take-out',
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
  // The step in hand, so that a run comes deep into its job.
  ...Array.from({ length: 24 }, () => HERE),
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
    ports: fc.array(fc.constantFrom('bubbling', 'tapped', 'still', 'empty', 'left', 'mark', 'topped', 'watered', 'low', 'over'), {
      minLength: 5,
      maxLength: 7,
    }),
  }),
  fc.record({
    type: fc.constant('matchAcid' as const),
    stepId,
    lot: fc.constant('B1'),
    specificGravity: fc.double({ min: 1.2, max: 1.34, noNaN: true }),
    temperatureC: celsius,
    reason,
  }),
  fc.record({
    type: fc.constant('topUp' as const),
    liquid: fc.constantFrom('acid' as const, 'water' as const),
    cells: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 3 }),
  }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constantFrom('cells' as const, 'arrival' as const, 'analyser' as const),
    values: fc.record({ temperatureC: celsius }),
    cells: fc.array(fc.record({ specificGravity: fc.double({ min: 1.0, max: 1.4, noNaN: true }) }), { minLength: 5, maxLength: 6 }),
    sure: fc.constant(true),
  }),
  fc.record({ type: fc.constant('read' as const), role: fc.constant('arrival' as const), values: fc.record({ voltageV: volts }), sure: fc.constant(true) }),
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
const share = fc.double({ min: 0, max: 1, noNaN: true });
const band = fc.record({ low: share, middle: share, high: share });
/** What only a recovery knows. */
const recoveryCommand: fc.Arbitrary<JobCommand> = fc.oneof(
  fc.record({
    type: fc.constant('tellStory' as const),
    stepId,
    story: fc.record({
      story: fc.constantFrom(...STORY_KEYS),
      standingDays: fc.option(fc.integer({ min: 0, max: 900 })),
      ageYears: fc.option(fc.double({ min: 0, max: 12, noNaN: true })),
      coldestC: fc.option(fc.integer({ min: -40, max: 30 })),
      whitePost: fc.boolean(),
      wetMassG: fc.option(fc.integer({ min: 900, max: 40_000 })),
    }),
  }),
  fc.record({
    type: fc.constant('chooseRoute' as const),
    stepId,
    route: fc.constantFrom(...ROUTE_KEYS),
    wake: fc.constantFrom(...WAKE_KEYS),
    forecast: fc.option(
      fc.record({
        cause: fc.constantFrom(...CAUSE_KEYS),
        causeOdds: share,
        returns: share,
        light: share,
        capacity: band,
        hours: band,
        proposed: fc.option(fc.constantFrom(...ROUTE_KEYS)),
      }),
    ),
    reason,
  }),
  fc.record({
    type: fc.constant('wake' as const),
    stepId,
    donorV: fc.double({ min: 5, max: 15, noNaN: true }),
    donorAh: fc.integer({ min: 1, max: 200 }),
    leadM: fc.double({ min: 0.2, max: 5, noNaN: true }),
    leadMm2: fc.constantFrom(2.5, 16, 35),
    chargerA: fc.double({ min: 0.1, max: 20, noNaN: true }),
    reason,
  }),
  fc.record({
    type: fc.constant('checkWake' as const),
    stepId,
    voltageV: fc.double({ min: -13, max: 15, noNaN: true }),
    feel: fc.array(fc.constantFrom('cool' as const, 'warm' as const, 'hot' as const), { minLength: 5, maxLength: 7 }),
  }),
  fc.record({ type: fc.constant('testByInstrument' as const), stepId }),
  fc.record({
    type: fc.constant('startDischarge' as const),
    stepId,
    currentA: fc.double({ min: 0.05, max: 60, noNaN: true }),
    cutoffV: fc.double({ min: 4, max: 12, noNaN: true }),
    temperatureC: celsius,
  }),
  fc.record({
    type: fc.constant('endDischarge' as const),
    stepId,
    minutes: fc.double({ min: 0.1, max: 600, noNaN: true }),
    endV: fc.double({ min: 0, max: 12, noNaN: true }),
  }),
  fc.record({ type: fc.constant('dropDischarge' as const), stepId, reason }),
  fc.record({ type: fc.constant('giveOutcome' as const), stepId, outcome: fc.constantFrom(...RECOVERY_OUTCOMES), reason }),
  fc.record({ type: fc.constant('note' as const), text: reason }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constantFrom('hold' as const, 'spot' as const),
    values: fc.record({ voltageV: volts, temperatureC: celsius }),
    sure: fc.constant(true),
  }),
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
      if (!step.skippable && !step.once && step.id !== 'handover') expect(went(step.id), step.id).to.equal(true);
    if (job.procedure.id === 'commission-agm-dry') expect(state.runs.some((r) => r.stepId === 'pack' && r.result?.['code'] === 'E-66')).to.equal(true);
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
  // Acid goes in before the first charge and never after it; water never before it where it came dry.
  const firstOn = d.log.find((e) => e.event.type === 'charge.started')?.at ?? Infinity;
  for (const t of state.topUps)
    if (t.liquid === 'acid') expect(t.at).to.be.at.most(firstOn);
    else if (job.procedure.purpose === 'commission') expect(t.at).to.be.at.least(firstOn);
  if (leadAcidKind(job.plan.model.kind).ports !== 'serviceable') expect(state.topUps).to.deep.equal([]);
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

type Act = { kind: 'usual' } | { kind: 'wait'; minutes: number } | { kind: 'command'; command: JobCommand };

/** Plays the acts one after another; the job is sound after each. */
function play(d: Driver, acts: readonly Act[]): void {
  let refused = false;
  for (const a of acts) {
    try {
      if (a.kind === 'wait') d.wait(a.minutes * MINUTE);
      else if (a.kind === 'command') d.send('stepId' in a.command && a.command.stepId === HERE ? { ...a.command, stepId: d.step } : a.command);
      else if (isCharge(d) && d.job.state.charge?.mode !== 'running') d.charge();
      else if (!isCharge(d) && !['ocv', 'load', 'verdict', 'handover', ''].includes(d.step)) d.usual();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      expect(error.message).to.match(/[.?]$/);
    }
    if (refused) expect(d.job.state.status).to.equal('refused');
    refused = d.job.state.status === 'refused';
    checkSound(d);
  }
}

const isCharge = (d: Driver): boolean => d.step !== '' && stepById(d.job.procedure, d.step).kind === 'charge';
const role = fc.constantFrom('technician' as const, 'lead' as const);
const model = fc.constantFrom(...MODELS);

/** A recovery that has come to this step, or is on load for its capacity test. */
function recovering(battery: BatteryModel, begin: string): Driver {
  const d = new Driver(battery, DEFAULT_RULES, 'recover').to(begin === 'on-load' ? 'capacity' : begin);
  const { testA, cutoffV } = d.job.plan.figures;
  if (begin === 'on-load') d.send({ type: 'startDischarge', stepId: d.step, currentA: testA!.value, cutoffV: cutoffV!.value, temperatureC: 21 });
  return d;
}

describe('whatever is sent to a job', () => {
  it('it stays sound, and what is refused stays refused, of whatever kind and for whatever purpose', () => {
    fc.assert(
      fc.property(fc.array(act, { minLength: 5, maxLength: 60 }), role, model, fc.constantFrom(...PURPOSES), (acts, by, battery, purpose) => {
        const d = new Driver(battery, DEFAULT_RULES, purpose);
        d.role = by;
        play(d, acts);
      }),
      { numRuns: 250 },
    );
  });

  it('a recovery stays sound too, whatever of its own commands comes when', () => {
    const from = fc.constantFrom('identify', 'diagnose', 'capacity', 'on-load', 'outcome');
    /** How often each was carried out, over all runs: a command that never is would prove nothing. */
    const done = new Map<string, number>();
    const recoveryAct = fc.oneof(
      { weight: 6, arbitrary: fc.constant({ kind: 'usual' as const }) },
      { weight: 5, arbitrary: recoveryCommand.map((command) => ({ kind: 'command' as const, command })) },
      { weight: 2, arbitrary: anyCommand.map((command) => ({ kind: 'command' as const, command })) },
      { weight: 2, arbitrary: fc.integer({ min: 1, max: 3000 }).map((minutes) => ({ kind: 'wait' as const, minutes })) },
    );
    fc.assert(
      fc.property(fc.array(recoveryAct, { minLength: 10, maxLength: 50 }), role, model, from, (acts, by, battery, begin) => {
        const d = recovering(battery, begin);
        d.role = by;
        play(d, acts);
        for (const { event } of d.log) done.set(event.type, (done.get(event.type) ?? 0) + 1);
      }),
      { numRuns: 200 },
    );
    for (const type of ['story.told', 'route.chosen', 'discharge.started', 'discharge.dropped', 'capacity.tested', 'outcome.given'])
      expect(done.get(type) ?? 0, type).to.be.greaterThan(0);
  });
});
