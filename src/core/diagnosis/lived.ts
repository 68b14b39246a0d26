import { CHEMISTRIES } from '../batteries/chemistry.ts';
import { PAST_EMPTY } from '../simulation/battery.ts';
import { CONSTANTS } from '../simulation/constants.ts';
import { type DesignKey, DESIGNS } from '../simulation/design.ts';
import { C, clamp, guess, uniform } from './chances.ts';
import { STORIES, WEAR_PER_YEAR } from './stories.ts';
import type { Subject } from './subject.ts';

/** Days a standing time may be off, and years an age, where somebody said so: as a factor. */
const SAID_TIMES = 1.2;
/** What a battery has lived through, and what that left of it. Shares of C20; the film in the kernel's own measure. */
export interface Lived {
  days: number;
  charge: number;
  hard: number;
  film: number;
  active: number;
  /** Months it was undercharged. */
  months: number;
}

/**
 * Its years, its months undercharged, its days standing: charge that was left and drawn, sulfate that hardened,
 * mass that wore.
 *
 * @param factors of its own design parameters
 */
export function livedThrough(
  subject: Subject,
  chances: Float64Array,
  factors: Partial<Record<DesignKey, number>>,
): Lived {
  const { chemistry } = subject;
  const story = STORIES[subject.story];
  const design = DESIGNS[chemistry];
  const z = (i: number): number => chances[i] as number;

  const days =
    subject.standingDays === null
      ? guess(story.standingDays, z(C.days))
      : guess({ middle: Math.max(0.1, subject.standingDays), times: SAID_TIMES }, z(C.days));
  const age =
    subject.ageYears === null
      ? guess(story.ageYears, z(C.age))
      : guess({ middle: Math.max(0.05, subject.ageYears), times: SAID_TIMES }, z(C.age));
  const logit =
    Math.log(story.leftCharge.middle / (1 - story.leftCharge.middle)) +
    story.leftCharge.off * clamp(z(C.left), -2.5, 2.5);
  const put = 1 / (1 + Math.exp(-logit));
  const drawn = uniform(z(C.drawn)) < story.drawnEmpty;
  const monthly =
    CHEMISTRIES[chemistry].selfDischargePerMonth *
    (1 + 0.25 * age) *
    1.5 ** clamp(z(C.lost), -2.5, 2.5);
  const kept = put * Math.exp((-monthly * days) / 30);
  // Drawn empty within some days of those it stood; then it waited, empty.
  const emptyDays = drawn ? days * uniform(z(C.drawnWhen)) : 0;
  const charge = drawn ? PAST_EMPTY * uniform(z(C.past)) ** 2 : kept;

  const months =
    uniform(z(C.under)) < story.undercharged ? guess({ middle: 4, times: 1.8 }, z(C.underHow)) : 0;
  const empty = clamp(1 - charge, 0, 1.2);
  const rate = design.parameters.hardening.value * (factors.hardening ?? 1) * 24;
  const standing = drawn
    ? emptyDays * empty ** 2
    : days * ((1 - put) ** 2 + (1 - put) * empty + empty ** 2) * (1 / 3);
  // Second order in the fresh sulfate, as the kernel hardens it: S − S/(1 + k S t).
  const hardened = (share: number, dayWeight: number): number =>
    share <= 0 ? 0 : share - share / (1 + (rate * dayWeight) / share);
  const hard = clamp(
    hardened(Math.max(empty, 0.05), standing) + hardened(0.4, months * 30 * 0.16),
    0,
    0.85,
  );
  // The film closes likewise, towards its most.
  const filming =
    design.parameters.filming.value * (factors.filming ?? 1) * 24 * (standing + months * 30 * 0.16);
  const film = CONSTANTS.MOST_FILM * (1 - Math.exp(-filming / CONSTANTS.MOST_FILM));
  const wear = guess(WEAR_PER_YEAR, z(C.wear)) * story.wear * age;
  const active = clamp(1.03 - wear, 0.25, 1.03);
  return { days, charge, hard, film, active, months };
}
