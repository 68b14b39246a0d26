import { DESIGN_KEYS } from './design.ts';

/**
 * Where each number of a simulated battery lies. State and make are flat arrays, so that a step allocates
 * nothing; states and parameters are per cell and per Ah of rated C20.
 */

export const MOST_CELLS = 12;

/** State of one cell: its numbers lie beside each other, one cell after the other. */
export const CELL = {
  /** Fresh sulfate and hard sulfate, as the charge they hold back, Ah/Ah. */
  soft: 0,
  hard: 1,
  /** How closed the film of sulfate over the plates is: 0 open, 1 after half a year empty, at most 4. */
  film: 2,
  /** Acid in the pores, in the lower and in the upper half of the free acid, Ah/Ah. */
  pore: 3,
  lower: 4,
  upper: 5,
  /** Water, g/Ah. */
  water: 6,
  /** Volts across the plates' double layer, of the surface charge behind it, and of transport in the pores. */
  plates: 7,
  surface: 8,
  transport: 9,
  /** Books since the beginning, Ah/Ah: gassing in all, what of it was vented, what leaked through a short. */
  gassed: 10,
  vented: 11,
  leaked: 12,
} as const;
export const CELL_SIZE = 13;

/** State of the case, after the cells. */
export const CASE = {
  temperatureC: 0,
  /** Books since the beginning: net charge in (Ah), energy in, energy kept as chemistry, heat to the room (Wh). */
  chargeIn: 1,
  energyIn: 2,
  chemistry: 3,
  heatOut: 4,
} as const;
export const CASE_SIZE = 5;

/** What a cell is, beside its design: none of it changes while it is simulated. */
export const MAKE = {
  /** Share of the design's active mass that still works. */
  active: 0,
  /** Times the design's resistance, and ohms that a bad joint adds, Ω·Ah. */
  resistance: 1,
  joint: 2,
  /** Conductance of an internal short, 1/(Ω·Ah). */
  short: 3,
  /** −1 where a cell is connected the wrong way round by its own history. */
  polarity: 4,
} as const;
export const MAKE_SIZE = 5;

/** What the kernel finds of one cell before a step, and needs to carry it out; in its own memory. Currents in C, slopes in C per V. */
export const LINEAR = {
  /** Volts per C of the plates. */
  gain: 0,
  main: 1,
  mainSlope: 2,
  hard: 3,
  hardSlope: 4,
  gas: 5,
  gasSlope: 6,
  vent: 7,
  back: 8,
  backSlope: 9,
  leak: 10,
  leakSlope: 11,
  rest: 12,
  ohms: 13,
  transport: 14,
  /** Root of the charging law, where the next search begins. */
  root: 15,
  /** Of this step's transport: volts without current, and volts per C. */
  transportV: 16,
  transportPerC: 17,
  /** How the main reaction slows as its sulfate and its acid are used up: per Ah/Ah of each; and acid that leaves the pores, 1/h. */
  mainPerSoft: 18,
  mainPerPore: 19,
  leaves: 20,
  transportPerSoft: 21,
  /** The main reaction and its slope, as this step sees them. */
  mainNow: 22,
  mainSlopeNow: 23,
  /** Slopes of all but the main reaction together, and all that takes charge from the plates together. */
  sideSlope: 24,
  taken: 25,
} as const;
export const LINEAR_SIZE = 26;

/**
 * One battery in the kernel's memory: what it is, what drives it, how exactly, what has become of it, and the arrays.
 * `CELLS` and `BYPASSED` are whole numbers of 32 bits, all others doubles.
 */
const HEAD = {
  CELLS: 0,
  C20: 1,
  AMBIENT: 2,
  /** W/K of the whole case. */
  COOLING: 3,
  /** Drive: A wanted, V it may not pass, V it may not be pulled below. */
  DRIVE_A: 4,
  LIMIT_V: 5,
  FLOOR_V: 6,
  /** Tolerance. */
  VOLTS_PER_CELL: 7,
  CHARGE: 8,
  LONGEST_S: 9,
  LONGEST_REST_S: 10,
  TRANSIENT: 11,
  PATIENCE: 12,
  /** What a stepper remembers from step to step. */
  NEXT_S: 13,
  VOLTAGE_V: 14,
  CURRENT_A: 15,
  ELAPSED_S: 16,
  STEPS: 17,
  STRAIN: 18,
  UNDER_A: 19,
  UNDER_V: 20,
  SHORTEST_S: 21,
  /** As a source for the step at hand: terminal volts at its end = OPEN_V + OHMS × current (C). */
  OPEN_V: 22,
  OHMS: 23,
  /** Did the transport of any cell take its bypass? */
  BYPASSED: 24,
  /** At its temperature: spread of the acid (1/h), growth of sulfate (×), and reach of the plates (Ah/Ah). */
  SPREAD: 25,
  SULFATES: 26,
  REACH: 27,
} as const;
const DESIGN = 28;
const MAKES = DESIGN + DESIGN_KEYS.length;
const STATE = MAKES + MOST_CELLS * MAKE_SIZE;
const LINEARS = STATE + MOST_CELLS * CELL_SIZE + CASE_SIZE;
export const BLOCK = { ...HEAD, DESIGN, MAKE: MAKES, STATE, LINEAR: LINEARS } as const;
export const BLOCK_NUMBERS = LINEARS + MOST_CELLS * LINEAR_SIZE;
