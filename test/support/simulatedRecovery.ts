import { firstAnswer } from './firstAnswer.ts';
import { leadAcidKind } from '../../src/core/batteries/kinds.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import { firstChargePlan } from '../../src/core/charging/jobChargePlan.ts';
import { CAUSE_KEYS, type CauseKey } from '../../src/core/diagnosis/causes.ts';
import type { Diagnosis } from '../../src/core/diagnosis/diagnose.ts';
import { Showing } from '../../src/core/diagnosis/showing.ts';
import { type RouteKey, ROUTES } from '../../src/core/diagnosis/routes.ts';
import { routeFit } from '../../src/core/diagnosis/outcome.ts';
import { DEFAULT_STAKES } from '../../src/core/diagnosis/stakes.ts';
import { DEFAULT_RULES, type HouseRules } from '../../src/core/house/rules.ts';
import { batteryOfPlan } from '../../src/core/recovery/recovery.ts';
import type { ToldStory } from '../../src/core/job/recoveryState.ts';
import { needsWaking } from '../../src/core/recovery/evidence.ts';
import { diagnosisQuestion, subjectOf } from '../../src/core/recovery/question.ts';
import { stepById } from '../../src/core/plan/procedure.ts';
import { hasten, restFor } from '../../src/core/rehearsal/hasten.ts';
import {
  type Condition,
  copyBattery,
  makeBattery,
  mixLayers,
  type SimBattery,
  topUp,
} from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { Stepper } from '../../src/core/simulation/step.ts';
import { BY_KIND, Driver, HOUR, MINUTE } from './battery.ts';
import type { CellCondition } from '../../src/core/simulation/battery.ts';

const NOBODY_KNOWS: ToldStory = {
  story: 'unknown',
  standingDays: null,
  ageYears: null,
  coldestC: null,
  whitePost: false,
  wetMassG: null,
};
const HOT_STOP_C = 50;

/** A conventional and a closed AGM battery of 60 Ah, as telling cases are made of. */
export const CONVENTIONAL: BatteryModel = {
  ...BY_KIND['flooded-dry'],
  c20Ah: 60,
  electrolyteMl: 4200,
  cca: 540,
  ccaStandard: 'EN',
};
export const SEALED: BatteryModel = {
  ...BY_KIND['agm-sealed'],
  c20Ah: 60,
  cca: 640,
  ccaStandard: 'EN',
};
/** Every cell alike. */
export const each = (cell: CellCondition): CellCondition[] => Array.from({ length: 6 }, () => cell);

/** A technician with a simulated battery on the bench: every reading of the job is what that battery shows. */
export class SimulatedRecovery {
  readonly d: Driver;
  readonly battery: SimBattery;
  diagnosis: Diagnosis | null = null;

  constructor(
    model: BatteryModel,
    condition: Omit<Condition, 'temperatureC'>,
    rules: HouseRules = DEFAULT_RULES,
  ) {
    this.d = new Driver(model, rules, 'recover');
    this.battery = makeBattery(
      DESIGNS[leadAcidKind(model.kind).chemistry],
      { cells: model.cells, c20Ah: model.c20Ah },
      { ...condition, temperatureC: 20 },
    );
    // A short has been at work before anybody looks.
    if (condition.cells?.some((c) => c.shortOhm !== undefined)) restFor(this.battery, 6 * 3600);
  }

  get #open(): boolean {
    return leadAcidKind(this.d.job.plan.model.kind).ports === 'serviceable';
  }

  #showing(): Showing {
    const suspect = {
      chances: new Float64Array(0),
      battery: copyBattery(this.battery),
      causes: new Set<CauseKey>(),
      primary: CAUSE_KEYS[0]!,
      active: 1,
      hard: 0,
    };
    return new Showing(suspect, subjectOf(this.d.job));
  }

  /** In at the door, its story told, measured as it came; diagnosed. */
  arrives(story: Partial<ToldStory> = {}, missingG?: number): this {
    const { d } = this;
    d.to('story');
    d.send({ type: 'tellStory', stepId: 'story', story: { ...NOBODY_KNOWS, ...story } });
    const showing = this.#showing();
    d.send({
      type: 'read',
      role: 'arrival',
      values: { voltageV: round(showing.restV, 2), temperatureC: 20 },
      sure: true,
    });
    const cells = Array.from({ length: this.battery.cells }, (_, k) => k);
    if (this.#open)
      d.send({
        type: 'read',
        role: 'cells',
        values: { temperatureC: 25 },
        cells: cells.map((k) => ({
          specificGravity: round(showing.sg(k), 3),
          level: showing.water(k) < 0.9 ? ('low' as const) : ('mark' as const),
        })),
        sure: true,
      });
    const { underV, afterV } = showing.load(d.job.plan.figures.loadA.value, 15);
    if (showing.restV > 5)
      d.send({
        type: 'read',
        role: 'load',
        values: {
          voltageV: round(underV, 2),
          temperatureC: 20,
          beforeV: round(showing.restV, 2),
          afterV: round(afterV, 2),
        },
        sure: true,
      });
    if (missingG !== undefined && story.wetMassG)
      d.send({ type: 'read', role: 'spot', values: { massG: story.wetMassG - missingG } });
    this.diagnose();
    return this;
  }

  diagnose(): Diagnosis {
    return (this.diagnosis = firstAnswer(diagnosisQuestion(this.d.job, DEFAULT_STAKES)));
  }

  /** Causes by the chance that each is the gravest. */
  likeliest(count: number): CauseKey[] {
    return [...this.diagnosis!.causes]
      .sort((a, b) => b.gravest - a.gravest)
      .slice(0, count)
      .map((c) => c.cause);
  }

  /** Chance that one of these is the gravest. */
  chance(...causes: CauseKey[]): number {
    return this.diagnosis!.causes.filter((c) => causes.includes(c.cause)).reduce(
      (sum, c) => sum + c.gravest,
      0,
    );
  }

  get proposed(): RouteKey | null {
    return this.diagnosis!.proposal.route;
  }

  takes(route: RouteKey): this {
    const { d } = this;
    const waking = d.job.state.attempt === 1 && needsWaking(d.job);
    d.send({
      type: 'chooseRoute',
      stepId: 'diagnose',
      route,
      wake: waking ? 'dumb' : 'none',
      forecast: null,
    });
    return this;
  }

  /** From the route to the verdict, the battery doing what it does. */
  toVerdict(route: RouteKey): this {
    const { d, battery } = this;
    const { model } = d.job.plan;
    for (let i = 0; i < 60 && d.job.state.status === 'running' && d.step !== 'outcome'; i++) {
      const step = stepById(d.job.procedure, d.step);
      if (step.id === 'wake-hour') {
        const stepper = new Stepper(battery);
        stepper.run({ currentA: 0.05 * model.c20Ah, limitV: 2.45 * battery.cells }, 3600);
        this.wokenV = stepper.voltageV;
        d.usual();
      } else if (step.kind === 'wake-check')
        d.send({
          type: 'checkWake',
          stepId: step.id,
          voltageV: round(this.wokenV, 2),
          feel: Array.from({ length: model.cells }, (_, k) =>
            this.hotCell === k ? 'hot' : 'warm',
          ),
        });
      else if (step.kind === 'ports' && step.id === 'levels') {
        topUp(battery);
        d.usual();
      } else if (step.id === 'mix') {
        mixLayers(battery);
        d.usual();
      } else if (step.id === 'charge') this.charge(routeFit(ROUTES[route], subjectOf(d.job))!);
      else if (step.id === 'refill') {
        const plan = firstChargePlan(
          model,
          leadAcidKind(model.kind).chemistry,
          d.job.plan.figures.chargeA.value,
          d.job.plan.figures.ceilingV.value,
        );
        this.charge(fitPlan(plan, batteryOfPlan(d.job)).fitted!);
      } else if (step.kind === 'cells') {
        const showing = this.#showing();
        d.send({
          type: 'read',
          role: 'cells',
          values: { temperatureC: 25 },
          cells: Array.from({ length: battery.cells }, (_, k) => ({
            specificGravity: round(showing.sg(k), 3),
          })),
          sure: true,
        });
      } else if (step.id === 'rest') {
        restFor(battery, 24 * 3600);
        d.usual();
      } else if (step.kind === 'measure') {
        d.send({
          type: 'read',
          role: 'rest',
          values: { voltageV: round(this.#showing().restV, 2) },
          sure: true,
        });
        if (d.step === step.id)
          d.send({ type: 'skip', stepId: step.id, reason: 'Reads too high to be rested' });
      } else if (step.kind === 'load')
        d.send({
          type: 'read',
          role: 'load',
          values: {
            voltageV: round(this.#showing().load(d.job.plan.figures.loadA.value, 15).underV, 2),
            temperatureC: 20,
          },
          sure: true,
        });
      else if (step.kind === 'capacity') this.#capacity();
      else if (step.id === 'hold') {
        restFor(battery, 7 * 24 * 3600);
        d.usual();
      } else if (step.kind === 'hold-measure')
        d.send({
          type: 'read',
          role: 'hold',
          values: { voltageV: round(this.#showing().restV, 2), temperatureC: 20 },
          sure: true,
        });
      else d.usual();
    }
    return this;
  }

  wokenV = 0;
  hotCell: number | null = null;

  protected charge(fit: NonNullable<ReturnType<typeof routeFit>>): void {
    const { d, battery } = this;
    d.startCharge();
    const { hours } = hasten(battery, fit, HOT_STOP_C);
    d.wait(Math.max(1, hours) * HOUR);
    d.send({ type: 'endCharge', stepId: d.step, reason: 'The plan has come to its end' });
  }

  #capacity(): void {
    const { d, battery } = this;
    const { testA, cutoffV } = d.job.plan.figures;
    d.send({
      type: 'startDischarge',
      stepId: 'capacity',
      currentA: testA!.value,
      cutoffV: cutoffV!.value,
      temperatureC: 20,
    });
    const stepper = new Stepper(battery);
    let minutes = 0;
    while (minutes < 600) {
      stepper.run({ currentA: -testA!.value, limitV: Infinity, floorV: 0 }, 60);
      minutes++;
      if (stepper.voltageV <= cutoffV!.value) break;
    }
    d.wait(minutes * MINUTE);
    d.send({ type: 'endDischarge', stepId: 'capacity', minutes, endV: cutoffV!.value });
  }
}

const round = (value: number, digits: number): number => Number(value.toFixed(digits));
