import { GROUPS } from '../../src/web/views/rules/groups.ts';
import type { AuditedView } from './audit.ts';

/** Every view of a job, at the demo's batteries that stand there. */
export const JOB_VIEWS: readonly AuditedView[] = [
  ['Job, checks', (jobPath) => jobPath('LK-0413')],
  ['Job, ports', (jobPath) => jobPath('LK-0412')],
  ['Job, wait', (jobPath) => jobPath('LK-0407')],
  ['Job, charge', (jobPath) => jobPath('LK-0409')],
  ['Job, charge on an instrument', (jobPath) => jobPath('LK-0403')],
  ['Job, charge that asks', (jobPath) => jobPath('LK-0406')],
  ['Job, charge to start', (jobPath) => jobPath('LK-0404')],
  ['Job, paused', (jobPath) => jobPath('LK-0408')],
  ['Job, load test', (jobPath) => jobPath('LK-0401')],
  ['Job, with the lead', (jobPath) => jobPath('LK-0396')],
  ['Job, refused', (jobPath) => jobPath('LK-0410')],
  ['Job, diagnosis', (jobPath) => jobPath('LK-0400')],
  ['Job, hold of a recovery', (jobPath) => jobPath('LK-0399')],
  ['Job, levels of a tray', (jobPath) => jobPath('LK-0414')],
  ['Job, conventional charge', (jobPath) => jobPath('LK-0420')],
  ['Job, wet stock', (jobPath) => jobPath('LK-0226')],
];

/** Every other view. */
export const OTHER_VIEWS: readonly AuditedView[] = [
  ['Bench', () => '/'],
  ['Intake', () => '/intake'],
  ['Field guide', () => '/guide'],
  ['Record of a recovery', () => '/batteries/LK-0395'],
  ['Sets', () => '/shelf/sets'],
  ['Sheet', (jobPath) => `${jobPath('LK-0402')}/sheet`],
  ['Rehearsal', () => '/rehearsal'],
  ['Rehearsal of a job', (jobPath) => `/rehearsal?job=${jobPath('LK-0404').split('/')[2]}`],
  ['Chargers', () => '/chargers'],
  ['Day plan', () => '/plan'],
  ['Hours and absences', () => '/rules/hours'],
  ['Shelf', () => '/shelf'],
  ['Round of the shelf', () => '/shelf/round'],
  ['Wet room', () => '/wet-room'],
  ['Drill', () => '/drill'],
  ['Table to bring in', () => '/records/import'],
  ['Record of a battery on the shelf', () => '/batteries/LK-0219'],
  ['Records', () => '/records'],
  ['Record with a charge', () => '/batteries/LK-0403'],
  ['Record', () => '/batteries/LK-0398'],
  ['House rules', () => '/rules'],
  ['Claims', () => '/records/claims'],
  ['What fails', () => '/records/failures'],
  ['Promises kept', () => '/records/promises'],
  ['Results of recoveries', () => '/records/recoveries'],
  ['Nothing there', () => '/nowhere'],
];

/** Every group of the house rules. */
export const RULE_VIEWS: readonly AuditedView[] = GROUPS.map(({ key, name }) => [
  `House rules, ${name}`,
  () => `/rules/${key}`,
]);
