import { auditViews } from '../support/audit.ts';

auditViews('every view of a job', [
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
]);
