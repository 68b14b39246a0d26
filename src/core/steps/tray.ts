import type { JobCommand, JobCommandType } from '../job/commands.ts';
import type { Job } from '../job/job.ts';
import { type StepKind, stepById } from '../plan/procedure.ts';
import { judge } from '../job/verdict.ts';

/** Commands that mean the same for every battery of a tray that stands at the same step. */
const FOR_ALL: ReadonlySet<JobCommandType> = new Set([
  'acknowledge',
  'answerChecks',
  'matchPack',
  'matchAcid',
  'confirmDone',
  'answerPorts',
  'cutWait',
  'skip',
  'reopen',
  'planCharge',
  'startCharge',
  'pauseCharge',
  'endCharge',
  'giveVerdict',
  'handOver',
  'pause',
  'resume',
]);

/** Is a command given to one battery meant for the others of its tray too? What is measured or told never is: each has its own. */
export const isForAll = (command: JobCommand): boolean => FOR_ALL.has(command.type);

/**
 * Why a command that goes to all does not go to this battery, though it stands at the same step.
 *
 * @param mine the battery it was given to
 * @returns a sentence, or null when it may go
 */
export function keptFrom(command: JobCommand, mine: Job, mate: Job): string | null {
  if (command.type !== 'giveVerdict') return null;
  const [wanted, found] = [judge(mine).outcome, judge(mate)];
  return wanted === found.outcome ? null : `Its own verdict is another: ${found.reasons[0] ?? found.outcome}. Sign it on its own page.`;
}

/** What goes to all at a step and what does not; said before anything is sent. */
export function trayWords(job: Job): string {
  const { current, charge } = job.state;
  const kind: StepKind | undefined = current ? stepById(job.procedure, current.stepId).kind : undefined;
  if (kind === 'verdict') return 'Signs those whose own verdict is the same; the others stay and are named.';
  if (kind === 'charge')
    return charge && charge.mode !== 'ended'
      ? 'Pausing and ending go to all. Readings, and going on after a pause, are each battery’s own.'
      : 'By hand it starts them all, each on a place that you see first. A charger that watches by itself starts this one alone.';
  return kind !== undefined && OWN.has(kind)
    ? 'What is read or judged here is each battery’s own: it goes to this one alone.'
    : 'Every answer here goes to all of them.';
}

/** Steps whose answers are measured or judged on one battery. */
const OWN: ReadonlySet<StepKind> = new Set([
  'arrival',
  'measure',
  'cells',
  'load',
  'hold-measure',
  'story',
  'diagnose',
  'wake',
  'wake-check',
  'capacity',
  'outcome',
]);
