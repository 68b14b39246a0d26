import type { Random } from '../../simulation/random.ts';
import type { Evidence, EvidenceKind } from '../evidence.ts';
import type { Showing } from '../showing.ts';
import type { Subject } from '../subject.ts';

/**
 * What a reading would be if a suspect were the battery, and how far a real one may be off: the meter, the
 * hand, and the model itself. One module a kind of reading; `readings.ts` lists them.
 */

export type EvidenceOf<K extends EvidenceKind> = Extract<Evidence, { of: K }>;

/** Log density of a reading by the measurement model, and of one that could be anything. */
export interface Compared {
  fits: number;
  flat: number;
}

/** What is at hand when a reading is imagined: the rating and the mass that it is compared with. */
export interface Ratings {
  ratedCca: number | null;
  wetMassG: number | null;
}

/** How a reading is imagined. */
export interface Imagined {
  ratings: Ratings;
  random: Random;
  /** The error that its values share, standard normal. */
  shared: number;
}

export interface ReadingModule<K extends EvidenceKind> {
  compare(showing: Showing, evidence: EvidenceOf<K>): Compared;
  /**
   * Where comparing takes a simulation: what no suspect of so many cells passes. Who is out of question by everything else need
   * not be simulated then.
   */
  most?: (evidence: EvidenceOf<K>, cells: number) => Compared;
  /** As it would come from a suspect, errors and all; null where it cannot be taken. */
  observe(showing: Showing, imagined: Imagined): EvidenceOf<K> | null;
  /** In so many words. */
  describe(evidence: EvidenceOf<K>, subject: Subject): string;
}
