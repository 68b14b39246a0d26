import type { Figure } from './figure.ts';
import { figureParts, formatDate, formatTimeOfDay, MONTHS, type WallStyle } from './format.ts';
import {
  fahrenheitFromCelsius,
  GRAMS_PER_OUNCE,
  GRAMS_PER_POUND,
  ML_PER_GALLON,
  ML_PER_OUNCE,
  type TemperatureUnit,
  type VolumeUnit,
} from './quantity.ts';

/**
 * Sentences are written, kept and sent in °C, mL and grams, whoever reads them. Where they are shown or printed they are
 * said in the units of the shop, here and nowhere else: so that a sentence of last year follows when the shop changes
 * its units, and no writer of a sentence has to think of them.
 */

/** The units a shop reads and types in. */
export interface Units {
  temperatureUnit: TemperatureUnit;
  volumeUnit: VolumeUnit;
}

/** What is kept, and sent. */
export const KEPT_UNITS: Units = { temperatureUnit: 'C', volumeUnit: 'mL' };

const NUMBER = String.raw`[+-]?\d+(?:\.\d+)?`;
/** `600`, `16 and 30`, `3–30`, `-40 to 90`: one number or two, with what joins them. */
const ONE_OR_TWO = String.raw`(?<![\d.])(−?${NUMBER})(?:(–| and | to | or |–\s)(−?${NUMBER}))?`;

const numeric = (text: string): number => Number(text.replace('−', '-'));

/** As many decimals as a person would read: three figures, no more than two behind the point. */
const readable = (value: number): string => {
  const size = Math.abs(value);
  return value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2);
};

/** As many decimals as the number it is made from. */
const asExact = (value: number, from: string): string =>
  value.toFixed(Math.min(1, from.split('.')[1]?.length ?? 0)).replace(/^-(0(?:\.0)?)$/, '$1');

interface Rule {
  pattern: RegExp;
  say: (...groups: string[]) => string;
}

/** Replaces one or two numbers and their unit. */
const measured = (unit: string, say: (number: string) => string, symbol: string): Rule => ({
  pattern: new RegExp(String.raw`${ONE_OR_TWO}([\s\u00a0])${unit}`, 'g'),
  say: (first = '', joint, second, space = ' ') =>
    `${say(first)}${joint && second ? `${joint}${say(second)}` : ''}${space}${symbol}`,
});

/** Behind these, or before these, a number of degrees is a difference. */
const DIFFERENCE_BEFORE = String.raw`(?<=(?:for each|each|every|by|within|over|another) (?:about )?)`;
const DIFFERENCE_AFTER = String.raw`(?= (?:more|less|warmer|colder|cooler|hotter|above|below|over|under|apart|of (?:warming|rise)|a minute|an hour))`;
const difference = (c: string) => asExact((numeric(c) * 9) / 5, c);

const FAHRENHEIT: readonly Rule[] = [
  // A rate for one degree: 0.0007 for each °C.
  {
    pattern: new RegExp(
      String.raw`(${NUMBER})( mV)?( per cell)?( for each| per| each| and)([\s\u00a0])°C`,
      'g',
    ),
    say: (rate = '', mv = '', per = '', joint = '', space = ' ') =>
      `${mv ? (numeric(rate) / 1.8).toFixed(1) : (numeric(rate) / 1.8).toFixed(4)}${mv}${per}${joint}${space}°F`,
  },
  {
    pattern: new RegExp(String.raw`${DIFFERENCE_BEFORE}(${NUMBER})([\s\u00a0])°C`, 'g'),
    say: (c = '', space = ' ') => `${difference(c)}${space}°F`,
  },
  {
    pattern: new RegExp(String.raw`(${NUMBER})([\s\u00a0])°C${DIFFERENCE_AFTER}`, 'g'),
    say: (c = '', space = ' ') => `${difference(c)}${space}°F`,
  },
  // The American reference of gravities is 80 °F itself.
  measured(
    '°C',
    (c) => (c === '26.7' ? '80' : asExact(fahrenheitFromCelsius(numeric(c)), c)),
    '°F',
  ),
];

const OUNCES: readonly Rule[] = [
  // A recipe: grams to a litre.
  {
    pattern: new RegExp(String.raw`(${NUMBER})([\s\u00a0])g (to|per) (the|a) litre`, 'g'),
    say: (g = '', space = ' ', to = 'to', the = 'a') =>
      `${readable((numeric(g) / GRAMS_PER_OUNCE / 1000) * ML_PER_GALLON)}${space}oz ${to} ${the} gallon`,
  },
  measured('mL', (ml) => readable(numeric(ml) / ML_PER_OUNCE), 'fl oz'),
  // Gas stays in litres; acid and water do not.
  measured(
    String.raw`L(?![/\w])(?! of (?:carbon|hydrogen|gas))`,
    (l) => readable((numeric(l) * 1000) / ML_PER_GALLON),
    'gal',
  ),
  measured(String.raw`kg\b`, (kg) => readable((numeric(kg) * 1000) / GRAMS_PER_POUND), 'lb'),
  measured(String.raw`g(?![\w/])`, (g) => readable(numeric(g) / GRAMS_PER_OUNCE), 'oz'),
];

const apply = (text: string, rules: readonly Rule[]): string =>
  rules.reduce(
    (said, { pattern, say }) => said.replace(pattern, (_, ...groups: string[]) => say(...groups)),
    text,
  );

/**
 * A sentence in the shop's units.
 *
 * @param text with numbers in °C, mL, L, g and kg
 * @example sayIn('Wait for 25 °C.', { temperatureUnit: 'F', volumeUnit: 'mL' }) // 'Wait for 77 °F.'
 */
export function sayIn(text: string, { temperatureUnit, volumeUnit }: Units): string {
  let said = text;
  if (temperatureUnit === 'F' && said.includes('°C')) said = apply(said, FAHRENHEIT);
  if (volumeUnit === 'oz' && /\d[\s\u00a0](?:mL|L|k?g)\b/.test(said)) said = apply(said, OUNCES);
  return said;
}

/** A figure's number and unit apart, so that the number can be set large. */
export function figureIn(
  figure: Pick<Figure, 'value' | 'unit'>,
  units: Units,
): { number: string; unit: string } {
  const { number, unit } = figureParts(figure);
  if (!unit) return { number, unit };
  const [said = '', ...rest] = sayIn(`${number} ${unit}`, units).split(' ');
  return { number: said, unit: rest.join(' ') };
}

/** `10 Mar 2026` or `10 Mar 2026, 14:05`, as papers are kept. */
const KEPT_STAMP = new RegExp(
  String.raw`\b(\d{1,2}) (${MONTHS.join('|')}) (\d{4})(?:, (\d\d):(\d\d))?\b`,
  'g',
);

/** Kept stamps by the shop's clock and in its order of day and month. */
const sayStamps = (text: string, style: Omit<WallStyle, 'timeZone'>): string =>
  text.replace(KEPT_STAMP, (_, day: string, name: string, year: string, ...time: string[]) => {
    const date = formatDate(`${year}-${MONTHS.indexOf(name) + 1}-${day}`, style);
    const [hour, minute] = time;
    return hour === undefined || minute === undefined
      ? date
      : `${date}, ${formatTimeOfDay(Number(hour) * 60 + Number(minute), style)}`;
  });

/** Every text in a tree of them, in the shop's units and by its clock; everything else stays as it is. */
export function sayAllIn<T>(tree: T, style: Units & Omit<WallStyle, 'timeZone'>): T {
  const { temperatureUnit, volumeUnit, clock = '24h', dateOrder = 'day-first' } = style;
  const anew = clock !== '24h' || dateOrder !== 'day-first';
  if (temperatureUnit === 'C' && volumeUnit === 'mL' && !anew) return tree;
  const said = (value: unknown): unknown => {
    if (typeof value === 'string') {
      const text = sayIn(value, style);
      return anew ? sayStamps(text, style) : text;
    }
    if (Array.isArray(value)) return value.map(said);
    if (value && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, said(inner)]));
    return value;
  };
  return said(tree) as T;
}
