import { type ChemistryKey, forCells } from '../batteries/chemistry.ts';
import { makeBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { Pair } from '../simulation/parallel.ts';
import { leadsOhm, type WakePair } from './wakeCurrents.ts';

/** A moment of waking: into the sleeper, out of the donor (negative: it is charged itself), A; and volts at the clips. */
export interface WakeMoment {
  minutes: number;
  sleeperA: number;
  donorGivesA: number;
  voltageV: number;
}

/** A sleeper driven past empty, its plates at what it reads; hard sulfate of some months. Usual for one that stood. */
const SLEEPER_CHARGE = -0.15;
const SLEEPER_HARD = 0.15;
/** A donor of these volts (per 12 V) is as full as this. */
const DONOR_FULL_V = 12.7;
const DONOR_EMPTY_V = 11.7;
const MOMENTS_MIN = [10, 60] as const;

/** Who carries what, by two simulated batteries side by side with a charger across the donor. */
export function wakeCourse(
  pair: WakePair,
  chemistry: ChemistryKey,
  temperatureC: number,
): WakeMoment[] {
  const { cells } = pair;
  const charge = Math.min(
    1,
    Math.max(
      0.1,
      (pair.donorV - forCells(DONOR_EMPTY_V, cells)) /
        forCells(DONOR_FULL_V - DONOR_EMPTY_V, cells),
    ),
  );
  const donor = makeBattery(
    DESIGNS.flooded,
    { cells, c20Ah: pair.donorAh },
    { charge, temperatureC },
  );
  const platesV = Math.max(0, pair.sleeperV / cells);
  const sleeper = makeBattery(
    DESIGNS[chemistry],
    { cells, c20Ah: pair.sleeperAh },
    {
      charge: SLEEPER_CHARGE,
      temperatureC,
      cells: Array.from({ length: cells }, () => ({ hard: SLEEPER_HARD, platesV })),
    },
  );
  const side = new Pair(donor, sleeper, leadsOhm(pair));
  let at = 0;
  return MOMENTS_MIN.map((minutes) => {
    side.run({ currentA: pair.chargerA, limitV: 2.45 * cells }, (minutes - at) * 60);
    at = minutes;
    return { minutes, sleeperA: side.secondA, donorGivesA: -side.firstA, voltageV: side.voltageV };
  });
}
