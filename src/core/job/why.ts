import type { ShowingFinding } from '../chargers/showing.ts';
import { showingFindingWords } from '../chargers/showingWords.ts';
import { tripText, tripTitle } from '../charging/tripWords.ts';
import type { Trip } from '../charging/trips.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';

/** Why a charge stopped or something was said of it: who or what, and the figures or the words that tell it. */
export type Why =
  | { by: 'person'; reason: string }
  /** A guard, with the place where its instrument is not that of a running charge. */
  | { by: 'guard'; trip: Trip; place?: number }
  /** What the instrument at a place said, or did not do. */
  | { by: 'instrument'; place: number; said: string }
  /** What the charger showed: no current flows. */
  | { by: 'charger'; finding: ShowingFinding }
  /** The reading that had stopped it was corrected. */
  | { by: 'correction' }
  /** The job was handed to the lead. */
  | { by: 'lead' };

/** A name and a sentence, in the shop's unit of temperature. */
export function whyWords(why: Why, unit: TemperatureUnit): { title: string; text: string } {
  switch (why.by) {
    case 'person':
      return { title: 'Paused', text: why.reason };
    case 'guard': {
      const text = tripText(why.trip, unit);
      return {
        title: tripTitle(why.trip),
        text: why.place === undefined ? text : `Place ${why.place}: ${text}`,
      };
    }
    case 'instrument':
      return { title: 'Not started', text: `Place ${why.place}: ${why.said}` };
    case 'charger': {
      const { title, means, next } = showingFindingWords(why.finding);
      return { title, text: `${means} ${next}` };
    }
    case 'correction':
      return { title: 'Paused', text: 'The reading that stopped it was corrected.' };
    case 'lead':
      return { title: 'Paused', text: 'Handed to the lead.' };
  }
}

/** The same in a line: `No current: next to none flows …`. */
export function whyLine(why: Why, unit: TemperatureUnit): string {
  const { title, text } = whyWords(why, unit);
  return why.by === 'guard' && why.place === undefined && title !== '' ? `${title}: ${text}` : text;
}

/** Its name alone; a person's reason is its own. */
export const whyTitle = (why: Why): string =>
  why.by === 'guard'
    ? tripTitle(why.trip) || 'Stopped'
    : why.by === 'charger'
      ? showingFindingWords(why.finding).title
      : 'Paused';
