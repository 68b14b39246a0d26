import type { Logger } from 'pino';
import {
  DiagnosisRun,
  type Diagnosis,
  type DiagnosisQuestion,
} from '../../core/diagnosis/diagnose.ts';
import { experienceHere } from '../resources/recoveries/recoveries.ts';
import { forecastBy, forecastDue, routeUnderWay } from '../../core/recovery/forecasts.ts';
import { settle } from '../../core/steps/settle.ts';
import { CLOCK } from '../../core/job/signers.ts';
import { type ChargingTrace, diagnosisQuestion } from '../../core/recovery/question.ts';
import { type Context, readRules } from '../context.ts';
import { readJob, recordInJob } from '../resources/jobs/jobs.ts';
import { runningRecoveries } from '../resources/jobs/openJobs.ts';
import { chargeRow } from './chargeRows.ts';
import { sampleColumns } from './samples.ts';

/** Work between two looks at what else is asked of the server, ms. */
const SLICE_MS = 8;
/** Real time between two looks for a forecast that is due, ms. */
const LOOK_EVERY_MS = 5000;
const TRACE_POINTS = 300;

/**
 * Forecasts the charges of recoveries by what they have shown so far, and keeps that with the job, so that it can
 * be held against what came. One at a time, in slices between which everything else goes on.
 */
export class Forecaster {
  #timer: NodeJS.Timeout | undefined;
  #working: Promise<void> = Promise.resolve();
  #busy = false;
  #leaving = false;

  constructor(
    private readonly context: Context,
    private readonly log: Logger,
  ) {}

  /** Makes forecasts as they fall due, until it is closed. */
  begin(): void {
    this.#timer = setInterval(() => {
      if (this.#busy) return;
      this.#busy = true;
      this.#working = this.#next()
        .then(() => undefined)
        .catch((err: unknown) => this.log.error({ err }, 'a forecast failed'))
        .finally(() => (this.#busy = false));
    }, LOOK_EVERY_MS);
  }

  /** Makes every forecast that is due now. */
  async settle(): Promise<void> {
    await this.#working;
    while (await this.#next());
  }

  /** Makes one forecast; false when none is due. */
  async #next(): Promise<boolean> {
    const { store, clock } = this.context;
    for (const jobId of await runningRecoveries(store)) {
      const now = clock.now();
      const job = settle(await readJob(store, jobId), now);
      const mark = forecastDue(job, now);
      if (mark === null) continue;
      const { stakes, learnSince } = await readRules(store);
      const { experience } = await experienceHere(store, learnSince, now);
      const question = diagnosisQuestion(job, stakes, {
        seen: await this.#trace(job.state.charge?.live?.chargeId),
        underWay: routeUnderWay(job),
        experience,
      });
      if (!question.evidence.some((e) => e.of === 'charging')) continue;
      const answer = await this.#diagnose(question);
      if (!answer) return false;
      // It may have ended meanwhile; a forecast that came too late is none.
      await recordInJob(
        this.context,
        jobId,
        now,
        (standing) => {
          const forecast =
            forecastDue(standing, now) === mark ? forecastBy(standing, answer, mark, now) : null;
          return forecast ? [{ type: 'forecast.made', forecast }] : [];
        },
        CLOCK,
      );
      return true;
    }
    return false;
  }

  async #trace(chargeId: string | undefined): Promise<ChargingTrace | null> {
    if (chargeId === undefined) return null;
    const { store } = this.context;
    const { columns: samples } = await sampleColumns(
      store,
      (await chargeRow(store, chargeId)).seq as number,
      TRACE_POINTS,
    );
    return { hours: samples.hours, volts: samples.voltageV, amps: samples.currentA };
  }

  /** Null when the server leaves meanwhile. */
  async #diagnose(question: DiagnosisQuestion): Promise<Diagnosis | null> {
    const work = new DiagnosisRun(question).work();
    for (;;) {
      const began = performance.now();
      while (performance.now() - began < SLICE_MS) {
        const { done, value } = work.next();
        if (done) return value;
      }
      if (this.#leaving) return null;
      await new Promise((resolve) => setImmediate(resolve));
    }
  }

  async close(): Promise<void> {
    this.#leaving = true;
    clearInterval(this.#timer);
    await this.#working;
  }
}
