import { formatFigure } from '../quantities/format.ts';
import { KEPT_UNITS, sayIn, type Units } from '../quantities/shopUnits.ts';
import type { JobPlan } from './jobPlan.ts';
import { FIGURE_KEYS } from './figures.ts';

/**
 * Fills `{figure}` and `{word}` in a procedure's text from the plan, in the shop's units.
 *
 * @example fillText('Fill {fillMl} from the pack', plan) // 'Fill 660 mL from the pack'
 */
export function fillText(text: string, plan: JobPlan, units: Units = KEPT_UNITS): string {
  const filled = text.replaceAll(/\{(\w+)\}/g, (whole, name: string) => {
    switch (name) {
      case 'model':
        return plan.model.code;
      case 'volts':
        return String(plan.model.nominalV);
      case 'cells':
        return String(plan.model.cells);
      case 'code':
        return plan.model.electrolyteCode ?? 'the model’s';
      case 'strip':
        return plan.words.strip;
      case 'caps':
        return plan.words.caps;
      case 'tubeHelp':
        return plan.words.tubeHelp;
    }
    const key = FIGURE_KEYS.find((k) => k === name);
    const figure = key && plan.figures[key];
    return figure ? formatFigure(figure) : whole;
  });
  return sayIn(filled, units);
}

/** `cell 4`, `cells 2 and 5`, `cells 1, 2 and 6`. */
export function cellWords(cells: readonly number[]): string {
  const last = cells.at(-1);
  return cells.length <= 1 ? `cell ${last}` : `cells ${cells.slice(0, -1).join(', ')} and ${last}`;
}
