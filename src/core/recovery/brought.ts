import type { CauseKey } from '../diagnosis/causes.ts';
import type { FamilyKey } from '../diagnosis/practice/families.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import type { RecoveryOutcome } from '../job/recoveryState.ts';
import { cyclesOf } from './cycles.ts';

/** What an ended recovery came to, in the numbers that a shop counts. */
export interface RecoveryBrought {
  kind: string;
  model: string;
  /** The cause that was most likely when its last route was chosen; null where none was worked out. */
  cause: CauseKey | null;
  /** What it was in the end, by who signed; null where nobody said. */
  found: FamilyKey | null;
  /** Of its last cycle. */
  route: RouteKey | null;
  cycles: number;
  outcome: Exclude<RecoveryOutcome, 'another'>;
  /** Capacity on arrival and at the end, share of C20; null where it was not tested. */
  before: number | null;
  after: number | null;
  /** On the charger in all, h. */
  hours: number;
  /** Lost in a week at 20 °C, share; null where it was not held. */
  weekLoss: number | null;
}

/** Null for a recovery that ended without a verdict, or before any route was chosen. */
export function recoveryBrought(job: Job): RecoveryBrought | null {
  const recovery = recoveryOf(job);
  const last = recovery.outcomes.at(-1);
  const outcome = last?.outcome;
  const cycles = cyclesOf(job);
  const tried = cycles.filter((c) => c.cycle > 0);
  if (!outcome || outcome === 'another' || tried.length === 0) return null;
  const { model } = job.plan;
  return {
    kind: model.kind,
    model: model.code,
    cause: recovery.routes.findLast((r) => r.forecast)?.forecast?.cause ?? null,
    found: last?.found ?? null,
    route: tried.at(-1)?.route ?? null,
    cycles: tried.length,
    outcome,
    before: cycles.find((c) => c.cycle === 0)?.capacity?.health ?? job.plan.earlier?.share ?? null,
    after: tried.findLast((c) => c.capacity)?.capacity?.health ?? null,
    hours: tried.reduce((sum, c) => sum + (c.chargedHours ?? 0), 0),
    weekLoss: tried.findLast((c) => c.weekLoss !== null)?.weekLoss ?? null,
  };
}
