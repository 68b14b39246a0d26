/**
 * Where each number of a simulated battery lies. State and make are flat arrays, so that a step allocates
 * nothing; states and parameters are per cell and per Ah of rated C20.
 */

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
