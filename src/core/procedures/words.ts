import { formatFigure } from '../quantities/format.ts';
import { type CommissioningPlan, FIGURE_KEYS } from './plan.ts';

/**
 * Fills `{figure}` and `{word}` in a procedure's text from the plan.
 *
 * @example fillText('Fill {fillMl} from the pack', plan) // 'Fill 660 mL from the pack'
 */
export function fillText(text: string, plan: CommissioningPlan): string {
  return text.replaceAll(/\{(\w+)\}/g, (whole, name: string) => {
    switch (name) {
      case 'model':
        return plan.model.code;
      case 'volts':
        return String(plan.model.nominalV);
      case 'cells':
        return String(plan.model.cells);
      case 'code':
        return plan.model.electrolyteCode;
      case 'strip':
        return plan.words.strip;
      case 'tubeHelp':
        return plan.words.tubeHelp;
    }
    const key = FIGURE_KEYS.find((k) => k === name);
    return key ? formatFigure(plan.figures[key]) : whole;
  });
}
