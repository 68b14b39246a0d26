import type { CauseKey } from '../causes.ts';

/** What a person acts on. The order is that of consequence, gravest first. */
export const FAMILIES = {
  never: {
    name: 'Never charge',
    is: 'damaged or frozen',
    plain: 'Its case or its plates are broken. It is not charged here, nor anywhere.',
  },
  'bad-cell': {
    name: 'A bad cell',
    is: 'a bad cell',
    plain:
      'One cell is shorted, open, reversed or much weaker than the others, and sets the end for all.',
  },
  worn: {
    name: 'Worn out',
    is: 'worn out',
    plain: 'Active mass has gone from its plates for good. No charge brings it back.',
  },
  dry: {
    name: 'Dry',
    is: 'dry',
    plain: 'Water has gone; what the acid does not reach does not work.',
  },
  sulfated: {
    name: 'Sulfated',
    is: 'sulfated',
    plain: 'Sulfate has hardened on its plates. Slow charging brings some of it back, or most.',
  },
  layered: {
    name: 'Acid layered',
    is: 'layered acid',
    plain: 'Strong acid lies at the bottom and weak acid at the top. It needs mixing.',
  },
  flat: {
    name: 'Only flat',
    is: 'only flat',
    plain: 'It was emptied and wants a full charge, nothing else.',
  },
  nothing: {
    name: 'Nothing wrong',
    is: 'nothing wrong with it',
    plain: 'Its readings are those of a sound battery.',
  },
} as const;
export type FamilyKey = keyof typeof FAMILIES;

/** Where the field guide explains it. */
export const FAMILY_TERMS: Readonly<Record<FamilyKey, string>> = {
  never: 'never-charge',
  'bad-cell': 'weak-cell',
  worn: 'worn-out',
  dry: 'dry',
  sulfated: 'sulfation',
  layered: 'layering',
  flat: 'only-flat',
  nothing: 'rest-voltage',
};
export const FAMILY_KEYS = Object.keys(FAMILIES) as FamilyKey[];

/** A family and its chance, 0–1. */
export interface FamilyOdds {
  family: FamilyKey;
  chance: number;
}

/** Which family a cause of the simulated batteries belongs to. */
export const FAMILY_OF_CAUSE: Readonly<Record<CauseKey, FamilyKey>> = {
  damaged: 'never',
  reversed: 'bad-cell',
  shorted: 'bad-cell',
  joint: 'bad-cell',
  weak: 'bad-cell',
  dry: 'dry',
  worn: 'worn',
  hard: 'sulfated',
  layered: 'layered',
  light: 'sulfated',
  undercharged: 'flat',
  deep: 'flat',
  flat: 'flat',
  sound: 'nothing',
};

/** Pictures that practice tells apart within the families, where they change what is done. */
export const PICTURES = {
  damaged: 'never',
  reversed: 'bad-cell',
  shorted: 'bad-cell',
  open: 'bad-cell',
  leaking: 'bad-cell',
  weak: 'bad-cell',
  worn: 'worn',
  dry: 'dry',
  uncovered: 'dry',
  hard: 'sulfated',
  light: 'sulfated',
  layered: 'layered',
  flat: 'flat',
  nothing: 'nothing',
} as const satisfies Record<string, FamilyKey>;
export type PictureKey = keyof typeof PICTURES;
export const PICTURE_KEYS = Object.keys(PICTURES) as PictureKey[];

/** Chances of pictures, summed up by family. */
export function familiesOfPictures(
  pictures: Readonly<Record<PictureKey, number>>,
): Record<FamilyKey, number> {
  const families = Object.fromEntries(FAMILY_KEYS.map((f) => [f, 0])) as Record<FamilyKey, number>;
  for (const key of PICTURE_KEYS) families[PICTURES[key]] += pictures[key];
  return families;
}
