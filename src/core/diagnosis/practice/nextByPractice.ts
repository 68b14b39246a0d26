import type { Random } from '../../simulation/random.ts';
import { EVIDENCE, type EvidenceKind } from '../evidence.ts';
import type { FamilyKey } from './families.ts';
import type { Feature } from './features.ts';
import { Practice, type Told } from './judge.ts';
import type { FeatureKey } from './table.ts';

/** What each kind of reading on arrival tells practice; one that is not among these tells it nothing. */
const TELLS: Readonly<Partial<Record<EvidenceKind, readonly FeatureKey[]>>> = {
  'rest-volts': ['volts'],
  levels: ['bare'],
  'cell-sg': ['sgDrop', 'sgSpread'],
  'cell-volts': ['leastCell'],
  load: ['load'],
  cca: ['cca'],
  resistance: ['ohms'],
  mass: ['lostMass'],
};

/** A reading that is still open, and by how much it would raise the chance of naming the family rightly. */
export interface Clearing {
  kind: EvidenceKind;
  minutes: number;
  /** 0–1; what is expected over all that it could read. */
  clears: number;
}

/** Each open reading is imagined so often. */
const DRAWS = 40;

/**
 * What each reading not taken yet would bring by practice alone: the expected chance of the likeliest family after it, less
 * what that is now (expected value of sample information, where naming the family rightly is what counts).
 *
 * @param taken kinds that were read already
 * @param may which readings can be had: of this kind, by the tools that are here
 * @returns what clears most a minute first
 */
export function clearingByPractice(
  told: Told,
  features: readonly Feature[],
  taken: ReadonlySet<EvidenceKind>,
  may: (kind: EvidenceKind) => boolean,
  random: Random,
  times: Partial<Record<FamilyKey, number>> = {},
): Clearing[] {
  const practice = new Practice(told, features, times);
  const { pictures, families } = practice.odds([]);
  const now = Math.max(...Object.values(families));
  return (Object.keys(TELLS) as EvidenceKind[])
    .filter((kind) => !taken.has(kind) && may(kind))
    .map((kind): Clearing => {
      let sum = 0;
      for (let i = 0; i < DRAWS; i++) {
        const more = practice.draw(TELLS[kind] ?? [], pictures, random);
        sum += Math.max(...Object.values(practice.odds(more).families));
      }
      return {
        kind,
        minutes: EVIDENCE[kind].minutes,
        clears: Math.max(0, sum / DRAWS - now),
      };
    })
    .sort((a, b) => b.clears / b.minutes - a.clears / a.minutes);
}
