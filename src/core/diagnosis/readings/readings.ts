import type { Random } from '../../simulation/random.ts';
import type { Evidence, EvidenceKind } from '../evidence.ts';
import type { Showing } from '../showing.ts';
import type { Subject } from '../subject.ts';
import { cca } from './cca.ts';
import { cellSg } from './cellSg.ts';
import { cellVolts } from './cellVolts.ts';
import { charging } from './charging.ts';
import { cranking } from './cranking.ts';
import { cycled } from './cycled.ts';
import { earlierCapacity } from './earlierCapacity.ts';
import { eye } from './eye.ts';
import { levels } from './levels.ts';
import { load } from './load.ts';
import { mass } from './mass.ts';
import type { Compared, Imagined, Ratings, ReadingModule } from './reading.ts';
import { resistance } from './resistance.ts';
import { restVolts } from './restVolts.ts';
import { terminals } from './terminals.ts';

/** Every kind of reading a diagnosis knows, and how it weighs, imagines and says it. */
const READINGS: { readonly [K in EvidenceKind]: ReadingModule<K> } = {
  'rest-volts': restVolts,
  'cell-sg': cellSg,
  'cell-volts': cellVolts,
  levels,
  load,
  cranking,
  cca,
  resistance,
  mass,
  terminals,
  eye,
  'earlier-capacity': earlierCapacity,
  charging,
  cycled,
};

/** A module is only ever given readings of its own kind, which the compiler cannot see here. */
const moduleOf = (kind: EvidenceKind): ReadingModule<EvidenceKind> =>
  READINGS[kind] as unknown as ReadingModule<EvidenceKind>;

/** One reading in so many is taken to be a slip, so that no reading alone rules anything out. */
const SLIP = 0.02;

const compared = (showing: Showing, evidence: Evidence): Compared =>
  moduleOf(evidence.of).compare(showing, evidence);

/** Log likelihood of one piece of evidence if a suspect were the battery; never minus infinity. */
export const likelihood = (showing: Showing, evidence: Evidence): number =>
  orSlip(compared(showing, evidence));

/** What no suspect's log likelihood passes, where a simulation is needed to say it; null where it is said at once. */
export function mostLikelihood(evidence: Evidence, cells: number): number | null {
  const { most } = moduleOf(evidence.of);
  return most ? orSlip(most(evidence, cells)) : null;
}

function orSlip({ fits, flat }: Compared): number {
  const a = fits + Math.log(1 - SLIP);
  const b = flat + Math.log(SLIP);
  return a > b ? a + Math.log1p(Math.exp(b - a)) : b + Math.log1p(Math.exp(a - b));
}

/** How likely it is that a reading was a slip, if this suspect were the battery, 0–1. */
export function slipChance(showing: Showing, evidence: Evidence): number {
  const { fits, flat } = compared(showing, evidence);
  return 1 / (1 + ((1 - SLIP) / SLIP) * Math.exp(Math.min(50, fits - flat)));
}

/** A reading as it would come from a suspect, errors and all; null where it cannot be taken. */
export function observe(
  showing: Showing,
  kind: EvidenceKind,
  ratings: Ratings,
  random: Random,
): Evidence | null {
  const imagined: Imagined = { ratings, random, shared: random.normal() };
  return moduleOf(kind).observe(showing, imagined);
}

/** A piece of evidence in so many words. */
export const describeReading = (evidence: Evidence, subject: Subject): string =>
  moduleOf(evidence.of).describe(evidence, subject);
