import { neutraliser } from '../electrolyte/neutralising.ts';
import type { Job } from '../job/job.ts';
import type { Disposal, RecoveryOutcome } from '../job/recoveryState.ts';
import { linesOf } from '../plan/lines.ts';
import { type CycleRow, cyclesOf } from './cycles.ts';
import { rulesFor } from './evidence.ts';
import { BULK_ML_PER_CELL_AND_AH } from '../plan/planInputs.ts';
import { gradeOf } from '../diagnosis/grades.ts';

export interface RecoveryVerdict {
  suggested: RecoveryOutcome;
  /** The best that may be signed. */
  best: RecoveryOutcome;
  reasons: string[];
  /** Things that improved while others did not, said outright. */
  warnings: string[];
}

/**
 * What the numbers say becomes of it. Capacity and the week decide; CCA and resistance never do alone.
 */
export function judgeRecovery(job: Job): RecoveryVerdict {
  const { grade, worthAnother, mostCycles } = linesOf(job.plan);
  const cycles = cyclesOf(job);
  const now = cycles.at(-1) as CycleRow;
  const before = cycles.at(-2);
  const reasons: string[] = [];
  const warnings: string[] = [];
  const never = rulesFor(job).filter((r) => r.weight === 'never');
  if (cycles.length === 1)
    return {
      suggested: never.length > 0 ? 'recycle' : 'another',
      best: never.length > 0 ? 'recycle' : 'another',
      reasons: never.map((r) => r.sentence),
      warnings: [],
    };
  const health = now.capacity?.health ?? null;
  const { weekLoss } = now;
  const percent = (share: number): string => `${(100 * share).toFixed(0)} %`;

  if (now.capacity)
    reasons.push(
      `Capacity ${now.capacity.c20.middle.toFixed(1)} Ah at C20 (${now.capacity.c20.low.toFixed(1)}–${now.capacity.c20.high.toFixed(1)}), ${percent(now.capacity.health)} of its rating.${now.rested ? '' : ' Not begun from a rested full charge.'}`,
    );
  else reasons.push('Its capacity was not tested.');
  if (weekLoss !== null)
    reasons.push(
      `The hold: ${percent(Math.max(0, weekLoss))} lost in a week at 20 °C; ${percent(grade.weekLoss)} is the line.`,
    );
  else reasons.push('It was not held for a week.');
  for (const rule of never) reasons.push(rule.sentence);

  const gain =
    now.capacity && before?.capacity ? now.capacity.health - before.capacity.health : null;
  if (gain !== null && now.chargedHours !== null)
    reasons.push(
      `The last cycle gained ${Math.abs(gain) < 0.005 ? 'nothing' : `${percent(gain)} of the rating`} in ${now.chargedHours.toFixed(0)} h on the charger.`,
    );
  const first = cycles[0] as CycleRow;
  if (
    now.ccaA !== null &&
    first.ccaA !== null &&
    now.ccaA > 1.15 * first.ccaA &&
    (health === null || (before?.capacity && gain !== null && gain < worthAnother))
  )
    warnings.push(
      `CCA rose from ${first.ccaA.toFixed(0)} to ${now.ccaA.toFixed(0)} A${health === null ? ', but no capacity was measured' : ', but the capacity did not move'}. CCA alone is no recovery.`,
    );

  const leaks = weekLoss !== null && weekLoss > grade.weekLoss;
  const good = health === null ? 'none' : gradeOf(health, weekLoss, grade);
  let best: RecoveryOutcome;
  if (never.length > 0 || leaks) best = 'recycle';
  else if (good === 'none') best = 'another';
  else best = good === 'return' && weekLoss === null ? 'light' : good;
  const cyclesDone = cycles.length - 1;
  const gained = gain === null ? cyclesDone < 2 : gain >= worthAnother;
  const more =
    never.length === 0 &&
    !leaks &&
    health !== null &&
    health < grade.return &&
    gained &&
    cyclesDone < mostCycles;
  let suggested: RecoveryOutcome = best;
  if (best === 'light' && more && (health ?? 1) < grade.return) suggested = 'another';
  if (best === 'another' && !more && health !== null) suggested = 'recycle';
  if (best === 'light' && health !== null && health >= grade.return)
    reasons.push('Without the week it is not returned to service.');
  return { suggested, best, reasons, warnings };
}

/** Best first. */
const RANK: readonly RecoveryOutcome[] = ['return', 'light', 'another', 'recycle'];

/** What goes to the recycler: the core with its acid in it, and the soda to have at hand. */
export function disposalOf(job: Job): Disposal {
  const { model, figures } = job.plan;
  const acidL = (model.electrolyteMl ?? BULK_ML_PER_CELL_AND_AH * model.cells * model.c20Ah) / 1000;
  return {
    core: `${model.nominalV} V, ${model.c20Ah} Ah, lead-acid`,
    acidL,
    bicarbonateKg: neutraliser(acidL, figures.fillSg.value).bicarbonateKg,
  };
}

/** May this be signed, by what the numbers allow? */
export const outcomeAllowed = ({ best }: RecoveryVerdict, outcome: RecoveryOutcome): boolean =>
  outcome === 'another' ? best !== 'return' : RANK.indexOf(outcome) >= RANK.indexOf(best);
