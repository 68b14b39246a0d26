import { guessSize, type SizeClues } from './guessSize.ts';
import { leadAcidKind } from './kinds.ts';
import type { BatteryModel, Caps } from './model.ts';

/** A battery that nobody can read: kind, cells, and whatever tells its size. */
export type UnlabelledBattery = SizeClues & { caps: Caps | null };

/**
 * A battery without a readable label as a model of its own: its size is estimated and stays marked as such.
 *
 * @throws Error for a kind that this shop turns away
 */
export function unlabelledModel(tag: string, { caps, ...clues }: UnlabelledBattery): BatteryModel {
  const kind = leadAcidKind(clues.kind);
  const { c20Ah, low, high, said } = guessSize(clues);
  const { cells, build = null, cca = null, ccaStandard = null } = clues;
  return {
    code: `No label ${tag}`,
    kind: clues.kind,
    name: kind.name,
    nominalV: 2 * cells,
    cells,
    c20Ah,
    cca,
    ccaStandard: cca === null ? null : (ccaStandard ?? 'EN'),
    electrolyteCode: null,
    electrolyteMl: null,
    caps: kind.ports === 'serviceable' ? (caps ?? 'screw') : null,
    fillSg: null,
    chargeA: null,
    ceilingV: null,
    dwellS: null,
    soakS: null,
    passV: null,
    build,
    // Reserve minutes narrow the estimate; as a rating they would contradict one that lies beside them.
    reserveMin: null,
    c10Ah: null,
    milliohm: null,
    estimate: { low, high, from: said.length > 0 ? said.map((s) => s.from) : ['its kind alone'] },
  };
}
