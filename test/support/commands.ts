import fc from 'fast-check';
import { CAUSE_KEYS } from '../../src/core/diagnosis/causes.ts';
import { ROUTE_KEYS } from '../../src/core/diagnosis/routes.ts';
import { STORY_KEYS } from '../../src/core/diagnosis/stories.ts';
import type { JobCommand } from '../../src/core/job/commands.ts';
import { SEDIMENTS } from '../../src/core/job/sediment.ts';
import { OUTCOMES, type RecoveryOutcome } from '../../src/core/job/recoveryState.ts';
import { WAKE_KEYS } from '../../src/core/diagnosis/wakes.ts';

const RECOVERY_OUTCOMES = Object.keys(OUTCOMES) as RecoveryOutcome[];

/** Stands for the step in hand. */
export const HERE = 'here';

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
const values = fc.record({
  voltageV: volts,
  currentA: fc.double({ min: 0, max: 3, noNaN: true }),
  temperatureC: celsius,
});
export const anyCommand: fc.Arbitrary<JobCommand> = fc.oneof(
  fc.record({ type: fc.constant('acknowledge' as const), stepId }),
  fc.record({
    type: fc.constant('answerChecks' as const),
    stepId,
    answers: fc.dictionary(fc.constantFrom('label', 'case', 'posts', 'foil'), fc.boolean()),
  }),
  fc.record({
    type: fc.constant('matchPack' as const),
    stepId,
    code: fc.constantFrom('E-66', 'E-67'),
    lot: fc.constant('L'),
  }),
  fc.record({ type: fc.constant('confirmDone' as const), stepId, temperatureC: celsius, reason }),
  fc.record({
    type: fc.constant('answerPorts' as const),
    stepId,
    ports: fc.array(
      fc.constantFrom(
        'bubbling',
        'tapped',
        'still',
        'empty',
        'left',
        'mark',
        'topped',
        'watered',
        'low',
        'over',
      ),
      {
        minLength: 5,
        maxLength: 7,
      },
    ),
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
    cells: fc.array(
      fc.record({ specificGravity: fc.double({ min: 1.0, max: 1.4, noNaN: true }) }),
      { minLength: 5, maxLength: 6 },
    ),
    sure: fc.constant(true),
  }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constant('arrival' as const),
    values: fc.record({ voltageV: volts }),
    sure: fc.constant(true),
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
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constant('charge' as const),
    values,
    sure: fc.boolean(),
  }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constant('rest' as const),
    values: fc.record({ voltageV: volts }),
    sure: fc.constant(true),
  }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constant('load' as const),
    values: fc.record({ voltageV: volts, temperatureC: celsius }),
    sure: fc.constant(true),
  }),
  fc.record({
    type: fc.constant('correct' as const),
    readingId: fc.integer({ min: 1, max: 60 }).map((n) => `c${n}`),
    values,
    sure: fc.constant(true),
  }),
  fc.record({ type: fc.constant('giveVerdict' as const), stepId }),
  fc.record({
    type: fc.constant('handOver' as const),
    stepId,
    destination: fc.constantFrom('customer' as const, 'shelf' as const),
  }),
  fc.record({ type: fc.constant('pause' as const), reason }),
  fc.record({ type: fc.constant('resume' as const) }),
  fc.record({ type: fc.constant('escalate' as const), reason }),
  fc.record({
    type: fc.constant('leadDecide' as const),
    decision: fc.constantFrom('go-on' as const, 'charge-again' as const, 'claim' as const),
    reason,
  }),
);
const share = fc.double({ min: 0, max: 1, noNaN: true });
const band = fc.record({ low: share, middle: share, high: share });
/** What only a recovery knows. */
export const recoveryCommand: fc.Arbitrary<JobCommand> = fc.oneof(
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
    feel: fc.array(fc.constantFrom('cool' as const, 'warm' as const, 'hot' as const), {
      minLength: 5,
      maxLength: 7,
    }),
  }),
  fc.record({
    type: fc.constant('rinse' as const),
    stepId,
    sediment: fc.constantFrom(...SEDIMENTS),
    drainedMl: fc.double({ min: 1, max: 20_000, noNaN: true }),
    sure: fc.boolean(),
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
  fc.record({
    type: fc.constant('giveOutcome' as const),
    stepId,
    outcome: fc.constantFrom(...RECOVERY_OUTCOMES),
    reason,
  }),
  fc.record({ type: fc.constant('note' as const), text: reason }),
  fc.record({
    type: fc.constant('read' as const),
    role: fc.constantFrom('hold' as const, 'spot' as const),
    values: fc.record({ voltageV: volts, temperatureC: celsius }),
    sure: fc.constant(true),
  }),
);
