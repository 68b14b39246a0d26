import { type Job, standingReadings } from '../../src/core/job/job.ts';
import { believableRestV } from '../../src/core/capacity/stateOfCharge.ts';
import { jobChemistry } from '../../src/core/job/verdict.ts';
import { type Step, stepById } from '../../src/core/plan/procedure.ts';
import { checksOf } from '../../src/core/plan/checks.ts';
import { fillText } from '../../src/core/plan/words.ts';
import { MINUTE } from './battery.ts';
import type { TestBench } from './bench.ts';
import type { Technician } from './browser.ts';

const MOST_STEPS = 40;

/** Takes a battery through the pages of its job with a careful hand, whatever its procedure; counts every tap and key. */
export class HandWalk {
  taps = 0;
  keys = 0;

  constructor(
    readonly bench: TestBench,
    readonly t: Technician,
    readonly tag: string,
    /** What is done at a step by its id, instead of the usual. */
    readonly at: Readonly<Record<string, (walk: HandWalk, job: Job) => Promise<void>>> = {},
  ) {}

  job = (): Promise<Job> => this.bench.jobOf(this.tag);

  async tap(name: string | RegExp): Promise<void> {
    this.taps += 1;
    await this.t.press(name);
  }

  async type(values: Record<string, string>, act: string | RegExp = 'Save reading'): Promise<void> {
    for (const text of Object.values(values)) this.keys += text.length;
    this.taps += 1;
    const taken = async () => (await this.job()).state.readings.length;
    const before = await taken();
    await this.t.read(values, act);
    if (act !== 'Save reading' && act !== 'Save cells') return;
    // What is unusual is asked about once; then it is kept.
    for (let wait = 0; (await taken()) === before; wait++) {
      if (await this.t.button('Yes, save it').isVisible()) await this.tap('Yes, save it');
      if (wait === 100) throw new Error(`A reading of ${this.tag} is not kept.`);
      await this.t.page.waitForTimeout(100);
    }
  }

  /** Goes on until the job is closed, or a step of this id is in hand. */
  async to(stepId: string | null): Promise<this> {
    for (let i = 0; i < MOST_STEPS; i++) {
      const job = await this.job();
      const { current } = job.state;
      if (!current || current.stepId === stepId) return this;
      const before = JSON.stringify([current.stepId, current.startedAt, job.state.attempt]);
      const step = stepById(job.procedure, current.stepId);
      await (this.at[step.id]?.(this, job) ?? this.#usual(step, job));
      for (let wait = 0; ; wait++) {
        const { state } = await this.job();
        if (
          JSON.stringify([state.current?.stepId, state.current?.startedAt, state.attempt]) !==
          before
        )
          break;
        if (wait === 100) throw new Error(`Stays at “${step.title}” of ${this.tag}.`);
        await this.t.page.waitForTimeout(50);
      }
      await this.t.page.waitForTimeout(150);
    }
    throw new Error(`Never came to ${stepId ?? 'the end'}.`);
  }

  async #usual(step: Step, job: Job): Promise<void> {
    const { t } = this;
    const { model, figures } = job.plan;
    const volts = (per12V: number) => ((per12V * model.cells) / 6).toFixed(2);
    switch (step.kind) {
      case 'acknowledge':
        return this.tap('All of it is in place');
      case 'checks':
        for (const check of checksOf(step, job.plan)) {
          this.taps += 1;
          await t.page
            .getByRole('group', { name: fillText(check.text, job.plan) })
            .getByRole('button', { name: check.answers[0], exact: true })
            .click();
        }
        return this.tap(/^Checked$/);
      case 'acid':
        await t.page.getByLabel('Acid', { exact: true }).fill('25');
        this.keys += 2;
        return this.type(
          { 'Lot of the acid': 'B-1', 'SG as read': figures.fillSg.value.toFixed(3) },
          'It may go in',
        ).then(() => this.#sure('It may go in'));
      case 'ports':
        await this.tap(/in all the others$/);
        return this.tap(/^Checked/);
      case 'wait':
        return t.later(Math.max(0, (job.state.current?.dueAt ?? 0) - this.bench.now) + MINUTE);
      case 'do':
        if (step.amount) {
          const [field] = [t.field(new RegExp(`^${step.amount.label}`))];
          const text = (figures[step.amount.expected as 'fillMl']?.value ?? 100).toFixed(0);
          this.keys += text.length;
          await field.fill(text);
        }
        return this.tap(new RegExp(`^${step.act}`));
      case 'arrival':
        return this.type({ Volts: volts(12.45) });
      case 'cells': {
        for (let k = 0; k < model.cells; k++)
          await t.page.getByLabel(`Cell ${k + 1}`, { exact: true }).fill('1.265');
        this.keys += 5 * model.cells;
        return this.type({ 'Acid’s temperature': '25' }, 'Save cells');
      }
      case 'measure': {
        const read = standingReadings(job.state, 'rest').length;
        const high = believableRestV(model.cells, jobChemistry(job), figures.fillSg.value);
        return this.type({
          Volts: Math.min(high, figures.passV.value + 0.1 + read / 100).toFixed(2),
        });
      }
      case 'load':
        return this.type({
          [`Volts at ${figures.loadS.value} s`]: volts(11),
          Temperature: '21',
        });
      case 'verdict':
        return this.tap(/^Sign: /);
      case 'handover':
        return this.tap(/^Handed to/);
      default:
        throw new Error(`The hand knows no answer to “${step.title}” (${step.kind}).`);
    }
  }

  /** What is unusual is asked about once. */
  async #sure(act: string): Promise<void> {
    await this.t.page.waitForTimeout(400);
    if (await this.t.page.getByText('press the button once more').isVisible()) await this.tap(act);
  }
}
