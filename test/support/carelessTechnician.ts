import type { DrillCase, LookKind } from '../../src/core/drill/case.ts';
import type { Shown, TakeKind } from '../../src/core/drill/acts.ts';
import { GoodTechnician } from '../../src/core/drill/goodTechnician.ts';
import { Refused } from '../../src/core/job/commands.ts';
import { checksOf } from '../../src/core/plan/checks.ts';
import { figureOf } from '../../src/core/plan/jobPlan.ts';
import type { StepOf } from '../../src/core/plan/procedure.ts';
import { needsWaking } from '../../src/core/recovery/evidence.ts';

/** What a careless technician does otherwise than a good one. */
const HABITS = [
  /** Cuts every wait that may be cut. */
  'cuts-waits',
  /** Puts the load tester on while gas still stands over the cells. */
  'loads-in-gas',
  /** Answers every question well without a look. */
  'looks-at-nothing',
  /** Writes numbers that no instrument has shown. */
  'invents',
  /** Fills cold acid, or a warm battery, for a reason. */
  'does-not-wait',
  /** Takes the strongest charger there is. */
  'boosts',
  /** Writes off what came with low volts or a bad story. */
  'writes-off',
  /** Puts everything on the charger, looking at nothing and reading nothing. */
  'charges-all',
  /** Leaves out the capacity test and the week. */
  'skips-tests',
  /** Is somewhere else. */
  'dawdles',
] as const;
export type Habit = (typeof HABITS)[number];

const INVENTED = { volts: 12.74, loaded: 10.6, celsius: 20 };

export class CarelessTechnician extends GoodTechnician {
  constructor(
    drillCase: DrillCase,
    readonly habit: Habit,
  ) {
    super(drillCase);
  }

  override step(): void {
    const step = this.current;
    if (this.habit === 'dawdles') this.bench.do({ do: 'wait', seconds: 10 * 86_400, alert: false });
    if (
      this.habit === 'skips-tests' &&
      (step.kind === 'capacity' || step.role === 'hold' || step.kind === 'hold-measure')
    )
      return this.send({ type: 'skip', stepId: step.id, reason: 'No time' });
    super.step();
  }

  override checks(step: StepOf<'checks'>): void {
    if (this.habit !== 'looks-at-nothing' && this.habit !== 'charges-all')
      return super.checks(step);
    const answers = Object.fromEntries(checksOf(step, this.job.plan).map((c) => [c.id, true]));
    this.send({ type: 'answerChecks', stepId: step.id, answers });
  }

  override look(what: LookKind): Extract<Shown, { of: 'look' }> {
    return this.habit === 'looks-at-nothing'
      ? { of: 'look', what, good: true, says: '' }
      : super.look(what);
  }

  override pack(stepId: string): void {
    if (this.habit !== 'looks-at-nothing') return super.pack(stepId);
    const code = this.job.plan.model.electrolyteCode ?? '';
    this.send({ type: 'matchPack', stepId, code, lot: '' });
  }

  override ports(step: StepOf<'ports'>): void {
    if (this.habit !== 'looks-at-nothing') return super.ports(step);
    const { cells } = this.job.plan.model;
    const ports = Array.from({ length: cells }, () => step.answers[0]?.id ?? '');
    this.send({ type: 'answerPorts', stepId: step.id, ports });
  }

  override take(take: TakeKind): Extract<Shown, { of: 'reading' }> {
    const { plan } = this.job;
    const scale = plan.model.cells / 6;
    // The wrong way round is taken for the leads of the meter.
    if (this.habit === 'looks-at-nothing' && take === 'volts') {
      const shown = super.take(take);
      return { ...shown, values: { voltageV: Math.abs(shown.values.voltageV ?? 0) } };
    }
    if (this.habit !== 'invents' || !['volts', 'load', 'temperature'].includes(take))
      return super.take(take);
    const role = this.job.state.current?.stepId;
    if (role === 'charge' || role === 'refill' || role === 'diagnose' || role === 'arrival')
      return super.take(take);
    return {
      of: 'reading',
      take,
      values:
        take === 'volts'
          ? { voltageV: Number((INVENTED.volts * scale).toFixed(2)) }
          : take === 'load'
            ? { voltageV: INVENTED.loaded * scale, temperatureC: INVENTED.celsius }
            : { temperatureC: INVENTED.celsius },
    };
  }

  override waits(step: StepOf<'wait'>): void {
    if (this.habit === 'loads-in-gas' && step.id.startsWith('clear')) this.take('load');
    if (this.habit !== 'cuts-waits' || !step.skippable || this.current.id !== step.id)
      return super.waits(step);
    this.send({ type: 'cutWait', stepId: step.id, reason: 'No time' });
  }

  override acid(stepId: string): void {
    if (this.habit !== 'does-not-wait') return super.acid(stepId);
    const { specificGravity = 0, temperatureC = 0 } = this.take('acid').values;
    const batteryC = this.take('temperature').values.temperatureC ?? 20;
    const lot = this.bench.drillCase.acid?.lot ?? '';
    const reason = 'The customer waits';
    this.send({ type: 'matchAcid', stepId, lot, specificGravity, temperatureC, batteryC, reason });
  }

  override does(step: StepOf<'do'>): void {
    if (this.habit !== 'does-not-wait' || !step.temperature) return super.does(step);
    const temperatureC = this.take('temperature').values.temperatureC ?? 20;
    this.send({
      type: 'confirmDone',
      stepId: step.id,
      temperatureC,
      ...(step.amount
        ? { amountMl: Math.round(figureOf(this.job.plan, step.amount.expected).value) }
        : {}),
      reason: 'The customer waits',
    });
  }

  override startCharge(stepId: string): void {
    const boost = this.bench.drillCase.chargers
      .flatMap((charger) => charger.settings.map((setting) => ({ charger, setting })))
      .find(({ setting }) => setting.boost);
    if (this.habit !== 'boosts' || !boost) return super.startCharge(stepId);
    const { charger, setting } = boost;
    this.send({
      type: 'startCharge',
      stepId,
      place: 1,
      setA: setting.amps,
      setV: this.job.plan.figures.ceilingV.value,
      charger: { id: charger.id, setting: setting.name, program: charger.programs[0]?.name ?? '' },
      reason: 'It is quicker',
    });
  }

  override diagnoses(stepId: string): void {
    if (this.habit === 'writes-off')
      return this.send({ type: 'giveOutcome', stepId, outcome: 'recycle', reason: 'Dead' });
    if (this.habit !== 'charges-all') return super.diagnoses(stepId);
    const wake = needsWaking(this.job) ? 'dumb' : 'none';
    this.send({ type: 'chooseRoute', stepId, route: 'recharge', wake, forecast: null });
  }

  /** Goes on as long as the job lets it; what is turned away ends it. */
  override work(): void {
    try {
      super.work();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
    }
  }
}
