import type { ChemistryKey } from './chemistry.ts';
import type { BatteryModel, BuildKey } from './model.ts';

/** What a battery is built for. It decides how much plate surface, and so how little resistance, its ampere-hours are given. */
export interface Build {
  key: BuildKey;
  name: string;
  /** How one tells it. */
  told: string;
  /** Resistance of 12 V, full and at 25 °C: Ω·Ah at 60 Ah, and the power of C20/60 Ah it goes with. By family. */
  resistance: Readonly<Record<ChemistryKey, readonly [ohmAh: number, power: number]>>;
  source: string;
}

/** Analysers' own constant, 2,700 mΩ·A (2,500–3,000), over so many A of CCA (EN) per Ah of C20. */
const byCca = (ampsPerAh: number): readonly [number, number] => [2.7 / ampsPerAh, 0];
/** Data sheets of AGM batteries of 7–200 Ah for standby: 5.14 mΩ · (C20/60 Ah)^−0.74 for 12 V; gel a fifth more. */
const STANDBY_AGM = [0.3084, 0.26] as const;
const STANDBY_GEL = [0.37, 0.26] as const;

export const BUILDS: Readonly<Record<BuildKey, Build>> = {
  starter: {
    key: 'starter',
    name: 'Starter',
    told: 'Cranks an engine: a CCA is printed. Many thin plates.',
    resistance: { flooded: byCca(9), agm: byCca(11), gel: STANDBY_GEL },
    source: 'CCA (EN) of 8–10.5 A per Ah flooded, 9.5–12.5 AGM: usual data sheets',
  },
  powersport: {
    key: 'powersport',
    name: 'Powersport',
    told: 'Small, for motorcycles and machines, with a large CCA for its size.',
    resistance: { flooded: byCca(14), agm: byCca(14), gel: byCca(11) },
    source: 'CCA of 12–18 A per Ah of C10: usual data sheets',
  },
  standby: {
    key: 'standby',
    name: 'Standby',
    told: 'Waits on float for the mains to fail: alarms, lifts, computers. No CCA is printed.',
    resistance: { flooded: byCca(6), agm: STANDBY_AGM, gel: STANDBY_GEL },
    source: 'Resistance printed on data sheets of 7–200 Ah',
  },
  'deep-cycle': {
    key: 'deep-cycle',
    name: 'Deep-cycle',
    told: 'Drives or feeds for hours: trucks, cleaning machines, caravans. Thick plates, heavy for its size.',
    resistance: { flooded: byCca(5.5), agm: byCca(7), gel: byCca(6) },
    source: 'CCA, where it is printed, of 4–7 A per Ah: usual data sheets',
  },
};

/** Powersport batteries end about here, Ah. */
const POWERSPORT_AH = 32;

/** What a model of this kind, size and label most likely is built for. */
export function usualBuild({
  kind,
  c20Ah,
  cca,
}: Pick<BatteryModel, 'kind' | 'c20Ah' | 'cca'>): BuildKey {
  if (kind === 'gel') return 'standby';
  if (kind === 'agm-sealed' && cca === null) return 'standby';
  return c20Ah <= POWERSPORT_AH ? 'powersport' : 'starter';
}

export const buildOf = (model: Pick<BatteryModel, 'kind' | 'c20Ah' | 'cca' | 'build'>): Build =>
  BUILDS[model.build ?? usualBuild(model)];
