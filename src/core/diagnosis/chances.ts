import { DESIGN_KEYS } from '../simulation/design.ts';
import type { Random } from '../simulation/random.ts';
import { type Fault, FAULTS, type Guess, MOST_CHANCE, STORIES, USUAL_FAULTS } from './stories.ts';
import type { Subject } from './subject.ts';

/**
 * The chances a suspect is drawn by: all standard normal, so that a small change of them is another suspect of
 * the same prior.
 */

/** Which chance decides what. Cells and design parameters have one each, after these. */
export const C = {
  days: 0,
  age: 1,
  left: 2,
  drawn: 3,
  drawnWhen: 4,
  past: 5,
  collapse: 6,
  lost: 7,
  wear: 8,
  under: 9,
  underHow: 10,
  layered: 11,
  layeredHow: 12,
  dry: 13,
  dryHow: 14,
  weak: 15,
  weakHow: 16,
  shorted: 17,
  shortedHow: 18,
  joint: 19,
  jointHow: 20,
  reversed: 21,
  reversedHow: 22,
  damaged: 23,
  damagedHow: 24,
  oddCell: 25,
} as const;
export const FIXED = 26;
/** For each cell: charge and active mass apart from the others, and how far its plates fell. */
export const PER_CELL = 3;

/** Design parameters that a suspect has of its own. Acid and water stay with the maker's strength. */
export const DRAWN_KEYS = DESIGN_KEYS.filter((key) => key !== 'recombination' && key !== 'water');

/** How many chances a suspect is drawn by. */
export function chancesOf(cells: number): number {
  return FIXED + PER_CELL * cells + DRAWN_KEYS.length;
}

/** A standard normal chance as one between 0 and 1. */
export const uniform = (z: number): number => {
  // Normal distribution function, Abramowitz and Stegun 26.2.17, error below 1e-7.
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const tail =
    0.3989422804 *
    Math.exp((-z * z) / 2) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return z > 0 ? 1 - tail : tail;
};
export const clamp = (x: number, low: number, high: number): number =>
  x < low ? low : x > high ? high : x;
/** A guess at a chance: its middle, some times more or less. */
export const guess = ({ middle, times }: Guess, z: number): number =>
  middle * times ** clamp(z, -2.5, 2.5);

/** Chance of a fault in a battery of this family with this story, 0–1. */
function faultChance({ story, chemistry }: Subject, fault: Fault): number {
  return clamp(
    STORIES[story].raised[fault] ?? USUAL_FAULTS[chemistry][fault] * STORIES[story].faults,
    0,
    MOST_CHANCE,
  );
}

/** Has a set of chances this fault? */
export const hasFault = (subject: Subject, chances: Float64Array, fault: Fault): boolean =>
  uniform(chances[C[fault]] as number) < faultChance(subject, fault);

/**
 * Chances of a suspect of the prior, or, if `fault` is given, of one that has that fault: a fault in a hundred
 * would otherwise be met by hardly anybody of a small population.
 */
export function drawChances(subject: Subject, random: Random, fault: Fault | null): Float64Array {
  const length = chancesOf(subject.cells) + (subject.sizeOff ? 1 : 0);
  const chances = Float64Array.from({ length }, () => random.normal());
  if (fault && faultChance(subject, fault) > 0)
    while (!hasFault(subject, chances, fault)) chances[C[fault]] = random.normal();
  return chances;
}

/** How much likelier the prior draws these chances than half of it and half one fault after the other do. */
export function priorWeight(subject: Subject, chances: Float64Array): number {
  const possible = possibleFaults(subject);
  const forced = possible.reduce(
    (sum, fault) => sum + (hasFault(subject, chances, fault) ? 1 / faultChance(subject, fault) : 0),
    0,
  );
  return 1 / (0.5 + (0.5 * forced) / possible.length);
}

/** The faults that {@link drawChances} can be asked for. */
export function possibleFaults(subject: Subject): Fault[] {
  return FAULTS.filter((fault) => faultChance(subject, fault) > 0);
}
