import { auditViews } from '../support/audit.ts';
import { JOB_VIEWS } from '../support/views.ts';

auditViews('every view of a job', JOB_VIEWS);
