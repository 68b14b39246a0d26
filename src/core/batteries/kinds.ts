import type { ChemistryKey } from './chemistry.ts';

/** Kinds of battery the shop can take in, and those it turns away with the reason. */
export type KindKey =
  | 'flooded-dry'
  | 'agm-dry'
  | 'agm-sealed'
  | 'gel'
  | 'flooded-sealed'
  | 'lithium';

/** How acid comes into it: from the pack of tubes made for the model, from a bulk container by hose, or not in this shop. */
export type Fill = 'tubes' | 'bulk' | null;

/** Who may look into its cells: anyone with its caps off, once while it is filled, or nobody. */
export type PortAccess = 'serviceable' | 'once' | 'never';

export interface LeadAcidKind {
  key: KindKey;
  name: string;
  chemistry: ChemistryKey;
  fill: Fill;
  ports: PortAccess;
  /** Share of its charge when it arrives (or is freshly filled), 0–1. Usual shop experience. */
  arrivesShare: number;
  /** Share of charge lost per month at 20 °C, new. Usual: antimony 8 %, calcium 4 %, AGM 3 %, gel 2 %. */
  selfDischargePerMonth: number;
  /** What stiffens its grids: antimony gasses and discharges itself more, and the more the older it is. */
  alloy: 'antimony' | 'calcium';
  /** SG of its acid when full, 25 °C, where the maker prints none. */
  fullSg: number;
  arrives: string;
}

export interface RefusedKind {
  key: KindKey;
  name: string;
  refusal: string;
}

export type BatteryKind = LeadAcidKind | RefusedKind;

export const KINDS: readonly BatteryKind[] = [
  {
    key: 'flooded-dry',
    name: 'Conventional, dry-charged',
    chemistry: 'flooded',
    fill: 'bulk',
    ports: 'serviceable',
    arrivesShare: 0.8,
    selfDischargePerMonth: 0.08,
    alloy: 'antimony',
    fullSg: 1.265,
    arrives:
      'Dry, vent capped. Filled cell by cell from bulk acid to the upper mark; its caps come off again for water.',
  },
  {
    key: 'agm-dry',
    name: 'AGM, dry-charged',
    chemistry: 'agm',
    fill: 'tubes',
    ports: 'once',
    arrivesShare: 0.8,
    selfDischargePerMonth: 0.03,
    alloy: 'calcium',
    fullSg: 1.32,
    arrives:
      'Dry, ports under foil. Filled once from the pack made for the model, then sealed for good by its cap strip.',
  },
  {
    key: 'agm-sealed',
    name: 'AGM, factory-activated',
    chemistry: 'agm',
    fill: null,
    ports: 'never',
    arrivesShare: 0.75,
    selfDischargePerMonth: 0.03,
    alloy: 'calcium',
    fullSg: 1.3,
    arrives:
      'Wet and sealed, ageing on the shelf since the day it was made. Charged to 100 % before it goes into service.',
  },
  {
    key: 'gel',
    name: 'Gel',
    chemistry: 'gel',
    fill: null,
    ports: 'never',
    arrivesShare: 0.8,
    selfDischargePerMonth: 0.02,
    alloy: 'calcium',
    fullSg: 1.3,
    arrives: 'Wet and sealed. Its ceiling is lower than AGM: never an AGM or flooded setting.',
  },
  {
    key: 'flooded-sealed',
    name: 'Flooded, maintenance-free or EFB',
    chemistry: 'flooded',
    fill: null,
    ports: 'never',
    arrivesShare: 0.75,
    selfDischargePerMonth: 0.04,
    alloy: 'calcium',
    fullSg: 1.28,
    arrives: 'Wet. Ports, if any, hide under a decal and take distilled water only.',
  },
  {
    key: 'lithium',
    name: 'Lithium',
    refusal:
      'Lithium is not lead-acid. Its cells need their own charger and their own electronics, and nothing on this bench is safe for it. Send it to a shop equipped for lithium.',
  },
];

/** @throws Error when the key is not in {@link KINDS} */
export function kindOf(key: string): BatteryKind {
  const kind = KINDS.find((k) => k.key === key);
  if (!kind) throw new Error(`No battery kind “${key}”.`);
  return kind;
}

/**
 * The kind, when the shop works on it.
 *
 * @throws Error with the refusal for a kind it turns away
 */
export function leadAcidKind(key: string): LeadAcidKind {
  const kind = kindOf(key);
  if ('refusal' in kind) throw new Error(kind.refusal);
  return kind;
}
