import type { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import type { DayPlanWire } from '../../contract/dayPlanWire.ts';
import type { Context } from '../context.ts';
import { readRules } from '../context.ts';
import { startThread } from '../place.ts';
import { benchJobs } from '../resources/jobs/jobWires.ts';
import { procedureOf } from '../resources/jobs/jobs.ts';
import { shopChargers } from '../resources/chargers/chargers.ts';
import { activePeople } from '../resources/people/people.ts';
import { type AskQuestion, Planning, type PlanQuestion } from './planning.ts';
import type { Moment } from '../../core/quantities/moment.ts';
import type { Pin } from '../../core/dayplan/pins.ts';
import type { ToldPlan } from '../../core/dayplan/told.ts';
import { keptPins, withPin } from '../resources/dayplan/pins.ts';
import {
  type Answer,
  answerQuestion,
  type FromPlanner,
  type PlannerQuestion,
  type ToPlanner,
} from './plannerLine.ts';
import type { Help } from '../../core/dayplan/helps.ts';
import type { Supposed } from '../../core/dayplan/suppose.ts';
import { keepPromises } from '../resources/dayplan/promises.ts';
import { upkeepOf } from '../resources/dayplan/upkeep.ts';

/** The planner's thread. */
export const PLANNER = 'server/dayplan/planner';
/** How far ahead is planned, h. */
const HORIZON_H = 168;
/** A plan is made better for so long, ms. */
const BETTER_MS = 2500;
/** Where the thread has said nothing by then, the quick plan is shown, ms. */
const PATIENCE_MS = 6000;
/** A plan is good for so long of bench time where nothing changes, ms. */
const GOOD_FOR_MS = 5 * 60_000;

type Told = Omit<DayPlanWire, 'madeAt'>;
type Asked = NonNullable<ReturnType<Planning['ask']>>;

/**
 * The plan of the shop's next days. It is made in a thread of its own from what stands in the file when it is asked for, kept
 * until something changes, and made better in the background; pages are told when it is.
 */
export class DayPlanner {
  #worker: Worker | null = null;
  #id = 0;
  /** A change makes what is known old. */
  #changes = 0;
  #madeAfter = -1;
  #now: DayPlanWire | null = null;
  #making: Promise<DayPlanWire> | null = null;
  readonly #waiting = new Map<number, { question: PlanQuestion; answer: (told: Told) => void }>();
  readonly #asked = new Map<number, (answer: Answer) => void>();
  /** The newest plan that was asked for. */
  #planId = 0;
  #closed = false;
  #keeping: Promise<void> = Promise.resolve();
  /** For where there is no thread. */
  readonly #planning = new Planning();

  constructor(
    private readonly context: Context,
    private readonly log: Logger,
    /** The program of its thread; without one the quick plan is all there is. */
    private readonly program: string | null = PLANNER,
  ) {
    context.changes.listen(({ topic }) => {
      if (topic !== 'charge' && topic !== 'dayPlan') this.#changes += 1;
    });
  }

  /** The plan as it stands: the known one while nothing has changed, else a new one. */
  async plan(): Promise<DayPlanWire> {
    const known = this.#now;
    const good =
      known !== null &&
      this.#madeAfter === this.#changes &&
      Math.abs(this.context.clock.now() - known.madeAt) < GOOD_FOR_MS;
    if (good) return known;
    return (this.#making ??= this.#make().finally(() => (this.#making = null)));
  }

  /**
   * What can be promised of batteries that are not there yet.
   *
   * @returns null where there is no plan to ask
   */
  async ask(ask: AskQuestion): Promise<Asked | null> {
    return (await this.#answerTo({ ask })) as Asked | null;
  }

  /** What the plan would be if this were set by hand, and everything else as it is; nothing is kept. */
  async tryOut(pin: Pin): Promise<ToldPlan | null> {
    const pins = withPin(await keptPins(this.context.store), pin);
    return (await this.#answerTo({ tryOut: pins })) as ToldPlan | null;
  }

  /** What the plan would be in a shop that is otherwise; nothing is kept. */
  async suppose(supposed: Supposed): Promise<ToldPlan | null> {
    return (await this.#answerTo({ suppose: supposed })) as ToldPlan | null;
  }

  /** What would make a promise safer, the best first. */
  async helps(workId: string): Promise<Help[]> {
    return ((await this.#answerTo({ helps: workId })) as Help[] | null) ?? [];
  }

  async #answerTo(question: PlannerQuestion): Promise<Answer> {
    await this.plan();
    const { program } = this;
    if (program === null) return answerQuestion(this.#planning, question);
    const id = ++this.#id;
    return new Promise((resolve) => {
      const patience = setTimeout(() => this.#asked.get(id)?.(null), PATIENCE_MS);
      patience.unref();
      this.#asked.set(id, (answer) => {
        clearTimeout(patience);
        this.#asked.delete(id);
        resolve(answer);
      });
      this.#thread(program).postMessage({ id, question } satisfies ToPlanner);
    });
  }

  /** The plan that was made last; null before the first. */
  last(): ToldPlan | null {
    return this.#now?.plan ?? null;
  }

  /** When a job is ready by the plan that was made last; null where that does not say. */
  readyAt(jobId: string): Moment | null {
    const plan = this.#now?.plan;
    const work = plan?.works.find((w) => w.id === jobId);
    if (!plan || !work?.ready || work.left) return null;
    return Math.max(this.context.clock.now(), plan.from + work.ready.middle * 60_000);
  }

  async close(): Promise<void> {
    this.#closed = true;
    await this.#keeping;
    await this.#worker?.terminate();
    this.#worker = null;
  }

  async #make(): Promise<DayPlanWire> {
    const changes = this.#changes;
    const question = await this.#question();
    const told = await this.#ask(question);
    this.#madeAfter = changes;
    this.#now = { ...told, madeAt: question.now };
    // The first answer is still made better; what is said of a promise is what the plan comes to.
    if (told.standing === 'quick') await this.#keep(told.plan);
    return this.#now;
  }

  async #question(): Promise<PlanQuestion> {
    const { store, clock } = this.context;
    const now = Math.floor(clock.now() / 60_000) * 60_000;
    const [rules, people, chargers, pins, wires] = [
      await readRules(store),
      await activePeople(store),
      await shopChargers(store),
      await keptPins(store),
      await benchJobs(store, now),
    ];
    const jobs = wires.filter((w) => w.state.status !== 'closed' && w.state.status !== 'refused');
    const ids = [...new Set(jobs.map((w) => w.procedureId))];
    const procedures = Object.fromEntries(
      await Promise.all(ids.map(async (id) => [id, await procedureOf(store, id)] as const)),
    );
    const upkeep = await upkeepOf(store, rules, now);
    const shop = { rules, people, chargers };
    return { shop, jobs, procedures, upkeep, now, horizonH: HORIZON_H, pins };
  }

  /** Asks the thread; where it does not answer, what can be said without it. */
  #ask(question: PlanQuestion): Promise<Told> {
    const { program } = this;
    if (program === null) return Promise.resolve(this.#quick(question));
    const id = ++this.#id;
    this.#planId = id;
    return new Promise((resolve) => {
      const patience = setTimeout(() => answer(this.#quick(question)), PATIENCE_MS);
      patience.unref();
      const answer = (told: Told): void => {
        clearTimeout(patience);
        this.#waiting.delete(id);
        resolve(told);
      };
      this.#waiting.set(id, { question, answer });
      try {
        this.#thread(program).postMessage({
          id,
          plan: question,
          forMs: BETTER_MS,
        } satisfies ToPlanner);
      } catch (err) {
        this.log.error({ err }, 'The planner cannot be asked.');
        answer(this.#quick(question));
      }
    });
  }

  #thread(program: string): Worker {
    if (this.#worker) return this.#worker;
    const worker = startThread(program);
    worker.unref();
    worker.on('message', (message: FromPlanner) => this.#hear(message));
    worker.on('error', (err) => {
      this.log.error({ err }, 'The planner died.');
      this.#gone(worker);
    });
    worker.on('exit', () => this.#gone(worker));
    this.#worker = worker;
    return worker;
  }

  #gone(worker: Worker): void {
    if (this.#worker !== worker || this.#closed) return;
    this.#worker = null;
    for (const { question, answer } of this.#waiting.values()) answer(this.#quick(question));
    for (const answer of this.#asked.values()) answer(null);
  }

  #hear(message: FromPlanner): void {
    if ('answer' in message) {
      this.#asked.get(message.id)?.(message.answer);
      return;
    }
    const answer = this.#waiting.get(message.id)?.answer;
    if ('fault' in message) {
      this.log.error({ fault: message.fault }, 'A plan could not be made.');
      answer?.({ plan: null, standing: 'quick', trouble: message.fault });
      this.#asked.get(message.id)?.(null);
      return;
    }
    const { plan, standing, id } = message;
    if (answer) {
      answer({ plan, standing, trouble: null });
      return;
    }
    if (standing !== 'settled' || id !== this.#planId || !this.#now) return;
    this.#now = { plan, standing, trouble: null, madeAt: this.#now.madeAt };
    void this.#keep(plan);
    this.context.changes.announce({ topic: 'dayPlan' });
  }

  /** Writes down what is said of new promises; the plan stands without it. */
  async #keep(plan: ToldPlan | null): Promise<void> {
    if (!plan || this.#closed) return;
    const { store, clock } = this.context;
    this.#keeping = this.#keeping
      .then(() => keepPromises(store, plan, clock.now()))
      .catch((err: unknown) => this.log.error({ err }, 'Promises could not be written down.'));
    await this.#keeping;
  }

  /** What can be said without the thread: works in the usual order, nothing made better. */
  #quick(question: PlanQuestion): Told {
    try {
      const { problem, first } = this.#planning.begin(question);
      return { plan: this.#planning.tell(problem, first), standing: 'quick', trouble: null };
    } catch (error) {
      const trouble = error instanceof Error ? error.message : String(error);
      return { plan: null, standing: 'quick', trouble };
    }
  }
}
