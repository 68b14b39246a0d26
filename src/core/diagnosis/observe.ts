import { LOAD_TEST_C_RATE, LOAD_TEST_S } from '../capacity/loadTest.ts';
import type { Random } from '../simulation/random.ts';
import type { Evidence, EvidenceKind } from './evidence.ts';
import { type Showing } from './showing.ts';
import { OFF, soundOhmsOf, levelChances, eyeChances } from './measurement.ts';

/** What is at hand when a reading is imagined: the rating and the mass that it is compared with. */
export interface Ratings {
  ratedCca: number | null;
  wetMassG: number | null;
}

/** A reading as it would come from a suspect, errors and all; null where it cannot be taken. */
export function observe(
  showing: Showing,
  kind: EvidenceKind,
  ratings: Ratings,
  random: Random,
): Evidence | null {
  const { cells, c20Ah } = showing.suspect.battery;
  const shared = random.normal();
  const list = <T>(make: (k: number) => T): T[] => Array.from({ length: cells }, (_, k) => make(k));
  switch (kind) {
    case 'rest-volts':
      return {
        of: kind,
        voltageV:
          showing.restV +
          OFF.restPerCellV * cells * shared +
          OFF.emptyPerCellV * showing.fallen * random.normal(),
      };
    case 'cell-sg':
      return {
        of: kind,
        sg: list((k) => showing.sg(k) + OFF.sgShared * shared + OFF.sgEach * random.normal()),
      };
    case 'cell-volts':
      return {
        of: kind,
        volts: list(
          (k) =>
            showing.cellV(k) +
            (showing.collapsed(k)
              ? OFF.emptyPerCellV * random.normal()
              : OFF.cellSharedV * shared + OFF.cellV * random.normal()),
        ),
      };
    case 'levels':
      return {
        of: kind,
        levels: list((k) =>
          pick(levelChances(showing.water(k), showing.suspect.battery.design.dryBegins), random),
        ),
      };
    case 'load': {
      const currentA = LOAD_TEST_C_RATE * c20Ah;
      const { underV, afterV } = showing.load(currentA, LOAD_TEST_S);
      const drop = Math.max(0, showing.restV - underV);
      return {
        of: kind,
        currentA,
        seconds: LOAD_TEST_S,
        underV: Math.max(
          0,
          underV +
            OFF.loadPerCellV * cells * random.normal() +
            OFF.loadShare * drop * random.normal(),
        ),
        afterV:
          afterV +
          OFF.reboundPerCellV * cells * random.normal() +
          OFF.emptyPerCellV * showing.fallen * random.normal(),
      };
    }
    case 'cranking': {
      const drop = Math.max(0, showing.restV - showing.crankV);
      return {
        of: kind,
        dipV: Math.max(0, showing.crankV + OFF.crankShare * drop * random.normal()),
      };
    }
    case 'cca':
      return ratings.ratedCca === null
        ? null
        : {
            of: kind,
            ratedA: ratings.ratedCca,
            ccaA:
              ratings.ratedCca *
              (soundOhmsOf(showing.subject) / showing.ohms) *
              Math.exp(OFF.ccaLog * random.normal()),
          };
    case 'resistance':
      return {
        of: kind,
        milliohm: 1000 * showing.ohms * Math.exp(OFF.resistanceLog * random.normal()),
      };
    case 'mass':
      return ratings.wetMassG === null
        ? null
        : {
            of: kind,
            wetMassG: ratings.wetMassG,
            massG:
              ratings.wetMassG -
              showing.missingG +
              Math.hypot(OFF.massG, OFF.massShare * ratings.wetMassG) * random.normal(),
          };
    case 'terminals': {
      const { causes } = showing.suspect;
      const white = causes.has('undercharged')
        ? 0.6
        : causes.has('hard') || causes.has('light')
          ? 0.2
          : 0.07;
      return { of: kind, white: random.even() < white };
    }
    case 'eye':
      return { of: kind, shows: pick(eyeChances(showing), random) };
    case 'earlier-capacity':
    case 'charging':
    case 'cycled':
      return null;
  }
}

function pick<K extends string>(chances: Record<K, number>, random: Random): K {
  let left = random.even();
  const entries = Object.entries(chances) as [K, number][];
  for (const [key, chance] of entries) {
    left -= chance;
    if (left <= 0) return key;
  }
  return (entries.at(-1) as [K, number])[0];
}
