import { type FamilyKey, type PictureKey, PICTURE_KEYS, PICTURES } from './families.ts';
import { type Feature, fullOf, type Sound } from './features.ts';
import { rangeOf } from './judge.ts';
import { AFTER_CHARGE, type FeatureKey, FEATURE_KEYS, FEATURES } from './table.ts';

/** How a quantity is written. */
export type WhyUnit = 'V' | '%' | 'mΩ' | 'SG' | '';

/** One reading beside what batteries of each likely family would have read, in the reading's own unit. */
export interface Why {
  feature: FeatureKey;
  /** As it is called, and which of the readings it is; null for one after a charge. */
  name: string;
  from: number | null;
  value: number;
  unit: WhyUnit;
  /** Ends of what is drawn. */
  least: number;
  most: number;
  /** The likeliest family first. */
  families: { family: FamilyKey; low: number; high: number; fits: 'low' | 'yes' | 'high' }[];
}

/** A reading that was not taken, and what it would have to be for another family to come first. */
export interface WouldChange {
  feature: FeatureKey;
  name: string;
  /** At this or beyond it, in the reading's own unit. */
  at: number;
  unit: WhyUnit;
  below: boolean;
  family: FamilyKey;
}

const NAMES: Readonly<Record<FeatureKey, readonly [name: string, unit: WhyUnit]>> = {
  volts: ['Rest on arrival', 'V'],
  sgDrop: ['SG on arrival', 'SG'],
  sgSpread: ['SG between its cells', 'SG'],
  leastCell: ['Lowest cell', 'V'],
  ohms: ['Resistance', 'mΩ'],
  cca: ['CCA, of its rating', '%'],
  load: ['Under three times C20', 'V'],
  bare: ['Plates bare', ''],
  lostMass: ['Mass lost', '%'],
  short: ['Rest, after a full charge', 'V'],
  sgShort: ['SG, after a charge', 'SG'],
  spreadAfter: ['SG between its cells, charged', 'SG'],
  ohmsAfter: ['Resistance, charged', 'mΩ'],
  ccaAfter: ['CCA, charged', '%'],
  loadAfter: ['Under load, charged', 'V'],
  capacity: ['Capacity by test', '%'],
};

/** A value as practice compares it, in the unit it was read in. */
function asRead(key: FeatureKey, value: number, sound: Sound): number {
  const { cells, milliohm } = sound;
  switch (key) {
    case 'volts':
    case 'load':
    case 'loadAfter':
      return (value * cells) / 6;
    case 'short':
      return ((6 * fullOf(sound).cellV - value) * cells) / 6;
    case 'sgDrop':
    case 'sgShort':
      return fullOf(sound).sg - value;
    case 'ohms':
    case 'ohmsAfter':
      return value * milliohm;
    case 'cca':
    case 'ccaAfter':
    case 'lostMass':
    case 'capacity':
      return 100 * value;
    default:
      return value;
  }
}

/** The likeliest picture of a family. */
export function likeliestOf(
  family: FamilyKey,
  pictures: Readonly<Record<PictureKey, number>>,
): PictureKey {
  return PICTURE_KEYS.filter((key) => PICTURES[key] === family).reduce((a, b) =>
    pictures[b] > pictures[a] ? b : a,
  );
}

/** Every reading beside the families that are likeliest, those that tell them apart first. */
export function whysOf(
  sound: Sound,
  features: readonly Feature[],
  families: readonly FamilyKey[],
  pictures: Readonly<Record<PictureKey, number>>,
): Why[] {
  return features
    .filter((f) => f.key !== 'bare')
    .map(({ key, value, from }): Why => {
      const read = asRead(key, value, sound);
      const rows = families.flatMap((family): Why['families'] => {
        const range = rangeOf(sound.chemistry, likeliestOf(family, pictures), key, value);
        if (!range) return [];
        const [a, b] = range.map((v) => asRead(key, v, sound)) as [number, number];
        const [low, high] = [Math.min(a, b), Math.max(a, b)];
        const off = Math.abs(asRead(key, FEATURES[key].off, sound) - asRead(key, 0, sound));
        return [
          {
            family,
            low,
            high,
            fits: read < low - off ? 'low' : read > high + off ? 'high' : 'yes',
          },
        ];
      });
      const drawn = [read, ...rows.flatMap((r) => [r.low, r.high])];
      const [least, most] = [Math.min(...drawn), Math.max(...drawn)];
      const room = 0.06 * (most - least || 1);
      const [name, unit] = NAMES[key];
      return {
        feature: key,
        name,
        from,
        value: read,
        unit,
        least: least >= 0 ? Math.max(0, least - room) : least - room,
        most: most + room,
        families: rows,
      };
    })
    .sort((a, b) => tells(b) - tells(a));
}

/** How far a reading tells the families apart: some fit and some do not. */
function tells({ families, from }: Why): number {
  const fit = families.filter((f) => f.fits === 'yes').length;
  const apart = fit > 0 && fit < families.length ? 2 : 0;
  // What leads fits, others do not: that is why it leads. After a charge says more than before.
  return apart + (families[0]?.fits === 'yes' ? 1 : 0) + (from === null ? 0.5 : 0);
}

/** Does a reading fit none of the families that are likely, nor any other? Somebody may have read it wrong. */
export function fitsNothing(
  { chemistry }: Pick<Sound, 'chemistry'>,
  { key, value }: Feature,
): boolean {
  if (key === 'bare') return false;
  const { off } = FEATURES[key];
  return PICTURE_KEYS.every((picture) => {
    const range = rangeOf(chemistry, picture, key, value);
    if (!range) return key === 'lostMass' ? Math.abs(value) > 0.02 : false;
    const slack = 2.5 * off + 0.25 * Math.abs(range[1] - range[0]);
    return value < Math.min(...range) - slack || value > Math.max(...range) + slack;
  });
}

/** Readings of the same instruments that could still be taken as it stands, each with what would put the next family first. */
export function whatWouldChange(
  sound: Sound,
  taken: ReadonlySet<FeatureKey>,
  ranked: readonly FamilyKey[],
  pictures: Readonly<Record<PictureKey, number>>,
  open: boolean,
): WouldChange[] {
  const [first, ...others] = ranked;
  if (!first) return [];
  const leading = likeliestOf(first, pictures);
  const out: WouldChange[] = [];
  for (const family of others) {
    const rival = likeliestOf(family, pictures);
    let best: { change: WouldChange; apart: number } | null = null;
    for (const key of FEATURE_KEYS) {
      if (taken.has(key) || key === 'bare' || key === 'lostMass' || (CELLS.includes(key) && !open))
        continue;
      const [leadingRange, rivalRange] = [leading, rival].map((p) =>
        rangeOf(sound.chemistry, p, key, null),
      );
      if (!leadingRange || !rivalRange) continue;
      const [ownLow, ownHigh] = [Math.min(...leadingRange), Math.max(...leadingRange)];
      const [low, high] = [Math.min(...rivalRange), Math.max(...rivalRange)];
      const above = low >= ownHigh ? (ownHigh + low) / 2 : null;
      const beneath = high <= ownLow ? (ownLow + high) / 2 : null;
      const border = above ?? beneath;
      if (border === null) continue;
      // What can be read now is worth more than what wants a charge first.
      const now = AFTER_CHARGE.has(key) ? WANTS_A_CHARGE : 1;
      const apart = (now * (above === null ? ownLow - high : low - ownHigh)) / FEATURES[key].off;
      if (best && apart <= best.apart) continue;
      const read = asRead(key, border, sound);
      // What is compared as a shortfall is read the other way round.
      const turned = asRead(key, 1, sound) < asRead(key, 0, sound);
      const [name, unit] = NAMES[key];
      best = {
        apart,
        change: { feature: key, name, at: read, unit, below: (above === null) !== turned, family },
      };
    }
    if (best) out.push(best.change);
  }
  return out;
}

const WANTS_A_CHARGE = 0.25;
const CELLS: readonly FeatureKey[] = ['sgDrop', 'sgSpread', 'leastCell', 'sgShort', 'spreadAfter'];
