import type { BatteryModel } from '../batteries/model.ts';
import type { SchoolChoices } from '../house/schools.ts';
import type { Figure } from '../quantities/figure.ts';
import type { FigureKey, Figures } from './figures.ts';
import type { Lines } from './lines.ts';

/** Everything a job computes before it starts; kept with the job as it was that day. */
export interface JobPlan {
  model: BatteryModel;
  figures: Figures;
  schools: SchoolChoices;
  /** Usual temperature of the bench when the job began, °C. */
  roomC: number;
  /** Words the chosen schools, and the model, put into the steps. */
  words: { strip: string; tubeHelp: string; caps: string };
  /** A cell filled over the mark wants a reason, by the chosen school. */
  overNeedsReason: boolean;
  /** Capacity by the last test of an earlier visit, share of C20, where there was one. */
  earlier?: { share: number; at: number };
  /** Things to know that are not numbers. */
  notices: string[];
  /** The lines it is judged by, as they were when it began; absent in plans older than the keeping of them. */
  lines?: Partial<Lines>;
}

/**
 * A figure of a plan that its procedure counts on.
 *
 * @throws Error when the plan has no such figure
 */
export function figureOf(plan: JobPlan, key: FigureKey): Figure {
  const figure = plan.figures[key];
  if (!figure) throw new Error(`The plan for ${plan.model.code} has no figure “${key}”.`);
  return figure;
}
