import { expose } from 'comlink';
import type { DrillAct } from '../../core/drill/acts.ts';
import type { DrillCase } from '../../core/drill/case.ts';
import { lookBack, type LookBack } from '../../core/drill/lookBack.ts';

/** Looking back does every act again, and a good technician's: a second or two that no page waits for. */
const api = {
  lookBack: (drillCase: DrillCase, acts: DrillAct[]): LookBack => lookBack(drillCase, acts),
};

export type DrillWorker = typeof api;
expose(api);
