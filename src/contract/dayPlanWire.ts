import type { AskedPromise } from '../core/dayplan/ask.ts';
import type { ServiceDue } from '../core/storage/services.ts';
import type { ToldPlan } from '../core/dayplan/told.ts';

/** The plan of the shop's next days, and how far it has come. */
export interface DayPlanWire {
  /** Null where no plan could be made; `trouble` says why. */
  plan: ToldPlan | null;
  /** `first`: it is still made better. `quick`: the planner is not at hand, and this is what can be said without it. */
  standing: 'first' | 'settled' | 'quick';
  madeAt: number;
  trouble: string | null;
}

/** Whose batteries are to be asked in for their service, longest away first; none between seasons. */
export interface ServicesWire {
  season: { name: string; from: string } | null;
  due: ServiceDue[];
}

/** What can be promised of batteries that are not there yet. */
export interface AskedWire {
  /** Minutes are counted from `from`; null where there is no plan to ask. */
  answer: AskedPromise | null;
  from: number;
}
