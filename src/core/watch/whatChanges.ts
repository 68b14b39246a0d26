import type { BatteryModel } from '../batteries/model.ts';
import { FIGURE_KEYS } from '../plan/figures.ts';
import { jobPlan } from '../plan/plan.ts';
import { ROUTES } from '../diagnosis/routes.ts';
import { offeredRoutes } from '../recovery/recovery.ts';
import { procedureFor } from '../catalogue/catalogue.ts';
import { plannedTimeline } from './timeline.ts';
import { formatDuration, formatFigure } from '../quantities/format.ts';
import type { HouseRules } from '../house/rules.ts';
import { SCHOOLS, schoolOf } from '../house/schools.ts';

/** A number that a change of the rules would move, and for which models. */
export interface RuleChange {
  label: string;
  from: string;
  to: string;
  models: string[];
}

/**
 * Which numbers of new jobs a change of the house rules would move. Jobs under way keep theirs.
 *
 * @param models of the catalogue
 */
export function whatChanges(
  models: readonly BatteryModel[],
  before: HouseRules,
  after: HouseRules,
): RuleChange[] {
  const changes = new Map<string, RuleChange>();
  const note = (label: string, from: string, to: string, model: string) => {
    if (from === to) return;
    const key = `${label}|${from}|${to}`;
    const known = changes.get(key);
    if (known) known.models.push(model);
    else changes.set(key, { label, from, to, models: [model] });
  };
  for (const model of models) {
    const [old, next] = [jobPlan(model, before), jobPlan(model, after)];
    for (const key of FIGURE_KEYS) {
      const [a, b] = [old.figures[key], next.figures[key]];
      if (a && b && key !== 'chargeS') note(b.label, formatFigure(a), formatFigure(b), model.code);
    }
    const [oldRecovery, newRecovery] = [
      jobPlan(model, before, 'recover'),
      jobPlan(model, after, 'recover'),
    ];
    note(
      'Rest of a recovered battery',
      formatFigure(oldRecovery.figures.restS),
      formatFigure(newRecovery.figures.restS),
      model.code,
    );
    const routes = (rules: HouseRules) =>
      offeredRoutes(model.kind, rules.schools)
        .map((key) => ROUTES[key].name)
        .join(', ');
    note('Routes offered', routes(before), routes(after), model.code);
    for (const key of ['tooFlat', 'wake', 'desulfate', 'stubborn'] as const)
      note(
        SCHOOLS[key].question,
        schoolOf(key, before.schools).school.name,
        schoolOf(key, after.schools).school.name,
        model.code,
      );
    const procedure = procedureFor(model.kind, 'commission');
    const whole = (plan: typeof old) =>
      `about ${formatDuration((plannedTimeline(procedure, plan, 0).at(-1)?.to ?? 0) / 1000)}`;
    note('Box to sheet', whole(old), whole(next), model.code);
    if (old.words.strip !== next.words.strip)
      note('Cap strip during charge', old.words.strip, next.words.strip, model.code);
    if (old.words.tubeHelp !== next.words.tubeHelp && model.electrolyteCode)
      note('A tube that stands still', old.words.tubeHelp, next.words.tubeHelp, model.code);
    if (old.overNeedsReason !== next.overNeedsReason && model.caps)
      note(
        'A cell over the mark',
        old.overNeedsReason ? 'needs a reason' : 'is recorded',
        next.overNeedsReason ? 'needs a reason' : 'is recorded',
        model.code,
      );
  }
  return [...changes.values()];
}
