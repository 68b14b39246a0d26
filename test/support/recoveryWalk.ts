import { leadAcidKind } from '../../src/core/batteries/kinds.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import { firstChargePlan } from '../../src/core/charging/jobChargePlan.ts';
import { CAUSE_KEYS } from '../../src/core/diagnosis/causes.ts';
import { Showing } from '../../src/core/diagnosis/showing.ts';
import type { Job } from '../../src/core/job/job.ts';
import { batteryOfPlan, handSettings } from '../../src/core/recovery/recovery.ts';
import { needsWaking } from '../../src/core/recovery/evidence.ts';
import { subjectOf } from '../../src/core/recovery/question.ts';
import { hasten, hoursOnLoad, restFor } from '../../src/core/rehearsal/hasten.ts';
import { labelledSize } from '../../src/core/simulation/labelled.ts';
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
import { HOUR, MINUTE } from './battery.ts';
import type { TestBench } from './bench.ts';
import type { Technician } from './browser.ts';

const STOP_C = 50;
const MOST_STEPS = 40;

export interface Arrival {
  model: RegExp;
  condition: Omit<Condition, 'temperatureC'>;
  /** Button of its story, days it stood, years of age; empty where nobody knows. */
  story: string;
  days?: string;
  years?: string;
  white?: boolean;
  /** Mass by its label, kg. */
  wetKg?: string;
}

/** Takes a battery in for recovery, by the model's words in the list. @returns its tag */
export async function takeIn(t: Technician, model: RegExp): Promise<string> {
  await t.open('/intake');
  const option = t.field('Model').locator('option', { hasText: model });
  await t.field('Model').selectOption({ label: (await option.first().textContent())! });
  await t.page.getByText('Recover', { exact: true }).click();
  const tag = await t.field('Tag').inputValue();
  await t.field('Date code').fill('2023-05');
  await t.field('Customer or machine').fill('Mill farm, mower');
  await t.press('Take it in and open the job');
  await t.step('Look it over: is it safe to work on?');
  return tag;
}

/** Looked over and cleaned, its story told. */
export async function throughTheDoor(
  t: Technician,
  told: { story: string; days?: string; years?: string; white?: boolean; wetKg?: string },
): Promise<void> {
  for (const yes of ['It does', 'Whole', 'Flat', 'Firm', 'Not frozen'])
    await t.page.getByRole('button', { name: yes, exact: true }).click();
  await t.press('Checked');
  await t.step('Make the place safe');
  await t.press('All of it is in place');
  await t.step('Clean it before anything is opened');
  await t.press(/^Clean$/);
  await t.step('What happened to it?');
  await t.press(new RegExp(`^${told.story}`));
  if (told.white) await t.press(/^White growth/);
  await t.field('Days unused, if known').fill(told.days ?? '');
  await t.field('Its age, if known').fill(told.years ?? '');
  await t.field('Weight by its label, filled').fill(told.wetKg ?? '');
  await t.press('Save');
  await t.step('Rest voltage on arrival');
}

/**
 * A technician at the real pages with a simulated battery on the bench: every reading typed in is what that battery
 * shows, and every charge and load does to it what it would.
 */
export class RecoveryWalk {
  battery!: SimBattery;
  tag = '';
  /** Route by its name, and how it is woken where the page asks; the proposed one where none is given. */
  route: string | null = null;
  wake = 'Dumb supply';
  /** Felt hot while it is woken, from 1. */
  hotCell: number | null = null;
  /** What an analyser says in place of the load test, A. */
  cca: string | null = null;
  #volts = 0;

  constructor(
    readonly bench: TestBench,
    readonly t: Technician,
  ) {}

  job = (): Promise<Job> => this.bench.jobOf(this.tag);

  async #showing(): Promise<Showing> {
    const suspect = {
      chances: new Float64Array(0),
      battery: copyBattery(this.battery),
      causes: new Set([]),
      primary: CAUSE_KEYS[0]!,
      active: 1,
      hard: 0,
    };
    return new Showing(suspect, subjectOf(await this.job()));
  }

  /** In at the door, looked over, its story told, its rest voltage read. */
  async arrives({
    model,
    condition,
    story,
    days = '',
    years = '',
    white = false,
    wetKg = '',
  }: Arrival): Promise<this> {
    const { t } = this;
    this.tag = await takeIn(t, model);
    const { plan } = await this.job();
    const { chemistry } = leadAcidKind(plan.model.kind);
    this.battery = makeBattery(DESIGNS[chemistry], labelledSize(plan.model), {
      ...condition,
      temperatureC: 20,
    });
    if (condition.cells?.some((c) => c.shortOhm !== undefined)) restFor(this.battery, 6 * 3600);
    await throughTheDoor(t, { story, days, years, white, wetKg });
    await this.#reads({ Volts: (await this.#showing()).restV.toFixed(2), Temperature: '20' });
    await t.step('What is wrong with it, and what to try');
    return this;
  }

  /** Readings that are worth taking: a load, every cell where they open, and whatever else is given by its label. */
  async measures(spot: Record<string, string> = {}): Promise<this> {
    const { t } = this;
    const showing = await this.#showing();
    const { figures } = (await this.job()).plan;
    const { underV, afterV } = showing.load(figures.loadA.value, figures.loadS.value);
    if (showing.restV > 8) {
      await this.#next(/^Load test/);
      await this.#reads(
        {
          [`Volts at ${figures.loadS.value} s`]: underV.toFixed(2),
          Temperature: '20',
          Before: showing.restV.toFixed(2),
          After: afterV.toFixed(2),
        },
        'Save',
      );
      await t.page.getByRole('dialog').waitFor({ state: 'detached' });
    }
    if (Object.keys(spot).length > 0) {
      await this.#next(/^(Volts, CCA|CCA|Resistance|Mass)/);
      await this.#reads(spot, 'Save');
      await t.page.getByRole('dialog').waitFor({ state: 'detached' });
    }
    await t.page.waitForTimeout(400);
    await this.settled();
    return this;
  }

  /** Opens what takes a reading; it may be offered elsewhere once an answer has come. */
  async #next(name: RegExp): Promise<void> {
    const dialog = this.t.page.getByRole('dialog');
    // A tap that falls together with a new answer may meet a button that has just moved.
    for (let tap = 0; tap < 3 && !(await dialog.isVisible()); tap++) {
      await this.settled();
      await this.t.page
        .getByRole('region', { name: 'Measure next' })
        .getByRole('button', { name })
        .first()
        .click();
      await this.t.page.waitForTimeout(400);
    }
    await dialog.waitFor();
  }

  settled = () => this.t.sees(/^Settled/);

  /** Likeliest causes as the page shows them, first to last. */
  async causes(): Promise<string> {
    return this.t.page.getByRole('region', { name: 'What it may be' }).innerText();
  }

  async #reads(values: Record<string, string>, act = 'Save reading'): Promise<void> {
    const answered = this.t.page.waitForResponse((response) =>
      response.url().endsWith('/commands'),
    );
    await this.t.read(values, act);
    // The server asks once about what is implausible; a sick battery often is.
    if (!(await answered).ok()) await this.t.press('Yes, save it');
  }

  async #title(): Promise<string> {
    return this.t.page
      .getByRole('region', { name: 'Step in hand' })
      .getByRole('heading')
      .first()
      .innerText();
  }

  /** Goes on, step by step, to the one of this title. */
  async to(title: string): Promise<this> {
    for (let i = 0; i < MOST_STEPS; i++) {
      const at = await this.#title();
      if (at.startsWith(title)) return this;
      const { state } = await this.job();
      await this.#act(at);
      for (let wait = 0; wait < 200; wait++) {
        const now = (await this.job()).state;
        if (
          now.current?.stepId !== state.current?.stepId ||
          now.attempt !== state.attempt ||
          now.status !== state.status
        )
          break;
        await this.t.page.waitForTimeout(50);
        if (wait === 199) throw new Error(`Stays at “${at}” of ${this.tag}.`);
      }
      await this.t.page.waitForTimeout(150);
    }
    throw new Error(`Never came to “${title}”.`);
  }

  async #act(title: string): Promise<void> {
    const { t, battery } = this;
    const { plan } = await this.job();
    const showing = await this.#showing();
    if (title.startsWith('What is wrong')) return this.takesRoute();
    if (title === 'Wake it') return t.press('Clips on, charger on');
    if (title.startsWith('Let it take current')) {
      const stepper = new Stepper(battery);
      stepper.run({ currentA: 0.1 * battery.c20Ah, limitV: 2.45 * battery.cells }, 3600);
      this.#volts = stepper.voltageV;
      return t.later(HOUR + MINUTE);
    }
    if (title.startsWith('Has it woken')) {
      if (this.hotCell)
        for (const feel of ['cool', 'warm'])
          await t.page.getByLabel(`Cell ${this.hotCell}: ${feel}`).click();
      await t.field('Volts now').fill(this.#volts.toFixed(2));
      return t.press(this.hotCell ? 'It is off: a short' : 'Save');
    }
    if (title.startsWith('Levels')) {
      topUp(battery);
      await t.press(/in all the others$/);
      return t.press(/^Checked$/);
    }
    if (title === 'Charge by the route' || title === 'Charge it full again')
      return this.#charges(title === 'Charge by the route');
    if (title.startsWith('Mix the acid')) {
      mixLayers(battery);
      return t.press(/^Mixed$/);
    }
    if (title.startsWith('Charger off')) return t.later(6 * MINUTE);
    if (title.startsWith('SG of every cell')) {
      for (let k = 0; k < battery.cells; k++)
        await t.page.getByLabel(`Cell ${k + 1}`, { exact: true }).fill(showing.sg(k).toFixed(3));
      return this.#reads({ 'Acid’s temperature': '25' }, 'Save cells');
    }
    if (title.startsWith('Caps on')) {
      for (const yes of ['On', 'Clear'])
        await t.page.getByRole('button', { name: yes, exact: true }).click();
      return t.press(/^Checked$/);
    }
    if (title.startsWith('Rest with')) {
      restFor(battery, 24 * 3600);
      return t.later(24 * HOUR + MINUTE);
    }
    if (title.startsWith('Measure the rest')) {
      await this.#reads({ Volts: showing.restV.toFixed(2) });
      await t.page.waitForTimeout(300);
      if ((await this.#title()) !== title) return undefined;
      // Too high to be believed the first time.
      await t.later(10 * MINUTE);
      return this.#reads({ Volts: showing.restV.toFixed(2) });
    }
    if (title.startsWith('Load test') && this.cca) {
      await t.press(/analyser/i);
      return this.#reads({ CCA: this.cca });
    }
    if (title.startsWith('Load test'))
      return this.#reads({
        [`Volts at ${plan.figures.loadS.value} s`]: showing
          .load(plan.figures.loadA.value, 15)
          .underV.toFixed(2),
        Temperature: '20',
      });
    if (title.startsWith('Capacity')) {
      const { testA, cutoffV } = plan.figures;
      await t.field('Its temperature').fill('20');
      await t.press('Load is on, clock runs');
      await t.sees('On load for');
      const minutes = Math.max(2, 60 * hoursOnLoad(battery, testA!.value, cutoffV!.value));
      await t.later(minutes * MINUTE);
      await t.field('Minutes on load').fill(minutes.toFixed(0));
      return t.press('It fell to the cut-off, load off');
    }
    if (title.startsWith('Hold')) {
      restFor(battery, 7 * 24 * 3600);
      return t.later(7 * 24 * HOUR + MINUTE);
    }
    if (title.startsWith('Measure it after'))
      return this.#reads({ Volts: showing.restV.toFixed(2), 'It stood at': '20' });
    if (title.startsWith('Draw the acid')) return t.press(/^Drawn$/);
    throw new Error(`The walk knows no answer to “${title}”.`);
  }

  async takesRoute(): Promise<void> {
    const { t } = this;
    await this.settled();
    if (this.route) await t.page.getByRole('radio', { name: new RegExp(`^${this.route}`) }).click();
    if (needsWaking(await this.job()))
      await t.page.getByRole('button', { name: this.wake, exact: true }).click();
    await t.sends(() => t.press(/^Take this route/), 'Take it');
  }

  /** By hand: what the plan does to it happens, then the last volts and amperes are read and it is ended. */
  async #charges(byRoute: boolean): Promise<void> {
    const { t, battery } = this;
    const job = await this.job();
    const { model, figures } = job.plan;
    const chosen = byRoute ? job.state.chargePlan : null;
    const plan =
      chosen ??
      firstChargePlan(
        model,
        leadAcidKind(model.kind).chemistry,
        figures.chargeA.value,
        figures.ceilingV.value,
      );
    const { fitted } = fitPlan(plan, batteryOfPlan(job));
    await t.press('Charge by hand here instead');
    await t.bringsOwnCharger();
    await t.press('Current is on');
    await t.page
      .getByRole('button', { name: /^(End the charge early|Charger off: end the charge)/ })
      .waitFor();
    const { hours } = hasten(battery, fitted!, STOP_C);
    const { setA, setV } = handSettings(job);
    const stepper = new Stepper(copyBattery(battery));
    stepper.run({ currentA: setA, limitV: setV }, 120);
    await t.later(Math.max(2, hours) * HOUR);
    await this.#reads({
      Volts: stepper.voltageV.toFixed(2),
      Amps: Math.max(0, stepper.currentA).toFixed(2),
      Temperature: '24',
    });
    await t.page.waitForTimeout(300);
    await t.sends(() => t.press(/^(End the charge early|Charger off: end the charge)/), 'End it');
  }

  /** Signs what the numbers say. */
  async signs(): Promise<string> {
    const said = await this.t.page.getByRole('button', { name: /^Sign: / }).innerText();
    await this.t.press(/^Sign: /);
    return said.replace('Sign: ', '');
  }
}
