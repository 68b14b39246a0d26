import type { ChargePlan } from './chargePlan.ts';
import type { PlanBattery } from './fitPlan.ts';

export const TEST_PLAN_ID = 'capacity-test';
/** A discharge is broken off when it has lasted this many times what a sound battery would. */
const MOST_TIMES = 1.3;
/** Between discharge and charge, s: the volts recover, the load is off. */
const TURN_S = 300;

/**
 * A capacity test by an instrument: down to the cut-off, and full again at once, so that it is never left empty.
 *
 * @param refill the charge after it
 * @param test current, A; cut-off, V of the battery; and the minutes a sound one would last
 */
export function testPlan(
  refill: ChargePlan,
  { c20Ah, cells }: PlanBattery,
  test: { currentA: number; cutoffV: number; soundMin: number },
): ChargePlan {
  const mostS = Math.ceil(MOST_TIMES * test.soundMin) * 60;
  return {
    ...refill,
    id: TEST_PLAN_ID,
    name: 'Capacity test, then full',
    plain:
      'Down to the cut-off at the current of the test, which stops by itself and is written down; then charged full at once.',
    stages: [
      {
        do: 'discharge',
        cRate: test.currentA / c20Ah,
        perCell: test.cutoffV / cells,
        until: [{ when: 'time', s: mostS }],
      },
      { do: 'rest', until: [{ when: 'time', s: TURN_S }] },
      ...refill.stages,
    ],
    mostS: mostS + TURN_S + refill.mostS,
  };
}

/** A plan with its discharge left out. */
export const withoutDischarge = (plan: ChargePlan): ChargePlan => ({
  ...plan,
  stages: plan.stages.filter((s) => s.do !== 'discharge'),
});

/** Does a plan draw a battery empty before it charges it? */
export const discharges = (plan: { stages: readonly { do: string }[] }): boolean =>
  plan.stages.some((s) => s.do === 'discharge');
