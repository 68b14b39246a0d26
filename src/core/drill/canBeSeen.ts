import { leadAcidKind } from '../batteries/kinds.ts';
import { TAKE_KEYS, type TakeKind, TAKES } from './acts.ts';
import { type DrillCase, type LookKind, LOOKS } from './case.ts';

/** Looks that make sense at the battery of a case. */
export function looksOf({ purpose, model }: DrillCase): LookKind[] {
  const { fill, ports } = leadAcidKind(model.kind);
  const recovering = purpose === 'recover';
  const byTubes = !recovering && fill === 'tubes';
  const fits: Record<LookKind, boolean> = {
    customer: recovering,
    label: true,
    case: true,
    posts: true,
    frost: recovering,
    foil: byTubes,
    packs: byTubes,
    tubes: byTubes,
    strip: byTubes,
    vent: !recovering && fill === 'bulk',
    levels: ports === 'serviceable',
  };
  return LOOKS.filter((look) => fits[look]);
}

/** Readings that can be taken of it, with what is there. */
export function takesOf({ purpose, model, wetMassG }: DrillCase): TakeKind[] {
  const { fill, ports } = leadAcidKind(model.kind);
  return TAKE_KEYS.filter(
    (take) =>
      (!TAKES[take].open || ports === 'serviceable') &&
      (take !== 'acid' || (purpose === 'commission' && fill === 'bulk')) &&
      (take !== 'mass' || wetMassG !== undefined),
  );
}
