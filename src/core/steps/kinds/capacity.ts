import { forCells } from '../../batteries/chemistry.ts';
import { expectedMinutes } from '../../capacity/capacityTest.ts';
import { fitPlan } from '../../charging/fitPlan.ts';
import { withoutDischarge } from '../../charging/testPlan.ts';
import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { LOOK_EVERY_S } from '../../job/hand.ts';
import { linesOf } from '../../plan/lines.ts';
import { batteryOfPlan, capacityOfTest, restedFull, testPlanOf } from '../../recovery/recovery.ts';
import { recoveryOf } from '../../job/job.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** A discharge, by hand or left to the instrument that charges it afterwards. */
export const capacity = defineStep({
  kind: 'capacity',
  takes: 'discharge-load',
  near: () => true,
  inTray: 'each',
  heldBy: (job) => (recoveryOf(job).discharge ? 'A load is on it. Take it off first.' : null),
  hand: ({ state }, step, _, now) => {
    const discharge = state.recovery?.discharge;
    if (!discharge) return null;
    // A load left on ruins a battery: the watch is a hand of its own, and late it is a stop.
    return now > discharge.expectedEndAt
      ? {
          stepId: step.id,
          title: 'Discharge: read the volts now, take the load off',
          act: 'Take it off',
          dueAt: discharge.expectedEndAt,
          kind: 'stop',
        }
      : {
          stepId: step.id,
          title: 'Discharging: read its volts',
          act: 'Look',
          dueAt: Math.min(discharge.expectedEndAt, now + LOOK_EVERY_S * 1000),
          kind: 'read',
        };
  },
});

export const capacityTakes: Takes<'capacity'> = {
  testByInstrument,
  startDischarge,
  endDischarge,
  dropDischarge: ({ job, command }) => {
    if (!recoveryOf(job).discharge) throw new Refused('No discharge is running.', 'out-of-order');
    return [{ type: 'discharge.dropped', reason: command.reason }];
  },
};

/** The charge that follows discharges first, by its plan: the route's own, or the test's. */
function testByInstrument({ job, step }: Asked<'capacity', 'testByInstrument'>): JobEvent[] {
  if (recoveryOf(job).discharge)
    throw new Refused('A discharge is running already.', 'out-of-order');
  const over = done(step, { kind: 'capacity', by: 'instrument' });
  if (step.role === 'empty-first') return [over];
  const plan = testPlanOf(job);
  const { fitted, faults } = fitPlan(plan, batteryOfPlan(job));
  if (!fitted)
    throw new Refused(
      faults[0]?.sentence ?? 'The test does not fit this battery.',
      'invalid',
      'plan',
    );
  return [over, { type: 'charge.planned', plan }];
}

function startDischarge({
  job,
  command,
  context: { now },
}: Asked<'capacity', 'startDischarge'>): JobEvent[] {
  const { model } = job.plan;
  if (recoveryOf(job).discharge)
    throw new Refused('A discharge is running already.', 'out-of-order');
  const least = forCells(10.5, model.cells);
  if (command.cutoffV < least - 0.005)
    throw new Refused(
      `Not below ${least.toFixed(2)} V: deeper than that it is harmed.`,
      'invalid',
      'cutoffV',
    );
  if (command.currentA > model.c20Ah)
    throw new Refused(
      `At most C20 in amperes, ${model.c20Ah.toFixed(0)} A: more is a load test.`,
      'invalid',
      'currentA',
    );
  // The alarm counts from what a sound battery would give: whoever is worse rings early, when somebody looks.
  const expectedEndAt =
    now + expectedMinutes(command.currentA, linesOf(job.plan).capacity, model.c20Ah) * 60_000;
  return [
    {
      type: 'discharge.started',
      currentA: command.currentA,
      cutoffV: command.cutoffV,
      temperatureC: command.temperatureC,
      expectedEndAt,
    },
  ];
}

function endDischarge({
  job,
  step,
  command,
  context: { now, by, commandId },
}: Asked<'capacity', 'endDischarge'>): JobEvent[] {
  const { discharge } = recoveryOf(job);
  if (!discharge) throw new Refused('No discharge is running.', 'out-of-order');
  const ran = (now - discharge.startedAt) / 60_000;
  if (command.minutes > ran + 5)
    throw new Refused(`It has been running for ${ran.toFixed(0)} min.`, 'invalid', 'minutes');
  const test = {
    id: commandId,
    at: now,
    by: by.id,
    attempt: job.state.attempt,
    rested: restedFull(job),
    currentA: discharge.currentA,
    minutes: command.minutes,
    cutoffV: command.endV,
    temperatureC: discharge.temperatureC,
    method: 'hand' as const,
  };
  const { ah, c20 } = capacityOfTest(job, test);
  if (c20.middle > 1.6 * job.plan.model.c20Ah)
    throw new Refused(
      `${ah.toFixed(1)} Ah is more than it can hold. Check the current and the minutes.`,
      'invalid',
      'minutes',
    );
  const { chargePlan } = job.state;
  return [
    { type: 'capacity.tested', test },
    done(step, { kind: 'capacity', by: 'hand' }),
    // Emptied by hand: an instrument that charges it now does not do it again.
    ...(step.role === 'empty-first' && chargePlan
      ? [{ type: 'charge.planned' as const, plan: withoutDischarge(chargePlan) }]
      : []),
  ];
}
