/** Where a number came from. The order is the precedence: the maker's word beats the shop's beats ours. */
export type Origin = 'maker' | 'house' | 'default' | 'measured' | 'computed';

export const ORIGIN_WORDS: Readonly<Record<Origin, string>> = {
  maker: 'By the maker',
  house: 'House rule',
  default: 'Default',
  measured: 'Measured',
  computed: 'Worked out',
};

/** Stored units a figure may carry; times are in seconds, volumes in millilitres. */
export type FigureUnit = 'V' | 'A' | 'Ah' | 's' | 'mL' | 'kg' | '°C' | 'SG' | '%' | '';

export interface FigureInput {
  label: string;
  value: string;
  origin: Origin;
}

/** A number that can explain itself: what it is, how it was worked out, from what, and who says so. */
export interface Figure {
  key: string;
  label: string;
  value: number;
  unit: FigureUnit;
  origin: Origin;
  /** The formula in words, e.g. `C20 ÷ 10, at most 3 A up to 30 Ah`. */
  formula: string;
  inputs: FigureInput[];
  /** Who stands behind it: a standard, a school, the maker's sheet. */
  source: string;
}

/** A value the maker may have printed, the house may have ruled, and we have a default for. */
export interface Fallback {
  value: number;
  formula: string;
  inputs?: FigureInput[];
  source: string;
}

/**
 * Picks a figure by precedence: maker's printed value, then house rule, then default.
 *
 * @returns the figure with its origin set to whichever won
 */
export function choose(
  about: Pick<Figure, 'key' | 'label' | 'unit'>,
  maker: number | null | undefined,
  fallback: Fallback & { origin: Extract<Origin, 'house' | 'default' | 'computed'> },
): Figure {
  if (maker !== null && maker !== undefined) {
    return {
      ...about,
      value: maker,
      origin: 'maker',
      formula: 'As printed for this model',
      inputs: [],
      source: "Maker's sheet for the model",
    };
  }
  const { inputs = [], ...rest } = fallback;
  return { ...about, ...rest, inputs };
}
