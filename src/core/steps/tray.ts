import type { JobCommand, JobCommandType } from '../job/commands.ts';
import type { Job } from '../job/job.ts';
import { stepById } from '../plan/procedure.ts';
import { judge } from '../job/verdict.ts';
import { moduleOf } from './registry.ts';

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
  return wanted === found.outcome
    ? null
    : `Its own verdict is another: ${found.reasons[0] ?? found.outcome}. Sign it on its own page.`;
}

/** What goes to all at a step and what does not; said before anything is sent. */
export function trayWords(job: Job): string {
  const { current } = job.state;
  const inTray = current ? moduleOf(stepById(job.procedure, current.stepId)).inTray : undefined;
  if (inTray === 'each')
    return 'What is read or judged here is each battery’s own: it goes to this one alone.';
  return inTray?.(job) ?? 'Every answer here goes to all of them.';
}
