import { procedureFor } from '../catalogue/catalogue.ts';
import { DEFAULT_RULES, type HouseRules } from '../house/rules.ts';
import { chargeStatus } from '../job/chargeStatus.ts';
import { type JobCommand, Refused } from '../job/commands.ts';
import type { DecisionContext } from '../job/context.ts';
import type { JobEvent, Signed } from '../job/events.ts';
import type { Job } from '../job/job.ts';
import { jobPlan } from '../plan/plan.ts';
import { type Step, stepById } from '../plan/procedure.ts';
import type { Moment } from '../quantities/moment.ts';
import { type Random, seeded } from '../simulation/random.ts';
import { decide } from '../steps/decide.ts';
import { evolve } from '../steps/evolve.ts';
import { openJob } from '../steps/openJob.ts';
import { clockEvents } from '../steps/settle.ts';
import {
  LOOK_MIN,
  TAKES,
  type DrillAct,
  type HappenedAt,
  type Shown,
  type ShownAt,
} from './acts.ts';
import type { DrillCase, Decision, Found, LookKind } from './case.ts';
import type { FactAt } from './facts.ts';
import { follow } from './follow.ts';
import { beginOf, closedForS, closesInS } from './hours.ts';
import { seedOf } from './seed.ts';
import { CannotTake, takeReading } from './taking.ts';
import { answersSeen, readingsSeen, unsafe } from './witness.ts';
import { type Inside, InsideTrace } from './inside.ts';
import { World } from './world.ts';

/** Who works at a case. */
export const PUPIL = 'pupil';

/** What came of an act. */
export interface ActAnswer {
  shown: Shown | null;
  happened: HappenedAt[];
}

/**
 * A case under way: the job as its pages see it, the battery as nobody sees it, and a clock that only acts move. What happens
 * follows from the case and the acts alone, so that a case is told, marked and looked back on by doing its acts again.
 */
export class DrillBench {
  job: Job;
  readonly beganAt: Moment;
  now: Moment;
  readonly world: World;
  readonly acts: DrillAct[] = [];
  readonly log: Signed<JobEvent>[] = [];
  readonly shown: ShownAt[] = [];
  readonly happened: HappenedAt[] = [];
  readonly facts: FactAt[] = [];
  /** Of a person's time, min. */
  handsMin = 0;
  /** Number of the job's last event, as pages count them. */
  seq = 0;
  readonly #random: Random;
  readonly #rules: HouseRules;
  readonly #inside = new InsideTrace();
  /** Minutes that readings and looks have taken since the step in hand began. */
  #withinStepMin = 0;

  constructor(readonly drillCase: DrillCase) {
    const { model, purpose, roomC, code } = drillCase;
    this.beganAt = beginOf(drillCase);
    this.now = this.beganAt;
    this.#rules = { ...DEFAULT_RULES, roomC };
    this.job = openJob(
      procedureFor(model.kind, purpose),
      jobPlan(model, this.#rules, purpose),
      this.now,
      PUPIL,
    );
    this.world = new World(drillCase);
    this.#random = seeded(seedOf(code));
  }

  /** What went on in the battery, moment by moment; nobody at the bench sees it. */
  get inside(): readonly Inside[] {
    return this.#inside.points;
  }

  get isOver(): boolean {
    return this.job.state.status !== 'running';
  }

  /** How long until something is due: a wait that is over, a look at a charge or a discharge, s; null where nothing is. */
  get dueInS(): number | null {
    const { current, charge, recovery } = this.job.state;
    const look = charge?.mode === 'running' ? chargeStatus(this.job, this.now).nextReadingAt : null;
    const dueAt = current?.dueAt ?? recovery?.discharge?.expectedEndAt ?? look;
    return dueAt !== null && dueAt !== undefined && dueAt > this.now
      ? (dueAt - this.now) / 1000
      : null;
  }

  /** How it was ended; null while it goes on. */
  get decision(): Decision | null {
    const { status, outcome } = this.job.state;
    if (status === 'with-lead') return 'with-lead';
    return status === 'refused' ? 'refused' : outcome;
  }

  /**
   * Does an act.
   *
   * @throws Refused where the job turns a command away, CannotTake where there is nothing to read; nothing has happened then
   */
  do(act: DrillAct): ActAnswer {
    const before = this.happened.length;
    const shown = this.#do(act);
    this.acts.push(act);
    return { shown, happened: this.happened.slice(before) };
  }

  /** How long until somebody is at the bench again, s; 0 while somebody is. */
  get closedForS(): number {
    return closedForS(this.drillCase, this.now);
  }

  #do(act: DrillAct): Shown | null {
    if (act.do !== 'wait' && this.closedForS > 0)
      throw new CannotTake('The shop is closed. Let time pass until it opens.');
    switch (act.do) {
      case 'command':
        this.#command(act.command, act.id);
        return null;
      case 'look': {
        const shown: Shown = { of: 'look', what: act.what, ...this.#look(act.what) };
        this.#show(shown, LOOK_MIN);
        return shown;
      }
      case 'take': {
        this.#mayMeasure(act.take);
        const shown = takeReading(act.take, this.world, this.drillCase, this.#random);
        this.#show(shown, TAKES[act.take].minutes);
        return shown;
      }
      case 'tap':
        if (this.world.isDry) throw new CannotTake('No pack stands on it yet.');
        this.world.tap(act.tube);
        this.#takes(LOOK_MIN);
        return null;
      case 'wait':
        this.#wait(act.seconds, act.alert);
        return null;
    }
  }

  /** A load where gas stands makes a spark. */
  #mayMeasure(take: keyof typeof TAKES): void {
    if (take !== 'load') return;
    const { world } = this;
    if (world.isDry) throw new CannotTake('It is dry. There is nothing to load yet.');
    const offMin = (world.currentOffS ?? 0) / 60;
    if (offMin < this.job.plan.figures.clearS.value / 60)
      this.note({ kind: 'spark', byLoad: true, afterMin: offMin });
  }

  #look(what: LookKind): Found & { cells?: readonly number[] } {
    const { drillCase } = this;
    if (what === 'tubes') return this.#lookAtTubes();
    if (what === 'packs')
      return {
        good: true,
        says: (drillCase.packs ?? []).map(({ code, lot }) => `Code ${code}, lot ${lot}.`).join(' '),
      };
    if (what === 'customer') return { good: true, says: drillCase.story.says };
    return drillCase.finds[what] ?? { good: true, says: AS_IT_SHOULD[what] };
  }

  #lookAtTubes(): Found & { cells?: readonly number[] } {
    const { world } = this;
    if (world.isDry) return { good: true, says: 'No pack stands on it yet.' };
    const cells = [...world.stillTubes];
    if (cells.length === 0) return { good: true, says: 'Bubbles rise in every tube.' };
    return {
      good: false,
      says: `No bubbles in tube ${cells.map((k) => k + 1).join(' and ')}.`,
      cells,
    };
  }

  #show(shown: Shown, minutes: number): void {
    this.#takes(minutes);
    this.shown.push({ at: this.now, shown });
  }

  /** Hands are busy for so long. */
  #takes(minutes: number): void {
    this.handsMin += minutes;
    this.#withinStepMin += minutes;
    this.#pass(60 * minutes, false);
  }

  /**
   * Somebody who waits for something to happen is there, too, when a wait of the job is over, and goes home when the shop closes.
   * While it is closed nobody notices anything, and somebody is there when it opens.
   */
  #wait(seconds: number, alert: boolean): void {
    if (!alert) return this.#pass(seconds, false);
    const { closedForS: closedS } = this;
    if (closedS > 0) return this.#pass(Math.min(seconds, closedS), false);
    const dueAt = this.job.state.current?.dueAt ?? null;
    const dueS = dueAt !== null && dueAt > this.now ? (dueAt - this.now) / 1000 : Infinity;
    this.#pass(Math.min(seconds, dueS, closesInS(this.drillCase, this.now)), true);
  }

  #pass(seconds: number, alert: boolean): void {
    const from = this.now;
    const { wentS, happened } = this.world.run(seconds, alert, (atS) =>
      this.#inside.note(from + 1000 * atS, this.world),
    );
    for (const { atS, what } of happened) this.happened.push({ at: this.now + 1000 * atS, what });
    this.now += Math.round(1000 * wentS);
    this.#append(clockEvents(this.job, this.now));
    const { hotS } = this.world.harm;
    if (hotS > LEFT_HOT_S && !this.facts.some((f) => f.fact.kind === 'left-hot'))
      this.note({ kind: 'left-hot', minutes: hotS / 60 });
  }

  note(fact: FactAt['fact']): void {
    this.facts.push({ at: this.now, stepId: this.job.state.current?.stepId ?? '', fact });
  }

  #command(command: JobCommand, commandId: string): void {
    this.#append(clockEvents(this.job, this.now));
    const { current } = this.job.state;
    const step = current ? stepById(this.job.procedure, current.stepId) : null;
    const events = decide(this.job, command, this.#context(commandId));
    for (const fact of answersSeen(this, step, command)) this.note(fact);
    for (const fact of readingsSeen(this, command)) this.note(fact);
    for (const event of events) {
      for (const fact of unsafe(this, step, event)) this.note(fact);
      follow(this, event, step);
    }
    this.#append(events.map((event) => ({ at: this.now, by: PUPIL, event })));
    if (step && events.some((e) => e.type === 'step.done')) this.#handsOf(step);
  }

  /** What is left of a step's usual time once its readings and looks are taken off. */
  #handsOf(step: Step): void {
    const left = Math.max(0, (step.handsS ?? 0) / 60 - this.#withinStepMin);
    this.#withinStepMin = 0;
    if (step.kind === 'diagnose' || step.kind === 'capacity' || left === 0) return;
    this.#takes(left);
    this.#withinStepMin = 0;
  }

  #context(commandId: string): DecisionContext {
    const { drillCase } = this;
    return {
      now: this.now,
      by: { id: PUPIL, role: 'technician' },
      commandId,
      takenPlaces: [],
      places: this.#rules.places,
      chargers: drillCase.chargers,
      replan: (c20Ah) =>
        jobPlan(
          { ...this.job.plan.model, c20Ah, estimate: null },
          this.#rules,
          this.job.procedure.purpose,
        ),
    };
  }

  #append(signed: Signed<JobEvent>[]): void {
    if (signed.length === 0) return;
    const stepBefore = this.job.state.current?.startedAt;
    this.log.push(...signed);
    this.seq += signed.length;
    this.job = signed.reduce(evolve, this.job);
    if (this.job.state.current?.startedAt !== stepBefore) this.#withinStepMin = 0;
  }
}

/** So long above 50 °C with current on is nobody's oversight, s. */
const LEFT_HOT_S = 15 * 60;
const AS_IT_SHOULD: Readonly<Record<Exclude<LookKind, 'tubes' | 'packs' | 'customer'>, string>> = {
  label: 'The label is the one of the job.',
  case: 'The case is whole and its sides are flat.',
  posts: 'The posts are straight and tight.',
  frost: 'It is not frozen.',
  foil: 'The foil is whole over every port.',
  strip: 'The cap strip is at hand, not pressed.',
  vent: 'The transport cap is off, the tube is whole.',
  levels: 'The acid stands at the mark in every cell.',
};

/** A case with acts done, as they were kept. Acts that are turned away are told and left out. */
export function playCase(drillCase: DrillCase, acts: readonly DrillAct[]): DrillBench {
  const bench = new DrillBench(drillCase);
  for (const act of acts) {
    try {
      bench.do(act);
    } catch (error) {
      if (!(error instanceof Refused) && !(error instanceof CannotTake)) throw error;
    }
  }
  return bench;
}
