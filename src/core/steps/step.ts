import { type JobCommand, type JobCommandType, Refused } from '../job/commands.ts';
import type { DecisionContext, LotUse } from '../job/context.ts';
import type { JobEvent } from '../job/events.ts';
import type { Hand } from '../job/hand.ts';
import type { Job, StepRun, RunOf, JobState } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Reading, ReadingRole } from '../job/reading.ts';
import type { JobPlan } from '../plan/jobPlan.ts';
import { type Step, stepById, type StepKind, type StepOf } from '../plan/procedure.ts';
import { fillText } from '../plan/words.ts';
import type { ResultOf } from '../job/stepResult.ts';
import type { OnStretch } from '../charging/progress.ts';

export type CommandOf<C extends JobCommandType> = Extract<JobCommand, { type: C }>;

/** A command that a step in hand was given. */
export interface Asked<K extends StepKind, C extends JobCommandType> {
  job: Job;
  step: StepOf<K>;
  command: CommandOf<C>;
  context: DecisionContext;
}

/** Commands a kind of step takes while it is in hand, and what each makes happen. */
export type Takes<K extends StepKind> = {
  readonly [C in JobCommandType]?: (asked: Asked<K, C>) => JobEvent[];
};

/** What a shop has few of, and a step may need. */
export type ScarceThing = 'charger' | 'load-tester' | 'discharge-load' | 'hydrometer';

/**
 * Everything a job needs to know of one kind of step, besides the commands it takes: those stand beside it in its file and in a
 * registry of their own (`takes.ts`), because no page has to decide. Whoever walks a job asks the registry (`registry.ts`) for the
 * module of the step in hand, never for the name of its kind. What a module does not say is as most steps are: hands work, done by
 * a tap.
 */
export interface StepModule<K extends StepKind> {
  kind: K;
  /** It ends by itself when its time is over: nobody needs to be there. */
  byItself?: true;
  /** The readings that end it, and whether one is whole enough to. */
  ends?: { by: readonly ReadingRole[]; whole?: (reading: Reading) => boolean };
  /** Readings it takes besides those that end it, which other steps refuse. */
  also?: readonly ReadingRole[];
  /** What a careful technician answers when nothing is wrong; not there where numbers have to be told. */
  usual?: (job: Job, step: StepOf<K>) => JobCommand;
  /** What it wants of a person at a moment; `null` for its own title, now. */
  hand?: (job: Job, step: StepOf<K>, run: StepRun, now: Moment) => Hand | null;
  /** What it takes of the shop besides hands, of which there are few. */
  takes?: ScarceThing;
  /** Somebody stays near all the while. */
  near?: (step: StepOf<K>) => boolean;
  /** How long it usually takes, s; its hands work where it does not say. */
  lasts?: (job: Job, step: StepOf<K>) => number;
  /** When a run of it that begins now is over by itself. */
  due?: (step: StepOf<K>, plan: JobPlan, at: Moment, runs: readonly StepRun[]) => Moment;
  /** When a run of it that is over really began, where that is not when it came up; and where its time counts from. */
  began?: (run: RunOf<K>) => Moment | null;
  countsFrom?: (step: StepOf<K>) => string | undefined;
  /** What of the job changes when it comes up, when it is over, and when it is opened again. */
  comesUp?: (step: StepOf<K>) => Partial<JobState>;
  isOver?: (state: JobState, at: Moment) => Partial<JobState>;
  opensAgain?: () => Partial<JobState>;
  /** Where a job goes back to when this step calls for another attempt. */
  repeatsFrom?: (step: StepOf<K>) => string;
  /** What to do with it where what was found leaves nothing to do after this step: of what the procedure has then, nothing comes. */
  leadsNowhere?: (job: Job) => string | null;
  /** Where it runs only at times: when it has, and when it will be over; null before it has begun. */
  stretches?: (job: Job, now: Moment) => { on: readonly OnStretch[]; until: Moment } | null;
  /** What goes to all of a tray at this step, and what does not. What is read or judged is each battery's own: `each`. */
  inTray?: 'each' | ((job: Job) => string);
  /** The battery has rested by then, and is drawn so. */
  rested?: true;
  /** What the ribbon calls it. */
  label?: (plan: JobPlan, step: StepOf<K>) => string;
  /** What a run of it says on the sheet, beside how it ended. */
  remark?: (job: Job, step: StepOf<K>, run: RunOf<K>) => string[];
  /** What it took from a lot of electrolyte when it was done. */
  takesFromLot?: (job: Job, result: ResultOf<K>) => LotUse | null;
  /** Why it cannot be skipped just now. */
  heldBy?: (job: Job) => string | null;
}

/** Writes a module; the compiler sees to it that its parts fit its kind. */
export const defineStep = <K extends StepKind>(module: StepModule<K>): StepModule<K> => module;

/** @throws Refused unless the step the command names is the one in hand, and the job is not paused */
export function inHand(job: Job, stepId: string): Step {
  const current = job.state.current;
  if (!job.procedure.steps.some((s) => s.id === stepId))
    throw new Refused(`This job has no step “${stepId}”.`, 'invalid', 'stepId');
  if (current?.stepId !== stepId) {
    const running = current
      ? fillText(stepById(job.procedure, current.stepId).title, job.plan)
      : 'nothing';
    throw new Refused(
      `That is not the step in hand. In hand: ${running}.`,
      'out-of-order',
      'stepId',
    );
  }
  if (job.state.paused)
    throw new Refused(`Paused: ${job.state.paused.reason}. Resume it first.`, 'out-of-order');
  return stepById(job.procedure, stepId);
}

/** The step is done, with what it brought. */
export const done = <K extends StepKind>(
  step: Extract<Step, { kind: K }>,
  result: ResultOf<K> | null = null,
): JobEvent => ({
  type: 'step.done',
  stepId: step.id,
  result,
});

/** The step in hand knows nothing of such a command. */
export const notThatWay = (job: Job, step: Step): Refused =>
  new Refused(`“${fillText(step.title, job.plan)}” does not work that way.`, 'invalid', 'type');
