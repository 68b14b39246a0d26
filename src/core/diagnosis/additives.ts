import { neutraliser } from '../electrolyte/neutralising.ts';

/** Solution of the sulfate school, g of salt to a litre of distilled water. As practitioners print it; contested. */
export const SULFATE_G_PER_L = 27.5;

/** Solution of the magnesium school: so many parts of water to one of salt, by volume. As practitioners tell it; contested. */
export const MAGNESIUM_WATER_PARTS = 3;

/** What an additive takes, and what it leaves behind. */
export interface AdditiveNeeds {
  solutionL: number;
  saltG: number;
  /** Acid drawn off: hazardous waste, and the soda that neutralises it should it be spilt. */
  wasteAcidL: number;
  bicarbonateKg: number;
}

/** @param acidL acid in it, L; @param sg of that acid at 25 °C */
export function sulfateNeeds(acidL: number, sg: number): AdditiveNeeds {
  return {
    solutionL: acidL,
    saltG: SULFATE_G_PER_L * acidL,
    wasteAcidL: acidL,
    bicarbonateKg: neutraliser(acidL, Math.max(1.05, sg)).bicarbonateKg,
  };
}
