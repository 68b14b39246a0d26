/** Where practitioners differ, each side as a named choice. The first school of a question is the default. */
export interface School<V> {
  id: string;
  name: string;
  /** Who holds it and what it costs, in plain words. */
  plain: string;
  values: V;
}

export interface SchoolQuestion<V = unknown> {
  key: string;
  question: string;
  schools: readonly [School<V>, ...School<V>[]];
}

const MINUTE = 60;
const HOUR = 3600;

export interface TubeFillStand {
  /** Pack stays on, up to and above `splitAh`. */
  packSmallS: number;
  packLargeS: number;
  splitAh: number;
  soakS: number;
}

/** First-charge current: a share of C20, or amperes by size. */
export type FirstCharge = { rule: 'c-rate'; cRate: number } | { rule: 'by-size'; smallA: number; largeA: number; splitAh: number };

export const SCHOOLS = {
  tubeFillStand: {
    key: 'tubeFillStand',
    question: 'Stand after a tube-pack fill',
    schools: [
      {
        id: 'long',
        name: 'Long',
        plain: 'Pack stays 30 min to 12 Ah, 60 min above, then a 2 h soak. Holds with most makers; costs an hour more.',
        values: { packSmallS: 30 * MINUTE, packLargeS: 60 * MINUTE, splitAh: 12, soakS: 2 * HOUR },
      },
      {
        id: 'short',
        name: 'Short',
        plain: 'Pack stays 20 min, then 1 h. Held where the bench is full; mats may still be drinking when the charge starts.',
        values: { packSmallS: 20 * MINUTE, packLargeS: 20 * MINUTE, splitAh: 12, soakS: HOUR },
      },
      {
        id: 'counter',
        name: 'Counter',
        plain: 'Pack until it is empty, then 30 min. Counter trade; shortest, and the hardest on the battery.',
        values: { packSmallS: 10 * MINUTE, packLargeS: 10 * MINUTE, splitAh: 12, soakS: 30 * MINUTE },
      },
    ],
  } satisfies SchoolQuestion<TubeFillStand>,
  tubeHelp: {
    key: 'tubeHelp',
    question: 'Helping the flow',
    schools: [
      {
        id: 'tap',
        name: 'Tap only',
        plain: 'Two or three taps on a tube that stands still. Nothing else touches the pack.',
        values: { words: 'Tap that tube two or three times and look again.' },
      },
      {
        id: 'pin',
        name: 'Breather pin',
        plain: "A pin-prick in the tube's top, only where the maker's kit includes the pin.",
        values: { words: "Tap that tube two or three times. Still nothing, and the maker's kit includes a pin: one prick in the tube's top." },
      },
    ],
  } satisfies SchoolQuestion<{ words: string }>,
  firstCharge: {
    key: 'firstCharge',
    question: 'Initial charge',
    schools: [
      { id: 'c10', name: 'C/10', plain: 'A tenth of C20. Done within the day; wants a reading every hour.', values: { rule: 'c-rate', cRate: 0.1 } },
      {
        id: 'low-slow',
        name: 'Low and slow',
        plain: '1 A to 12 Ah, 2 A above, overnight. Coolest; occupies a place until morning.',
        values: { rule: 'by-size', smallA: 1, largeA: 2, splitAh: 12 },
      },
    ],
  } satisfies SchoolQuestion<FirstCharge>,
  capStrip: {
    key: 'capStrip',
    question: 'Cap strip during charge',
    schools: [
      { id: 'laid', name: 'Laid on loosely', plain: 'Keeps dirt out and lets gas go.', values: { words: 'Cap strip laid on loosely, not pressed.' } },
      {
        id: 'off',
        name: 'Off until charged',
        plain: 'Ports open and covered with a clean cloth. Sees every cell; a splash is open to the room.',
        values: { words: 'Cap strip off, ports covered with a clean cloth.' },
      },
      {
        id: 'pressed',
        name: 'Pressed before',
        plain: 'Only where the maker says so. Gas leaves through the valves.',
        values: { words: "Cap strip pressed on, as the maker's sheet says." },
      },
    ],
  } satisfies SchoolQuestion<{ words: string }>,
  restNew: {
    key: 'restNew',
    question: 'Rest before judging a new battery',
    schools: [
      { id: 'hour', name: '1 h', plain: 'Surface charge has mostly gone.', values: { restS: HOUR } },
      { id: 'half-hour', name: '30 min', plain: 'Quicker; reads a few hundredths of a volt high.', values: { restS: 30 * MINUTE } },
    ],
  } satisfies SchoolQuestion<{ restS: number }>,
  passLine: {
    key: 'passLine',
    question: 'Pass voltage, AGM',
    schools: [
      { id: 'usual', name: '12.60 V', plain: 'The usual line; aim for 12.80 and more.', values: { per12V: 12.6 } },
      { id: 'strict', name: '12.80 V', plain: 'Only a full battery leaves the shop; more repeats.', values: { per12V: 12.8 } },
    ],
  } satisfies SchoolQuestion<{ per12V: number }>,
} as const;

export type QuestionKey = keyof typeof SCHOOLS;
export const QUESTION_KEYS = Object.keys(SCHOOLS) as QuestionKey[];

/** One choice per question, by school id. */
export type SchoolChoices = Record<QuestionKey, string>;

export const DEFAULT_SCHOOLS = Object.fromEntries(QUESTION_KEYS.map((key) => [key, SCHOOLS[key].schools[0].id])) as SchoolChoices;

/**
 * The chosen school of a question.
 *
 * @returns the school, and whether the house chose away from the default
 * @throws Error for a school that does not exist
 */
export function schoolOf<K extends QuestionKey>(
  key: K,
  choices: SchoolChoices,
): { school: (typeof SCHOOLS)[K]['schools'][number]; origin: 'house' | 'default' } {
  const { schools } = SCHOOLS[key];
  const index = schools.findIndex((s) => s.id === choices[key]);
  const school = schools[index];
  if (!school) throw new Error(`No school “${choices[key]}” for “${SCHOOLS[key].question}”.`);
  return { school, origin: index === 0 ? 'default' : 'house' };
}
