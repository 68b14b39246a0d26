import type { ChemistryKey } from '../batteries/chemistry.ts';

/** A number known as a middle and a factor either way (one deviation of its logarithm). */
export interface Guess {
  middle: number;
  times: number;
}

/** Faults that a battery may have beside its charge and its age: chance of each, 0–1. */
export const FAULTS = [
  'damaged',
  'reversed',
  'shorted',
  'joint',
  'weak',
  'dry',
  'layered',
] as const;
export type Fault = (typeof FAULTS)[number];

/**
 * What a battery with such a story usually looks like, before anything is measured. Assumed from what shops
 * say of the batteries that come in; every number is broad on purpose.
 */
export interface Story {
  key: StoryKey;
  name: string;
  plain: string;
  /** Days since it was last charged or used, and years since it went into service. */
  standingDays: Guess;
  ageYears: Guess;
  /** Charge when it was last used or put away, 0–1, and how far that may be off (logit). */
  leftCharge: { middle: number; off: number };
  /** Chance that something drew it empty while it stood. */
  drawnEmpty: number;
  /** Chance that its machine had not charged it full for months. */
  undercharged: number;
  /** Times the usual chance of a fault, and times the usual wear. */
  faults: number;
  wear: number;
  /** Chances that this story changes for one fault. */
  raised: Partial<Record<Fault, number>>;
}

export const STORY_KEYS = [
  'left-on',
  'parked',
  'weak',
  'short-runs',
  'shelf',
  'boiled',
  'unknown',
] as const;
export type StoryKey = (typeof STORY_KEYS)[number];

export const STORIES: Readonly<Record<StoryKey, Story>> = {
  'left-on': {
    key: 'left-on',
    name: 'Something was left on',
    plain: 'Lights, a radio, a pump: emptied within days, fine before.',
    standingDays: { middle: 3, times: 2.5 },
    ageYears: { middle: 2.5, times: 1.8 },
    leftCharge: { middle: 0.85, off: 0.7 },
    drawnEmpty: 0.93,
    undercharged: 0.06,
    faults: 0.5,
    wear: 0.8,
    raised: {},
  },
  parked: {
    key: 'parked',
    name: 'Parked for months',
    plain: 'Stood in a machine or a shed, nobody looked after it.',
    standingDays: { middle: 150, times: 1.9 },
    ageYears: { middle: 3.5, times: 1.7 },
    leftCharge: { middle: 0.8, off: 0.8 },
    drawnEmpty: 0.4,
    undercharged: 0.12,
    faults: 0.9,
    wear: 1,
    raised: {},
  },
  weak: {
    key: 'weak',
    name: 'Weak in service',
    plain: 'Starts slowly, dies early, has done so for a while.',
    standingDays: { middle: 4, times: 2.5 },
    ageYears: { middle: 5, times: 1.6 },
    leftCharge: { middle: 0.7, off: 0.9 },
    drawnEmpty: 0.15,
    undercharged: 0.2,
    faults: 2,
    wear: 1.7,
    raised: { weak: 0.18, shorted: 0.09 },
  },
  'short-runs': {
    key: 'short-runs',
    name: 'Short runs, poor charging',
    plain: 'A machine that seldom runs long, or a charger that stops early.',
    standingDays: { middle: 6, times: 2.5 },
    ageYears: { middle: 3, times: 1.7 },
    leftCharge: { middle: 0.6, off: 0.7 },
    drawnEmpty: 0.2,
    undercharged: 0.75,
    faults: 0.9,
    wear: 1,
    raised: { layered: 0.35 },
  },
  shelf: {
    key: 'shelf',
    name: 'Stood on a shelf',
    plain: 'Wet stock that nobody recharged.',
    standingDays: { middle: 240, times: 1.7 },
    ageYears: { middle: 0.9, times: 1.6 },
    leftCharge: { middle: 0.95, off: 0.6 },
    drawnEmpty: 0.02,
    undercharged: 0.04,
    faults: 0.4,
    wear: 0.2,
    raised: {},
  },
  boiled: {
    key: 'boiled',
    name: 'Overcharged, smelled of gas',
    plain: 'A regulator or a charger that did not stop.',
    standingDays: { middle: 8, times: 2.5 },
    ageYears: { middle: 4, times: 1.6 },
    leftCharge: { middle: 0.85, off: 0.8 },
    drawnEmpty: 0.15,
    undercharged: 0.02,
    faults: 1.5,
    wear: 1.6,
    raised: { dry: 0.65 },
  },
  unknown: {
    key: 'unknown',
    name: 'Nobody knows',
    plain: 'Nobody could say what happened.',
    standingDays: { middle: 40, times: 4 },
    ageYears: { middle: 4, times: 1.8 },
    leftCharge: { middle: 0.75, off: 1 },
    drawnEmpty: 0.4,
    undercharged: 0.15,
    faults: 1.3,
    wear: 1.2,
    raised: {},
  },
};

/** Chance of each fault in a family before the story changes it. Assumed. */
export const USUAL_FAULTS: Readonly<Record<ChemistryKey, Readonly<Record<Fault, number>>>> = {
  flooded: {
    damaged: 0.02,
    reversed: 0.012,
    shorted: 0.05,
    joint: 0.025,
    weak: 0.08,
    dry: 0.1,
    layered: 0.16,
  },
  agm: {
    damaged: 0.012,
    reversed: 0.012,
    shorted: 0.03,
    joint: 0.02,
    weak: 0.08,
    dry: 0.15,
    layered: 0,
  },
  gel: {
    damaged: 0.012,
    reversed: 0.012,
    shorted: 0.025,
    joint: 0.02,
    weak: 0.07,
    dry: 0.12,
    layered: 0,
  },
};
/** No story makes a fault likelier than this by itself. */
export const MOST_CHANCE = 0.7;
/** Share of the active mass lost a year in service, middle and factor. Assumed: 80 % is reached after five years or so. */
export const WEAR_PER_YEAR: Guess = { middle: 0.035, times: 1.8 };
