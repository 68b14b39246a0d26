import { expose } from 'comlink';
import type { DrillAct } from '../../core/drill/acts.ts';
import { type Decision, type DrillCase, MARK_KEYS, type MarkKey } from '../../core/drill/case.ts';
import { goodTechnician } from '../../core/drill/goodTechnician.ts';
import { markCase } from '../../core/drill/marks.ts';
import { lookBack, type LookBack } from '../../core/drill/lookBack.ts';

/** How a test run of a case went. */
export interface TriedOut {
  decision: Decision | null;
  handsMin: number;
  hours: number;
  passed: boolean;
  fails: MarkKey[];
  /** What it reads as it comes, V; absent where it was refused before anybody measured. */
  arrivesV: number | undefined;
}

/** Looking back does every act again, and a good technician's: a second or two that no page waits for. */
const api = {
  lookBack: (drillCase: DrillCase, acts: DrillAct[]): LookBack => lookBack(drillCase, acts),

  /** What a good technician makes of a case: a test run before anybody gets it. */
  tryOut(drillCase: DrillCase): TriedOut {
    const good = goodTechnician(drillCase);
    const { passed, by } = markCase(good, good);
    return {
      decision: good.decision,
      handsMin: good.handsMin,
      hours: (good.now - good.beganAt) / 3_600_000,
      passed,
      fails: MARK_KEYS.filter((key) => !by[key].passed),
      arrivesV: good.shown.flatMap(({ shown }) =>
        shown.of === 'reading' && shown.take === 'volts' ? (shown.values.voltageV ?? []) : [],
      )[0],
    };
  },
};

export type DrillWorker = typeof api;
expose(api);
