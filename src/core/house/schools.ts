import { RECOVERY_SCHOOLS } from './recoverySchools.ts';
import type { SchoolQuestion } from './school.ts';

const MINUTE = 60;
const HOUR = 3600;
const DAY = 24 * HOUR;

export interface TubeFillStand {
  /** Pack stays on, up to and above `splitAh`. */
  packSmallS: number;
  packLargeS: number;
  splitAh: number;
  soakS: number;
}

export interface BulkFillStand {
  standS: number;
  /** The shorter stand of a small three-cell battery, where the school has one. */
  threeCellS: number | null;
}

/** First-charge current: a share of C20, amperes by size, or a shop charger's one setting. */
export type FirstCharge =
  | { rule: 'c-rate'; cRate: number }
  | { rule: 'by-size'; smallA: number; largeA: number; splitAh: number }
  | { rule: 'fixed'; fixedA: number };

/** When a battery on the shelf is charged again: at a voltage per 12 V, after a time, or at whichever comes first. */
export interface StorageRecharge {
  atV: number | null;
  everyS: number | null;
  checkS: number;
}

export interface PassLine {
  conventional: number;
  agm: number;
}

export const SCHOOLS = {
  tubeFillStand: {
    key: 'tubeFillStand',
    question: 'Stand after a tube-pack fill',
    schools: [
      {
        id: 'long',
        name: 'Long',
        plain: 'Pack stays 30 min to 12 Ah, 60 min above, then a 2 h soak.',
        costs: 'An hour more than the counter way; the fewest short cells.',
        heldBy: 'Most makers’ sheets.',
        values: { packSmallS: 30 * MINUTE, packLargeS: 60 * MINUTE, splitAh: 12, soakS: 2 * HOUR },
      },
      {
        id: 'short',
        name: 'Short',
        plain: 'Pack stays 20 min, then 1 h.',
        costs: 'The mats may still be soaking when the charge starts.',
        heldBy: 'Shops with a full bench.',
        values: { packSmallS: 20 * MINUTE, packLargeS: 20 * MINUTE, splitAh: 12, soakS: HOUR },
      },
      {
        id: 'counter',
        name: 'Counter',
        plain: 'Pack until it is empty, then 30 min.',
        costs: 'Shortest, and the hardest on the battery.',
        heldBy: 'The counter trade, customer waiting.',
        values: {
          packSmallS: 10 * MINUTE,
          packLargeS: 10 * MINUTE,
          splitAh: 12,
          soakS: 30 * MINUTE,
        },
      },
    ],
  } satisfies SchoolQuestion<TubeFillStand>,
  bulkFillStand: {
    key: 'bulkFillStand',
    question: 'Stand after a bulk fill',
    schools: [
      {
        id: 'half-hour',
        name: '30 min with taps',
        plain: 'At least 30 min, the case tapped gently to free bubbles, then topped up.',
        costs: 'Half an hour a pass; levels are true afterwards.',
        heldBy: 'Most benches.',
        values: { standS: 30 * MINUTE, threeCellS: null },
      },
      {
        id: 'settle',
        name: '5 min for small ones',
        plain: '5 min for three-cell batteries, 30 min for the rest, then topped up.',
        costs: 'A second pass is likely; the plates of a larger battery still take up acid.',
        heldBy: 'Vintage and tractor shops, for three cells.',
        values: { standS: 30 * MINUTE, threeCellS: 5 * MINUTE },
      },
      {
        id: 'hour',
        name: '1 h',
        plain: 'An hour before the levels are looked at.',
        costs: 'An hour a pass; seldom a third one.',
        heldBy: 'Shops that fill a tray and go to lunch.',
        values: { standS: HOUR, threeCellS: null },
      },
    ],
  } satisfies SchoolQuestion<BulkFillStand>,
  tubeHelp: {
    key: 'tubeHelp',
    question: 'Helping the flow',
    schools: [
      {
        id: 'tap',
        name: 'Tap only',
        plain: 'Two or three taps on a tube that stands still. Nothing else touches the pack.',
        costs: 'Now and then a tube takes its time.',
        heldBy: 'Most makers’ sheets.',
        values: { words: 'Tap that tube two or three times and look again.' },
      },
      {
        id: 'pin',
        name: 'Breather pin',
        plain: "A pin-prick in the tube's top, only where the maker's kit includes the pin.",
        costs: 'A pierced tube drips if the pack is tilted.',
        heldBy: 'Makers that put a pin in the kit.',
        values: {
          words:
            "Tap that tube two or three times. Still nothing, and the maker's kit includes a pin: one prick in the tube's top.",
        },
      },
    ],
  } satisfies SchoolQuestion<{ words: string }>,
  fillMark: {
    key: 'fillMark',
    question: 'Fill mark',
    schools: [
      {
        id: 'at-mark',
        name: 'At or just below the upper mark',
        plain: 'A cell above the mark is drawn down, or a reason is written.',
        costs: 'A bulb syringe and a minute.',
        heldBy: 'Most makers’ sheets: acid swells on charge.',
        values: { overNeedsReason: true },
      },
      {
        id: 'tolerant',
        name: 'Slightly above is tolerated',
        plain: 'A cell a little above the mark is left so, and recorded.',
        costs: 'May weep through the vents on the first charge.',
        heldBy: 'Benches that wash every battery anyway.',
        values: { overNeedsReason: false },
      },
    ],
  } satisfies SchoolQuestion<{ overNeedsReason: boolean }>,
  firstCharge: {
    key: 'firstCharge',
    question: 'Initial charge',
    schools: [
      {
        id: 'c10',
        name: 'C/10',
        plain: 'A tenth of C20.',
        costs: 'Done within the day; needs a reading every hour.',
        heldBy: 'Most makers’ sheets.',
        values: { rule: 'c-rate', cRate: 0.1 },
      },
      {
        id: 'low-slow',
        name: 'Low and slow',
        plain: '1 A to 12 Ah, 2 A above, overnight.',
        costs: 'Occupies a place until morning; the coolest.',
        heldBy: 'One-person shops that close at five.',
        values: { rule: 'by-size', smallA: 1, largeA: 2, splitAh: 12 },
      },
      {
        id: 'timed',
        name: 'Timed on a shop charger',
        plain: 'A shop charger with one setting of 2 A; the time follows from the size.',
        costs:
          'Small batteries get more than C/10, large ones take long. Readings still decide the end.',
        heldBy: 'Counter shops with one charger.',
        values: { rule: 'fixed', fixedA: 2 },
      },
    ],
  } satisfies SchoolQuestion<FirstCharge>,
  capStrip: {
    key: 'capStrip',
    question: 'Cap strip during charge',
    schools: [
      {
        id: 'laid',
        name: 'Laid on loosely',
        plain: 'Keeps dirt out and lets gas go.',
        costs: 'Nothing at all.',
        heldBy: 'Most makers’ sheets.',
        values: { words: 'Cap strip laid on loosely, not pressed.' },
      },
      {
        id: 'off',
        name: 'Off until charged',
        plain: 'Ports open and covered with a clean cloth; every cell can be seen.',
        costs: 'A splash is open to the room.',
        heldBy: 'Benches that watch each cell.',
        values: { words: 'Cap strip off, ports covered with a clean cloth.' },
      },
      {
        id: 'pressed',
        name: 'Pressed before',
        plain: 'Only where the maker says so. Gas leaves through the valves.',
        costs: 'A cell left short cannot be reached any more.',
        heldBy: 'A few makers’ sheets.',
        values: { words: "Cap strip pressed on, as the maker's sheet says." },
      },
    ],
  } satisfies SchoolQuestion<{ words: string }>,
  restNew: {
    key: 'restNew',
    question: 'Rest before judging a new battery',
    schools: [
      {
        id: 'hour',
        name: '1 h',
        plain: 'Surface charge has mostly gone.',
        costs: 'An hour.',
        heldBy: 'Most benches.',
        values: { restS: HOUR },
      },
      {
        id: 'half-hour',
        name: '30 min',
        plain: 'Judged after half an hour.',
        costs: 'Reads a few hundredths of a volt high.',
        heldBy: 'The counter trade.',
        values: { restS: 30 * MINUTE },
      },
    ],
  } satisfies SchoolQuestion<{ restS: number }>,
  ...RECOVERY_SCHOOLS,
  passLine: {
    key: 'passLine',
    question: 'Pass voltage',
    schools: [
      {
        id: 'usual',
        name: '12.40 V conventional, 12.60 V AGM',
        plain: 'The usual lines; aim for 12.80 and more with AGM. Half of it for 6 V.',
        costs: 'A battery at nine tenths passes.',
        heldBy: 'Most makers’ sheets.',
        values: { conventional: 12.4, agm: 12.6 },
      },
      {
        id: 'strict',
        name: '12.80 V for AGM',
        plain: 'Only a full AGM battery leaves the shop; conventional as usual.',
        costs: 'More repeats.',
        heldBy: 'Shops that equip rescue and telecoms.',
        values: { conventional: 12.4, agm: 12.8 },
      },
    ],
  } satisfies SchoolQuestion<PassLine>,
  storageRecharge: {
    key: 'storageRecharge',
    question: 'Recharge on the shelf',
    schools: [
      {
        id: 'volts-or-quarter',
        name: '12.40 V or 3 months',
        plain:
          'Checked monthly; charged at or below 12.40 V, and every three months whatever it reads.',
        costs: 'A round a month.',
        heldBy: 'Most benches.',
        values: { atV: 12.4, everyS: 91 * DAY, checkS: 30 * DAY },
      },
      {
        id: 'monthly',
        name: 'Monthly',
        plain: 'Charged every month, whatever it reads.',
        costs: 'A place on the bench each month for each battery, and a little water each time.',
        heldBy: 'Shops with more places than stock.',
        values: { atV: null, everyS: 30 * DAY, checkS: 30 * DAY },
      },
      {
        id: 'volts',
        name: 'By voltage only',
        plain: 'Checked monthly; charged at or below 12.40 V and not before.',
        costs: 'Old stock may stand long at three quarters, and sulfate.',
        heldBy: 'Shops with fast turnover.',
        values: { atV: 12.4, everyS: null, checkS: 30 * DAY },
      },
    ],
  } satisfies SchoolQuestion<StorageRecharge>,
} as const;

export type QuestionKey = keyof typeof SCHOOLS;
export const QUESTION_KEYS = Object.keys(SCHOOLS) as QuestionKey[];

/** One choice per question, by school id. */
export type SchoolChoices = Record<QuestionKey, string>;

export const DEFAULT_SCHOOLS = Object.fromEntries(
  QUESTION_KEYS.map((key) => [key, SCHOOLS[key].schools[0].id]),
) as SchoolChoices;

/**
 * The chosen school of a question.
 *
 * @returns the school, and whether the house chose away from the default
 *   `asked` is false where the question is younger than the choices, or the school is gone: then the default stands
 */
export function schoolOf<K extends QuestionKey>(
  key: K,
  choices: SchoolChoices,
): { school: (typeof SCHOOLS)[K]['schools'][number]; origin: 'house' | 'default'; asked: boolean } {
  const { schools } = SCHOOLS[key];
  const index = schools.findIndex((s) => s.id === choices[key]);
  const school = schools[Math.max(0, index)] as (typeof SCHOOLS)[K]['schools'][number];
  return { school, origin: index > 0 ? 'house' : 'default', asked: index >= 0 };
}

/** Questions a set of choices does not answer: they are younger than it, or its school is gone. The default stands for each. */
export const notAsked = (choices: SchoolChoices): QuestionKey[] =>
  QUESTION_KEYS.filter((key) => !schoolOf(key, choices).asked);
