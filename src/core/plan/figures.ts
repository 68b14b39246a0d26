import type { Figure } from '../quantities/figure.ts';

/** Figures every plan has. */
const BASE_KEYS = [
  'fillSg',
  'fullV',
  'chargeA',
  'ceilingV',
  'chargeS',
  'clearS',
  'restS',
  'passV',
  'loadA',
  'loadS',
  'loadMinV',
] as const;
/** Figures of a fill, and of a rating; present where the kind is filled in the shop, or the maker rates it. */
const SOME_KEYS = [
  'fillMl',
  'fillMlPerCell',
  'dwellS',
  'soakS',
  'standS',
  'sodaKg',
  'ccaLeastA',
  'wakeS',
  'burstS',
  'burstMoreS',
  'holdS',
  'testA',
  'cutoffV',
  'acidL',
  'saltG',
  'magnesiumMl',
  'wasteSodaKg',
  'waterMl',
  'stubbornV',
  'stubbornA',
] as const;

export const FIGURE_KEYS = [...BASE_KEYS, ...SOME_KEYS] as const;
export type FigureKey = (typeof FIGURE_KEYS)[number];
export type Figures = Record<(typeof BASE_KEYS)[number], Figure> &
  Partial<Record<(typeof SOME_KEYS)[number], Figure>>;
