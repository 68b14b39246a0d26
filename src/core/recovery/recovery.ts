import { forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import {
  type Capacity,
  capacityLawOf,
  type CapacityMethod,
  capacityOf,
  CUT_OFF_12V,
  type Discharge,
  expectedMinutes,
  usualTestA,
} from '../capacity/capacityTest.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import type { ChargePlan } from '../charging/chargePlan.ts';
import { chargeSettings, firstChargePlan, planBattery } from '../charging/jobChargePlan.ts';
import { testPlan } from '../charging/testPlan.ts';
import { type Route, type RouteKey, ROUTES } from '../diagnosis/routes.ts';
import { type SchoolChoices, schoolOf } from '../house/schools.ts';
import type { Job, JobState, StepRun } from '../job/job.ts';
import { linesOf } from '../plan/lines.ts';
import { WAKES, WAKE_KEYS, type WakeKey } from '../diagnosis/wakes.ts';
import { hasRole } from '../plan/procedure.ts';

/** Routes that put something else than water into a battery: each is a school of its own, of the same name. */
const ADDITIVE_ROUTES = ['sulfate', 'magnesium', 'conditioner'] as const satisfies RouteKey[];
const isAdditive = (key: RouteKey): boolean => ADDITIVE_ROUTES.some((k) => k === key);

/** Routes that this shop offers for this battery. */
export function offeredRoutes(kind: string, schools: SchoolChoices): RouteKey[] {
  const { chemistry, ports } = leadAcidKind(kind);
  const open = ports === 'serviceable';
  const additive = schoolOf('additive', schools).school.id;
  const openAgm = schoolOf('openAgm', schools).school.id === 'experiment';
  return (Object.values(ROUTES) as Route[])
    .filter((r) => r.kinds.includes(chemistry) && (!r.ports || open))
    .filter((r) =>
      isAdditive(r.key) ? additive === r.key : r.key === 'water-agm' ? openAgm && !open : true,
    )
    .map((r) => r.key);
}

/** Ways of waking this shop offers; the school's own first. */
export function offeredWakes(kind: string, schools: SchoolChoices): WakeKey[] {
  const open = leadAcidKind(kind).ports === 'serviceable';
  const shopsWay = schoolOf('wake', schools).school.id as WakeKey;
  const offered = WAKE_KEYS.filter((w) => w !== 'none' && (open || !WAKES[w].flooded));
  return offered.includes(shopsWay)
    ? [shopsWay, ...offered.filter((w) => w !== shopsWay)]
    : offered;
}

/** Capacity by the last test of earlier jobs of a battery, share of C20; null where none was made. */
export function earlierCapacity(
  states: readonly JobState[],
  model: BatteryModel,
): { share: number; at: number } | null {
  const test = states
    .flatMap((s) => s.recovery?.tests ?? [])
    .sort((a, b) => a.at - b.at)
    .at(-1);
  return test
    ? {
        share: capacityOf(test, capacityLawOf(model), model.cells, model.c20Ah).health,
        at: test.at,
      }
    : null;
}

/** Capacity by a record of a test. */
export function capacityOfTest(job: Job, test: Discharge): Capacity {
  const { model } = job.plan;
  return capacityOf(test, linesOf(job.plan).capacity, model.cells, model.c20Ah);
}

/** The plan a chosen route's charge follows is fitted to this battery. */
export const batteryOfPlan = (job: Job) =>
  planBattery(job.plan.model, leadAcidKind(job.plan.model.kind).chemistry);
export type { CapacityMethod };

/** What a charge by hand is set to: by the plan of the route where one was chosen, else by the figures of the job. A and V. */
export function handSettings(job: Job): { setA: number; setV: number } {
  const { chargeA, ceilingV } = job.plan.figures;
  const { chargePlan } = job.state;
  const { fitted } =
    chargePlan && job.procedure.purpose === 'recover'
      ? fitPlan(chargePlan, batteryOfPlan(job))
      : { fitted: null };
  if (!fitted) return { setA: chargeA.value, setV: ceilingV.value };
  const { setA, setV } = chargeSettings(fitted);
  return {
    setA: Math.round(setA * 100) / 100,
    setV: Math.min(ceilingV.value, Math.round(setV * 100) / 100),
  };
}

/** Has this cycle's charge rested its whole time, so that a capacity test counts in full? */
export const restedFull = (job: Job): boolean => restRun(job)?.end === 'done';

/** The last rest before a verdict in this attempt. */
export const restRun = ({ state, procedure }: Job): StepRun | undefined =>
  state.runs.findLast(
    (r) => r.attempt === state.attempt && hasRole(procedure, r.stepId, 'rest-before-verdict'),
  );

/** The capacity test of this job as an instrument does it, with the usual charge after it. */
export function testPlanOf(job: Job): ChargePlan {
  const { model, figures } = job.plan;
  const { chemistry } = leadAcidKind(model.kind);
  const currentA = figures.testA?.value ?? usualTestA(model.c20Ah);
  return testPlan(
    firstChargePlan(model, chemistry, figures.chargeA.value, figures.ceilingV.value),
    batteryOfPlan(job),
    {
      currentA,
      cutoffV: figures.cutoffV?.value ?? forCells(CUT_OFF_12V, model.cells),
      soundMin: expectedMinutes(currentA, linesOf(job.plan).capacity, model.c20Ah),
    },
  );
}
