import { MOLALITY_PER_AH_AND_G, REACTION_WATER_G } from '../electrolyte/faraday.ts';
import { BODE, REST_V_PER_KELVIN, restVoltageFromMolality } from '../electrolyte/restVoltage.ts';

const WEAKEST = 0.1;
const NERNST_V_PER_DECADE = 0.118;
const SOFTENS_ABOVE_V = 2.28;
const SOFTENING_AT_V = 2.45;
const SOFTENING_STEP_V = 0.08;
const DRIEST = 0.02;

/** Constants of the battery model that no design changes; the kernel is compiled with them. */
export const CONSTANTS = {
  /** Water split by gassing, g per Ah (Faraday). */
  GASSING_WATER_G: 0.336,
  /** Bode's polynomial is fitted from 0.1 mol/kg; below, the slope of Nernst's law for two electrons and two moles. */
  WEAKEST,
  REST_AT_WEAKEST: restVoltageFromMolality(WEAKEST),
  NERNST_V_PER_DECADE,
  WEAKEST_LOG: Math.log(WEAKEST),
  KELVIN: 298.15,
  /** Volts at which splitting water takes no heat from outside. */
  THERMONEUTRAL_WATER_V: 1.48,
  /** Gassing grows 11 per volt and 0.06 per °C (Schiffer et al. 2007), counted from 2.23 V. */
  GAS_PER_VOLT: 11,
  GAS_PER_C: 0.06,
  GAS_AT_V: 2.23,
  /** Beyond this the law is carried on by its tangent: nothing real goes on exponentially. V */
  GAS_STRAIGHT_FROM_V: 3.1,
  /** The law of the exchange likewise, beyond so many times its slope: hundreds of C. */
  STRAIGHT_BEYOND: 9,
  /** A cell with nothing left to give loses nothing by itself; this share left, Ah/Ah, halves what it loses. */
  LITTLE_LEFT: 0.03,
  /** The last of it ends the exchange altogether: at this share left it is halved. */
  ALL_GONE: 0.003,
  /** Gas that a current drives wants this many volts above rest; below, it is the plates that discharge themselves. */
  DRIVEN_OVER_V: 0.1,
  /** Where a cell driven past empty settles, reversed, its current making gas at both plates the wrong way round. */
  REVERSED_V: -1.8,
  WRONG_STRAIGHT_FROM_V: -2.5,
  /** Beyond these volts, V, something gives way beside the plates, with this conductance, 1/(Ω·Ah). */
  GIVES_WAY_V: 5,
  GIVES_WAY: 4,
  /** Transport cannot be pulled lower than this, V: the current finds another way. Its conductance there, 1/(Ω·Ah). */
  TRANSPORT_LOWEST_V: -3.7,
  TRANSPORT_BYPASS: 2,
  /** A resistance of transport is never more than this, Ω·Ah: discharging and at rest, and charging. */
  MOST_TRANSPORT: 500,
  MOST_TRANSPORT_CHARGING: 8,
  /** Hard sulfate comes back only above this, and faster by e for each further step; its rate is given at 2.45 V. */
  SOFTENS_ABOVE_V,
  SOFTENING_STEP_V,
  SOFTENING_SCALE: 1 / (Math.exp((SOFTENING_AT_V - SOFTENS_ABOVE_V) / SOFTENING_STEP_V) - 1),
  /** The film opens by e for each so much charge put through it, Ah/Ah, and dampens exchange and acceptance by e for each ⅔ of it; months empty close it to 2, years towards 4. */
  FILM_OPENS_AH: 0.035,
  FILM_DAMPS: 1.5,
  MOST_FILM: 4,
  /** Softening and sulfate growth per °C. */
  SOFTENING_PER_C: 0.034,
  SULFATE_PER_C: Math.LN2 / 10,
  /** In layered acid the strong bottom speaks louder than its share. Assumed. */
  BOTTOM_SPEAKS: 0.3,
  /** Even a dry cell passes a trace of current. */
  DRIEST,
  /** Kinetics are not carried on beyond these temperatures, °C; what gets hotter boils, and boiling holds it there. */
  COLDEST_C: -60,
  BOILS_C: 105,
  /** Boiling takes so many times the heat that still air does, for each °C above. */
  BOILING: 40,
  /** A step is never shorter than this, and one shorter than that is a transient, s. */
  SHORTEST_S: 0.02,
  TRANSIENT_S: 30,
  /** From elsewhere: Faraday's and Bode's. */
  MOLALITY_PER_AH_AND_G,
  REACTION_WATER_G,
  REST_V_PER_KELVIN,
  BODE_0: BODE[0],
  BODE_1: BODE[1],
  BODE_2: BODE[2],
  BODE_3: BODE[3],
  BODE_4: BODE[4],
} as const;

/** Rest voltage of a cell at a molality and temperature, on the kernel's own terms. V. */
export function cellRestVoltage(molality: number, temperatureC: number): number {
  const at25 =
    molality >= WEAKEST
      ? restVoltageFromMolality(molality)
      : CONSTANTS.REST_AT_WEAKEST +
        NERNST_V_PER_DECADE * Math.log10(Math.max(molality, 1e-9) / WEAKEST);
  return at25 + REST_V_PER_KELVIN * (temperatureC - 25);
}

/** Share of the plates that acid reaches: a trace to 1. @param design its numbers for water */
export function wetShare(
  water: number,
  discharged: number,
  design: { water: number; dryBegins: number; dryEnds: number },
): number {
  const share =
    ((water - REACTION_WATER_G * discharged) / design.water - design.dryEnds) /
    (design.dryBegins - design.dryEnds);
  return share > 1 ? 1 : share < DRIEST ? DRIEST : share;
}
