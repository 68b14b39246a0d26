import { UTC_CLOCKS } from '../../core/quantities/zonedTime.ts';
import { ADDRESSES, type AddressKey } from '../../contract/addresses.ts';
import type { Answers } from '../../contract/answers.ts';
import type { Battery, JobWire, Person, Problem, Shop } from '../../contract/wire.ts';
import { STANDARD_PLANS } from '../../core/charging/chargePlan.ts';
import { experienceOf } from '../../core/diagnosis/practice/experience.ts';
import type { DrillAct } from '../../core/drill/acts.ts';
import type { DrillCase } from '../../core/drill/case.ts';
import { type DrillBench, PUPIL, playCase } from '../../core/drill/drillBench.ts';
import { CannotTake } from '../../core/drill/taking.ts';
import { Refused } from '../../core/job/commands.ts';
import type { JobCommand } from '../../core/job/commands.ts';
import { calibration } from '../../core/results/calibration.ts';
import { ProblemError } from '../line/api.ts';
import { CASE_JOB } from '../line/drillPlace.ts';
import type { Attempt } from './attempts.ts';

/** What a page asks, and what is answered from the case. */
type Answerers = {
  [K in AddressKey & keyof Answers]?: (params: Record<string, string>, body: unknown) => Answers[K];
};

/**
 * The bench of a case, answering in the page what the server answers the pages of the shop: one battery, one job, its chargers.
 * It knows nothing of the shop but its name, units and how it writes times.
 */
export class DrillServer {
  readonly bench: DrillBench;
  readonly #shop: Shop;
  readonly #onAct: (attempt: Attempt) => Promise<void>;

  /**
   * @param shop its rules are those of the shop where they say how things are written, else the usual ones
   * @param person who is at the case; signs everything in it
   * @param onAct keeps what was done; awaited before an act is answered for
   */
  constructor(
    readonly drillCase: DrillCase,
    readonly attempt: Attempt,
    shop: Pick<Shop, 'rules'>,
    person: Pick<Person, 'name' | 'initials'>,
    onAct: (attempt: Attempt) => Promise<void>,
  ) {
    this.bench = playCase(drillCase, attempt.acts);
    this.#shop = {
      rules: shop.rules,
      rulesVersion: 'drill',
      people: [{ id: PUPIL, ...person, role: 'technician', active: true }],
      demo: false,
      clocks: UTC_CLOCKS,
    };
    this.#onAct = onAct;
  }

  async answer(method: string, path: string, body: unknown): Promise<unknown> {
    const [plain = ''] = path.split('?');
    for (const [key, address] of Object.entries(ADDRESSES)) {
      const names = [...address.path.matchAll(/:(\w+)/g)].map((m) => m[1] as string);
      const found = new RegExp(`^${address.path.replaceAll(/:\w+/g, '([^/]+)')}$`).exec(plain);
      if (!found || address.method.toUpperCase() !== method) continue;
      const params = Object.fromEntries(
        names.map((name, i) => [name, decodeURIComponent(found[i + 1] as string)]),
      );
      if (key === 'sendCommand')
        return this.#send(body as { commandId: string; command: JobCommand });
      const answer = this.#answers[key as keyof Answerers];
      if (answer) return answer(params, body);
    }
    throw no({ code: 'not-found', message: 'This is not part of a case.' }, 404);
  }

  readonly #answers: Answerers = {
    clock: () => ({ now: this.bench.now, rate: 0, demo: false, machine: null }),
    shop: () => this.#shop,
    signInState: () => ({
      required: false,
      personId: PUPIL,
      people: this.#shop.people.map((p) => ({ ...p, hasPin: false })),
    }),
    bench: () => ({
      procedures: { [this.#procedureId]: this.bench.job.procedure },
      jobs: [this.job()],
    }),
    job: () => ({ job: this.job(), procedure: this.bench.job.procedure }),
    models: () => [{ ...this.drillCase.model, id: this.drillCase.model.code }],
    record: () => ({
      battery: this.#battery(),
      model: { ...this.drillCase.model, id: this.drillCase.model.code },
      procedures: { [this.#procedureId]: this.bench.job.procedure },
      jobs: [this.job()],
      events: [],
      shelfReadings: [],
      stock: null,
      logs: [],
    }),
    chargers: () => ({ chargers: [...this.drillCase.chargers] }),
    notes: () => ({ notes: [] }),
    claims: () => ({ claims: [] }),
    holds: () => ({ holds: [] }),
    lots: () => ({ lots: [] }),
    plans: () => ({ standard: [...STANDARD_PLANS], own: [] }),
    experience: () => ({
      experience: experienceOf([], [], { asOf: this.bench.now, since: null }),
      held: calibration([]),
    }),
    dayPlan: () => ({ plan: null, standing: 'settled', madeAt: this.bench.now, trouble: null }),
    file: () => ({ ok: true, lastWriteAt: null, freeBytes: 2 ** 40, backupAt: null, warnings: [] }),
  };

  /** Does an act and keeps it. @throws ProblemError where it is turned away */
  async act(act: DrillAct): Promise<void> {
    try {
      this.bench.do(act);
    } catch (error) {
      if (error instanceof CannotTake) throw no({ code: 'invalid', message: error.message }, 422);
      if (error instanceof Refused)
        throw no(
          {
            code: error.code,
            message: error.message,
            ...(error.field ? { fields: { [error.field]: error.message } } : {}),
          },
          422,
        );
      throw error;
    }
    this.attempt.acts.push(act);
    await this.#onAct(this.attempt);
  }

  /** A command that has been done already is answered again, not done again. */
  async #send({
    commandId,
    command,
  }: {
    commandId: string;
    command: JobCommand;
  }): Promise<Answers['sendCommand']> {
    const isDone = this.attempt.acts.some((a) => a.do === 'command' && a.id === commandId);
    if (!isDone) await this.act({ do: 'command', id: commandId, command });
    return { job: this.job() };
  }

  job(): JobWire {
    const { plan, state } = this.bench.job;
    return {
      id: CASE_JOB,
      battery: this.#battery(),
      procedureId: this.#procedureId,
      plan: state.replanned ?? plan,
      state,
      seq: this.bench.seq,
    };
  }

  get #procedureId(): string {
    return this.bench.job.procedure.id;
  }

  #battery(): Battery {
    const { code, model, forWhom, dateCode, promisedH } = this.drillCase;
    return {
      id: code,
      tag: code,
      modelId: model.code,
      modelCode: model.code,
      modelName: model.name,
      cells: model.cells,
      dateCode,
      owner: forWhom,
      promisedAt: promisedH === undefined ? null : this.bench.beganAt + promisedH * 3_600_000,
      takenInAt: this.bench.beganAt,
      trayId: null,
      place: null,
      supplier: null,
    };
  }
}

const no = (problem: Omit<Problem, 'fields'> & Partial<Problem>, status: number): ProblemError =>
  new ProblemError({ fields: {}, ...problem }, status);
