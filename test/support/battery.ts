import type { KindKey } from '../../src/core/batteries/kinds.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import { DEFAULT_RULES, type HouseRules } from '../../src/core/house/rules.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { type JobCommand, Refused } from '../../src/core/job/commands.ts';
import type { DecisionContext } from '../../src/core/job/context.ts';
import { moduleOf } from '../../src/core/steps/registry.ts';
import { decide } from '../../src/core/steps/decide.ts';
import { deviationWords } from '../../src/core/job/deviationWords.ts';
import type { JobEvent, Signed } from '../../src/core/job/events.ts';
import { evolve } from '../../src/core/steps/evolve.ts';
import { openJob } from '../../src/core/steps/openJob.ts';
import type { Job } from '../../src/core/job/job.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { handSettings } from '../../src/core/recovery/recovery.ts';
import { type Purpose, stepById } from '../../src/core/plan/procedure.ts';
import { clockEvents } from '../../src/core/steps/settle.ts';

export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;
export const START = Date.UTC(2026, 2, 10, 8, 0);

/** A 12 Ah model of which the maker prints next to nothing. */
export const PLAIN: BatteryModel = {
  code: 'T-12',
  kind: 'agm-dry',
  name: 'Plain 12',
  nominalV: 12,
  cells: 6,
  c20Ah: 12,
  cca: null,
  ccaStandard: null,
  electrolyteCode: 'E-66',
  electrolyteMl: 660,
  caps: null,
  fillSg: 1.28,
  chargeA: null,
  ceilingV: null,
  dwellS: null,
  soakS: null,
  passV: null,
};

/** A 6 V, three-cell model. */
export const SIX_VOLT: BatteryModel = {
  ...PLAIN,
  code: 'T-6V',
  nominalV: 6,
  cells: 3,
  c20Ah: 6,
  electrolyteMl: 165,
};

/** One model of every kind the shop works on, of which the makers print next to nothing. */
export const BY_KIND: Readonly<Record<Exclude<KindKey, 'lithium'>, BatteryModel>> = {
  'agm-dry': PLAIN,
  'flooded-dry': {
    ...PLAIN,
    fillSg: null,
    code: 'T-C14',
    kind: 'flooded-dry',
    c20Ah: 14,
    electrolyteCode: null,
    electrolyteMl: 1000,
    caps: 'screw',
  },
  'agm-sealed': {
    ...PLAIN,
    fillSg: null,
    code: 'T-S12',
    kind: 'agm-sealed',
    electrolyteCode: null,
    electrolyteMl: null,
  },
  gel: {
    ...PLAIN,
    fillSg: null,
    code: 'T-G12',
    kind: 'gel',
    electrolyteCode: null,
    electrolyteMl: null,
  },
  'flooded-sealed': {
    ...PLAIN,
    fillSg: null,
    code: 'T-E60',
    kind: 'flooded-sealed',
    c20Ah: 60,
    electrolyteCode: null,
    electrolyteMl: null,
  },
};

/** A job driven by hand: time moves when told, each command is decided and folded as the server does. */
export class Driver {
  job: Job;
  now: number;
  readonly log: Signed<JobEvent>[] = [];
  readonly first: Job;
  role: 'technician' | 'lead' = 'technician';
  personId = 'ann';
  takenPlaces: number[] = [];
  /** The shop's chargers. */
  chargers: NonNullable<DecisionContext['chargers']> = [];
  lot: DecisionContext['lot'];
  lotsCounted = false;
  /** How long a capacity test lasts; C/5 gives about 3.5 h of a sound one. */
  capacityMinutes = 210;
  #ids = 0;

  constructor(
    model: BatteryModel = PLAIN,
    readonly rules: HouseRules = DEFAULT_RULES,
    purpose: Purpose = 'commission',
    openedAt = START,
  ) {
    this.now = openedAt;
    this.job = openJob(
      procedureFor(model.kind, purpose),
      jobPlan(model, rules, purpose),
      openedAt,
      'ann',
    );
    this.first = this.job;
  }

  get step(): string {
    return this.job.state.current?.stepId ?? '';
  }

  wait(ms: number): this {
    this.now += ms;
    this.#append(clockEvents(this.job, this.now));
    return this;
  }

  send(command: JobCommand): JobEvent[] {
    this.#append(clockEvents(this.job, this.now));
    this.#ids += 1;
    const context: DecisionContext = {
      now: this.now,
      by: { id: this.personId, role: this.role },
      commandId: `c${this.#ids}`,
      takenPlaces: this.takenPlaces,
      places: 8,
      chargers: this.chargers,
      replan: (c20Ah) =>
        jobPlan(
          { ...this.job.plan.model, c20Ah, estimate: null },
          this.rules,
          this.job.procedure.purpose,
        ),
      lot: this.lot,
      lotsCounted: this.lotsCounted,
    };
    const events = decide(this.job, command, context);
    this.#append(events.map((event) => ({ at: this.now, by: 'ann', event })));
    return events;
  }

  /** What nobody commands: by the clock. */
  record(event: JobEvent): this {
    this.#append([{ at: this.now, by: 'clock', event }]);
    return this;
  }

  #append(signed: Signed<JobEvent>[]): void {
    this.log.push(...signed);
    this.job = signed.reduce(evolve, this.job);
  }

  /** Answers the step in hand as a careful technician does when nothing is wrong. */
  usual(): void {
    const stepId = this.step;
    const step = stepById(this.job.procedure, stepId);
    const { model } = this.job.plan;
    const usual = moduleOf(step).usual?.(this.job, step);
    if (step.kind === 'pack')
      this.send({ type: 'matchPack', stepId, code: model.electrolyteCode ?? '', lot: 'L1' });
    else if (step.kind === 'do')
      this.send({
        type: 'confirmDone',
        stepId,
        ...(step.temperature ? { temperatureC: 21 } : {}),
        ...(step.amount ? { amountMl: 800 } : {}),
      });
    else if (step.kind === 'acid')
      this.send({
        type: 'matchAcid',
        stepId,
        lot: 'B1',
        specificGravity: 1.265,
        temperatureC: 25,
        batteryC: 21,
      });
    else if (step.kind === 'arrival')
      this.send({ type: 'read', role: 'arrival', values: { voltageV: this.volts(12.55) } });
    else if (step.kind === 'story')
      this.send({
        type: 'tellStory',
        stepId,
        story: {
          story: 'parked',
          standingDays: 120,
          ageYears: 3,
          coldestC: null,
          whitePost: false,
          wetMassG: null,
        },
      });
    else if (step.kind === 'diagnose')
      this.send({ type: 'chooseRoute', stepId, route: 'recharge', wake: 'none', forecast: null });
    else if (step.kind === 'wake')
      this.send({
        type: 'wake',
        stepId,
        donorV: this.volts(12.7),
        donorAh: model.c20Ah,
        leadM: 1,
        leadMm2: 25,
        chargerA: 0.05 * model.c20Ah,
      });
    else if (step.kind === 'wake-check')
      this.send({
        type: 'checkWake',
        stepId,
        voltageV: this.volts(11.6),
        feel: Array.from({ length: model.cells }, () => 'cool' as const),
      });
    else if (step.kind === 'capacity') {
      const { testA, cutoffV } = this.job.plan.figures;
      this.send({
        type: 'startDischarge',
        stepId,
        currentA: testA!.value,
        cutoffV: cutoffV!.value,
        temperatureC: 25,
      });
      this.wait(this.capacityMinutes * MINUTE);
      this.send({
        type: 'endDischarge',
        stepId,
        minutes: this.capacityMinutes,
        endV: cutoffV!.value,
      });
    } else if (step.kind === 'hold-measure')
      this.send({
        type: 'read',
        role: 'hold',
        values: { voltageV: this.rested() - this.volts(0.02), temperatureC: 20 },
      });
    else if (step.kind === 'outcome') this.send({ type: 'giveOutcome', stepId, outcome: 'return' });
    else if (step.kind === 'cells')
      this.send({
        type: 'read',
        role: 'cells',
        values: { temperatureC: 25 },
        cells: this.cells(1.265),
      });
    else if (step.kind === 'wait')
      this.wait((this.job.state.current?.dueAt ?? this.now) - this.now);
    else if (usual) this.send(usual);
    else throw new Error(`No usual answer at ${stepId}.`);
  }

  /** Walks the usual way until this step is in hand. */
  to(stepId: string): this {
    for (let i = 0; i < 60 && this.step !== stepId; i++) {
      if (stepById(this.job.procedure, this.step).kind === 'charge') this.charge();
      else if (this.step === 'ocv')
        this.send({ type: 'read', role: 'rest', values: { voltageV: this.rested() } });
      else if (this.step === 'load')
        this.send({
          type: 'read',
          role: 'load',
          values: { voltageV: this.volts(10.5), temperatureC: 20 },
        });
      else if (this.step === 'verdict') this.send({ type: 'giveVerdict', stepId: 'verdict' });
      else this.usual();
    }
    if (this.step !== stepId) throw new Error(`Never came to ${stepId}; stopped at ${this.step}.`);
    return this;
  }

  /** A charge whose current tails off at the ceiling. */
  charge(): void {
    if (this.job.state.charge?.mode !== 'running') this.startCharge();
    const { setA: amps, setV: ceiling } = handSettings(this.job);
    for (const [below, share] of [
      [1.1, 1],
      [0.3, 1],
      [0.01, 0.16],
      [0.01, 0.155],
    ] as const)
      this.wait(HOUR).read(ceiling - this.volts(below), amps * share, 24);
    this.send({ type: 'endCharge', stepId: this.step });
  }

  startCharge(place = 1): this {
    this.send({ type: 'startCharge', stepId: this.step, place, ...handSettings(this.job) });
    return this;
  }

  read(voltageV: number, currentA: number, temperatureC: number, sure = false): JobEvent[] {
    return this.send({
      type: 'read',
      role: 'charge',
      values: { voltageV, currentA, temperatureC },
      sure,
    });
  }

  /** Every cell at one SG. */
  cells(specificGravity: number): { specificGravity: number }[] {
    return Array.from({ length: this.job.plan.model.cells }, () => ({ specificGravity }));
  }

  /** A good rest voltage of its family. */
  rested(): number {
    return this.volts(this.job.plan.model.kind.startsWith('flooded') ? 12.6 : 12.85);
  }

  volts(per12V: number): number {
    return (per12V * this.job.plan.model.cells) / 6;
  }
}

/** What a job did otherwise than planned, in words. */
export const deviationsOf = (d: Driver): string[] =>
  d.job.state.deviations.map((x) => deviationWords(x.what, 'C'));

/** The sentence a command is turned away with. */
export function refusal(act: () => unknown): Refused {
  try {
    act();
  } catch (error) {
    if (error instanceof Refused) return error;
    throw error;
  }
  throw new Error('It was not turned away.');
}
