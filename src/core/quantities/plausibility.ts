import type { QuantityKey } from './quantity.ts';

/** What is known about the battery when a reading is typed. Volts per battery. */
export interface ReadingContext {
  cells: number;
  /** C20 in Ah. */
  c20Ah: number;
  /** Set current of the running charge, A; absent when nothing is charging. */
  chargeA?: number;
  /** What its label stands for, where there is one: resistance when full, mΩ, and printed CCA, A. */
  soundMilliohm?: number;
  ratedCca?: number | null;
  /** true while a load is on. */
  underLoad?: boolean;
}

/**
 * Says whether a possible value is also likely here. The answer is a question to ask once, or null.
 *
 * Bands per cell: rest and charge 1.75–2.60 V, under load 1.2–2.15 V. They are the shop's net for
 * typing slips (a digit missed, the wrong battery), not limits; a confirmed value is kept as it is.
 */
export function askAbout(
  quantity: QuantityKey,
  value: number,
  context: ReadingContext,
): string | null {
  switch (quantity) {
    case 'voltage': {
      const perCell = value / context.cells;
      if (value < 0)
        return `${value.toFixed(2)} V is below zero: leads swapped, or the battery is reversed?`;
      if (context.underLoad) {
        if (perCell < 1.2) return `${value.toFixed(2)} V under load is very low. Is it right?`;
        if (perCell > 2.15)
          return `${value.toFixed(2)} V is high for a battery under load. Was the load on?`;
        return null;
      }
      if (perCell < 1.75)
        return `${value.toFixed(2)} V is low for ${context.cells} cells. Is it right?`;
      if (perCell > 2.6)
        return `${value.toFixed(2)} V is high for ${context.cells} cells. Is it right?`;
      return null;
    }
    case 'current': {
      if (context.chargeA !== undefined && value > context.chargeA * 1.5) {
        return `${value.toFixed(2)} A is well above the ${context.chargeA.toFixed(1)} A set. Is it right?`;
      }
      if (value < 0) return `${value.toFixed(2)} A flows out of the battery. Is it right?`;
      return value > context.c20Ah
        ? `${value.toFixed(2)} A is a lot for ${context.c20Ah} Ah. Is it right?`
        : null;
    }
    case 'temperature':
      if (value < 5) return `${value.toFixed(0)} °C is cold for the bench. Is it right?`;
      return value > 60 ? `${value.toFixed(0)} °C is very hot. Is it right?` : null;
    case 'resistance': {
      // Without a label: a sound cell has a few hundredths of an ohm over its Ah. Ten times that is worth a question.
      const sound = context.soundMilliohm ?? (45 * context.cells) / context.c20Ah;
      if (value <= 0) return `${value.toFixed(1)} mΩ is no resistance. Were the clips on?`;
      if (value > 10 * sound)
        return `${value.toFixed(1)} mΩ is very high: a sound one has about ${sound.toFixed(1)}. Is it right?`;
      return value < sound / 4
        ? `${value.toFixed(1)} mΩ is less than a sound one has, about ${sound.toFixed(1)}. Is it right?`
        : null;
    }
    case 'crankingCurrent':
      if (context.ratedCca && value > 1.6 * context.ratedCca)
        return `${value.toFixed(0)} A is a lot for a rating of ${context.ratedCca} A. Is it right?`;
      return value > 60 * context.c20Ah
        ? `${value.toFixed(0)} A is a lot for ${context.c20Ah} Ah. Is it right?`
        : null;
    case 'mass': {
      const [light, heavy] = [12, 90].map((grams) => grams * context.cells * context.c20Ah) as [
        number,
        number,
      ];
      return value < light || value > heavy
        ? `${value.toFixed(0)} g is unlikely for ${context.c20Ah} Ah. Is it right?`
        : null;
    }
    case 'volume': {
      const most = 40 * context.cells * context.c20Ah;
      return value > most
        ? `${value.toFixed(0)} mL is a lot for ${context.c20Ah} Ah. Is it right?`
        : null;
    }
    case 'frequency':
      return null;
    case 'specificGravity':
      return value < 1.05 || value > 1.35
        ? `SG ${value.toFixed(3)} is outside battery acid. Is it right?`
        : null;
  }
}
