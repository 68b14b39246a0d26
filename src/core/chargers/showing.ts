import { type ChargerLight, LIGHT_MEANINGS, type OwnWay } from './charger.ts';

/** What a charger can show or do besides its own lights. */
export const SHOWING_MEANINGS = [...LIGHT_MEANINGS, 'refuses', 'clicks'] as const;
export type ShowingMeaning = (typeof SHOWING_MEANINGS)[number];

/** What somebody saw on a charger. */
export interface Showing {
  light: string;
  means: ShowingMeaning;
  percent?: number;
}

/** What any charger may do whatever its lights are called. */
const ANY: readonly Showing[] = [
  { light: 'Does not start', means: 'refuses' },
  { light: 'Clicks on and off', means: 'clicks' },
];
/** A charger that has lights, and nobody wrote down which. */
const USUAL_LIGHTS: readonly ChargerLight[] = [
  { light: 'Charging', means: 'charging' },
  { light: 'Full', means: 'full' },
  { light: 'Error', means: 'error' },
];

/** What can be tapped for a charger; empty where it shows nothing but a current. */
export function showingsOf({ shows, lights }: Pick<OwnWay, 'shows' | 'lights'>): Showing[] {
  if (!shows.includes('lights') && !shows.includes('percent')) return [];
  return [...(lights.length > 0 ? lights : USUAL_LIGHTS), ...ANY];
}

/** What a showing tells of the battery. Hours of current since it was last connected. */
export type ShowingFinding =
  | { kind: 'full-at-once'; afterH: number; expectedH: number }
  | { kind: 'full'; afterH: number }
  | { kind: 'late'; afterH: number; expectedH: number }
  | { kind: 'refuses'; readsV: number | null; startsV: number | null }
  | { kind: 'clicks' }
  | { kind: 'error'; afterH: number };

/** Full in less than this share of the hours it should take, and within so long, is no full battery. */
const AT_ONCE_SHARE = 0.2;
const AT_ONCE_H = 1.5;
/** A battery that lacks no more than this may be full at once. */
const LACKS_LITTLE = 0.12;
/** So many times what was expected is late. */
const LATE_TIMES = 2;

/**
 * What it means that a charger shows this.
 *
 * @param at hours with current on since it was connected, what was expected of them, and the share of C20 it lacked
 * @returns null where it only charges on
 */
export function findingOf(
  { means }: Pick<Showing, 'means'>,
  at: {
    onH: number;
    expectedH: number;
    lacksShare: number;
    readsV: number | null;
    startsV: number | null;
  },
): ShowingFinding | null {
  const { onH, expectedH, lacksShare, readsV, startsV } = at;
  switch (means) {
    case 'full':
      return lacksShare > LACKS_LITTLE && onH < Math.min(AT_ONCE_H, AT_ONCE_SHARE * expectedH)
        ? { kind: 'full-at-once', afterH: onH, expectedH }
        : { kind: 'full', afterH: onH };
    case 'charging':
    case 'waiting':
      return onH > LATE_TIMES * expectedH && onH - expectedH > 2
        ? { kind: 'late', afterH: onH, expectedH }
        : null;
    case 'error':
      return { kind: 'error', afterH: onH };
    case 'refuses':
      return { kind: 'refuses', readsV, startsV };
    case 'clicks':
      return { kind: 'clicks' };
  }
}

/** No current flows while it shows this. */
export const standsStill = (means: ShowingMeaning): boolean =>
  means === 'refuses' || means === 'clicks' || means === 'error';
