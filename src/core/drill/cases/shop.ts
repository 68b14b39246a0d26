import { leadAcidKind } from '../../batteries/kinds.ts';
import type { BatteryModel } from '../../batteries/model.ts';
import { CHARGER_TEMPLATES } from '../../chargers/templates.ts';
import type { ShopCharger } from '../../chargers/charger.ts';
import type { ToldStory } from '../../job/recoveryState.ts';
import type { StoryKey } from '../../diagnosis/stories.ts';

/** Batteries and chargers of the shop that cases are set in; all made up. */

const PRINTED: BatteryModel = {
  code: '',
  kind: 'agm-dry',
  name: '',
  nominalV: 12,
  cells: 6,
  c20Ah: 12,
  cca: null,
  ccaStandard: null,
  electrolyteCode: null,
  electrolyteMl: null,
  caps: null,
  fillSg: null,
  chargeA: null,
  ceilingV: null,
  dwellS: null,
  soakS: null,
  passV: null,
};
const by = (more: Partial<BatteryModel>): BatteryModel => ({
  ...PRINTED,
  ...more,
  ...(more.cca ? { ccaStandard: 'EN' } : {}),
});

export const MODELS = {
  plough8: by({
    code: 'DR-A8',
    name: 'Plough 8',
    c20Ah: 8,
    cca: 120,
    electrolyteCode: 'QE-44',
    electrolyteMl: 440,
  }),
  plough12: by({
    code: 'DR-A12',
    name: 'Plough 12',
    c20Ah: 12,
    cca: 200,
    electrolyteCode: 'QE-66',
    electrolyteMl: 660,
  }),
  plough18: by({
    code: 'DR-A18',
    name: 'Plough 18',
    c20Ah: 18,
    cca: 300,
    electrolyteCode: 'QE-93',
    electrolyteMl: 930,
  }),
  fell14: by({
    code: 'DR-C14',
    name: 'Fell 14, open',
    kind: 'flooded-dry',
    c20Ah: 14,
    cca: 190,
    electrolyteMl: 1000,
    caps: 'pull',
  }),
  fell11: by({
    code: 'DR-C11',
    name: 'Fell 11, 6 V',
    kind: 'flooded-dry',
    nominalV: 6,
    cells: 3,
    c20Ah: 11,
    electrolyteMl: 420,
    caps: 'screw',
  }),
  fell45: by({
    code: 'DR-C45',
    name: 'Fell 45, open',
    kind: 'flooded-dry',
    c20Ah: 45,
    cca: 420,
    electrolyteMl: 3200,
    caps: 'screw',
  }),
  fell60: by({
    code: 'DR-C60',
    name: 'Fell 60, open',
    kind: 'flooded-dry',
    c20Ah: 60,
    cca: 540,
    electrolyteMl: 4200,
    caps: 'screw',
  }),
  fell74: by({
    code: 'DR-C74',
    name: 'Fell 74, open',
    kind: 'flooded-dry',
    c20Ah: 74,
    cca: 680,
    electrolyteMl: 5200,
    caps: 'screw',
  }),
  hut60: by({ code: 'DR-S60', name: 'Hut 60, sealed', kind: 'agm-sealed', c20Ah: 60, cca: 640 }),
  hut18: by({ code: 'DR-S18', name: 'Hut 18, sealed', kind: 'agm-sealed', c20Ah: 18, cca: 230 }),
  hut100: by({
    code: 'DR-S100',
    name: 'Hut 100, sealed',
    kind: 'agm-sealed',
    c20Ah: 100,
    cca: 800,
  }),
} as const satisfies Record<string, BatteryModel>;

const charger = (id: string, key: string, name: string): ShopCharger => {
  const template = CHARGER_TEMPLATES.find((t) => t.key === key);
  if (!template) throw new Error(`No charger is called ${key}.`);
  return { ...template.facts, id, name, where: 'Bench', standingSince: 0 };
};

export const CHARGERS = {
  supply: charger('supply', 'supply', 'Supply, 0–10 A'),
  one: charger('one', 'automatic-1', 'Automatic 1 A'),
  four: charger('four', 'automatic-4', 'Automatic 4 A'),
  ten: charger('ten', 'automatic-10', 'Automatic 10 A'),
  recovery: charger('recovery', 'recovery-5', 'Recovery 5 A'),
  wheels: charger('wheels', 'fixed-boost', 'On wheels, with boost'),
  maintainer: charger('maintainer', 'maintainer', 'Maintainer 0.8 A'),
} as const;

/** What is written down of a story. */
export const told = (
  story: StoryKey,
  standingDays: number | null = null,
  ageYears: number | null = null,
  more: Partial<ToldStory> = {},
): ToldStory => ({
  story,
  standingDays,
  ageYears,
  coldestC: null,
  whitePost: false,
  wetMassG: null,
  ...more,
});

/** Of sealed ones a label says what they weigh, filled, g: 3.2 Ah to the kilogram, usual AGM of 18 to 200 Ah. */
const G_PER_AH = 310;
export const usualWetMassG = ({ kind, c20Ah }: BatteryModel): number | undefined =>
  leadAcidKind(kind).chemistry === 'flooded' ? undefined : Math.round(c20Ah * G_PER_AH);

/** Every cell alike. */
export const alike = <T>(cells: number, cell: T): T[] => Array.from({ length: cells }, () => cell);
/** One cell otherwise than the others; it is counted from 0. */
export const oneOf = <T>(cells: number, odd: number, its: T, others: T): T[] =>
  Array.from({ length: cells }, (_, k) => (k === odd ? its : others));
