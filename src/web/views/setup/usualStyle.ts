import type { ShopStyle } from '../../../core/house/rules.ts';

/** Languages as browsers name them whose country reads °F and ounces, and puts the month first. */
const AMERICAN = /^en-US$|^es-US$|^es-PR$/;
/** Countries that say am and pm, though they measure in °C and mL. */
const HALF_DAYS = /^en-(?:US|CA|AU|NZ|IN|PH)$|^es-(?:US|MX|PR)$|^hi\b/;
const LETTER = /-(?:US|CA|MX|PH|PR)$/;

/**
 * How a shop most likely says times and amounts: what stands in the set-up before anybody has chosen.
 *
 * @param language of the browser
 * @param machineZone of the machine the shop runs on
 */
export const usualStyle = (language: string, machineZone: string): ShopStyle => {
  const american = AMERICAN.test(language);
  return {
    timeZone: machineZone,
    clock: HALF_DAYS.test(language) ? '12h' : '24h',
    dateOrder: american ? 'month-first' : 'day-first',
    temperatureUnit: american ? 'F' : 'C',
    volumeUnit: american ? 'oz' : 'mL',
    paper: LETTER.test(language) ? 'Letter' : 'A4',
  };
};

/** `RO` of Runa Oakley; the first two letters where there is one name. */
export function initialsOf(name: string): string {
  const words = name.trim().split(/\s+/).filter(Boolean);
  const first = words[0] ?? '';
  const last = words.at(-1) ?? '';
  return (words.length > 1 ? first.charAt(0) + last.charAt(0) : first.slice(0, 2)).toUpperCase();
}
