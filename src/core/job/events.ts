import type { ChargerInUse } from '../chargers/charger.ts';
import type { DeviationWhat } from './deviation.ts';
import type { ChargePlan } from '../charging/chargePlan.ts';
import type {
  CapacityRecord,
  ChargeForecast,
  ChosenRoute,
  OutcomeRecord,
  ToldStory,
} from './recoveryState.ts';
import type { Liquid } from './topUp.ts';
import type { JobPlan } from '../plan/jobPlan.ts';
import type { Moment } from '../quantities/moment.ts';
import type { LeadDecision, Outcome, Verdict } from './outcome.ts';
import type { LiveStart } from './chargeState.ts';
import type { Reading } from './reading.ts';
import type { StepResult } from './stepResult.ts';
import type { Why } from './why.ts';
import type { StageEnd } from '../charging/stageEnd.ts';
import type { RefusedWhy } from './refusal.ts';

/** What happened, in the order it happened. Events are the truth of a job; its state is their fold. */
export type JobEvent =
  | { type: 'step.done'; stepId: string; result: StepResult | null }
  | { type: 'step.skipped'; stepId: string; reason: string }
  | { type: 'step.reopened'; stepId: string; reason: string }
  | { type: 'pass.repeated'; stepId: string; from: string; result: StepResult | null }
  | { type: 'wait.cut'; stepId: string; reason: string; remainingS: number }
  | { type: 'deviation'; stepId: string; what: DeviationWhat | string; reason: string }
  | { type: 'pack.refused'; code: string }
  | { type: 'topped-up'; liquid: Liquid; cells: number[]; ml: number | null; lot: string | null }
  | { type: 'job.refused'; stepId: string; why: RefusedWhy }
  | { type: 'refusal.taken-back'; stepId: string; reason: string }
  | {
      type: 'charge.started';
      place: number;
      setA: number;
      setV: number;
      charger?: ChargerInUse;
      live?: LiveStart;
    }
  | { type: 'charge.planned'; plan: ChargePlan }
  | { type: 'charge.stage'; stage: number; end: StageEnd }
  | { type: 'charge.paused'; why: Why; resumesItself?: true }
  | { type: 'charge.halted'; why: Why }
  | { type: 'charge.resumed'; temperatureC: number }
  | { type: 'charge.reconnected' }
  /** On another charger from now, or on the same one set otherwise. */
  | { type: 'charge.moved'; setA: number; setV: number; charger?: ChargerInUse }
  | { type: 'charge.found-off'; sinceAt: Moment }
  | { type: 'charge.warned'; why: Why }
  | { type: 'reading.taken'; reading: Reading }
  /** Its size is known now; the job goes on by the plan of that size. */
  | { type: 'size.told'; c20Ah: number; plan: JobPlan }
  | { type: 'job.paused'; reason: string }
  | { type: 'job.resumed' }
  | { type: 'note.added'; text: string }
  | { type: 'job.escalated'; reason: string }
  | { type: 'lead.decided'; decision: LeadDecision; reason: string }
  | { type: 'verdict.given'; verdict: Verdict }
  | { type: 'story.told'; story: ToldStory }
  | { type: 'route.chosen'; route: ChosenRoute; plan: ChargePlan }
  | {
      type: 'discharge.started';
      currentA: number;
      cutoffV: number;
      temperatureC: number;
      expectedEndAt: Moment;
    }
  | { type: 'discharge.dropped'; reason: string }
  | { type: 'capacity.tested'; test: CapacityRecord }
  /** By the twins, while a charge runs. */
  | { type: 'forecast.made'; forecast: ChargeForecast }
  | { type: 'outcome.given'; outcome: OutcomeRecord }
  /** The machine's clock was wrong and has been put right: the job's times are told by the new one. */
  | { type: 'clock.set'; byMs: number }
  | { type: 'job.closed'; outcome: Outcome; destination: 'customer' | 'shelf' | null };

/** An event with its moment and signature, as the log keeps it. */
export interface Signed<E> {
  at: Moment;
  by: string;
  event: E;
}
