import type { DrillCase } from '../case.ts';
import { cameIn } from './cameIn.ts';
import { alike, CHARGERS, MODELS, oneOf, told } from './shop.ts';

/** Recoveries of the last two levels: a meter alone does not say it, or readings disagree. */
export const RECOVERING_HARD: readonly DrillCase[] = [
  cameIn({
    code: 'R-05',
    level: 3,
    title: 'A year in the hut',
    about: 'A sealed battery that takes no current at first.',
    model: MODELS.hut60,
    story: { says: 'The panel broke a year ago. Nobody looked.', told: told('parked', 330, 4) },
    truth: {
      condition: { charge: 0.12, temperatureC: 20, cells: alike(6, { hard: 0.62, film: 2.2 }) },
      family: 'sulfated',
    },
    right: ['recycle', 'light'],
    teaches:
      'Hard sulfate meets the ceiling at once and lets next to nothing in. Some come back to half; the hours are part of the answer.',
  }),
  cameIn({
    code: 'R-07',
    level: 3,
    title: 'It reads twelve and a half',
    about: 'Good volts. It does not start the engine.',
    model: MODELS.fell60,
    story: { says: 'It shows 12.5 on my meter, and it cranks twice.', told: told('weak', null, 5) },
    truth: {
      condition: {
        charge: 0.86,
        temperatureC: 20,
        cells: oneOf(6, 1, { active: 0.34, behind: 0.24 }, { active: 0.92 }),
      },
      family: 'bad-cell',
    },
    right: ['recycle'],
    teaches:
      'Volts at rest say nothing of what stands behind them. A load test falls off a cliff, and the hydrometer names the cell.',
  }),
  cameIn({
    code: 'R-08',
    level: 3,
    title: 'Four volts',
    about: 'It looks hopeless.',
    model: MODELS.fell45,
    story: { says: 'The radio was on for a week.', told: told('left-on', 7, 1) },
    truth: {
      condition: { charge: -0.1, temperatureC: 20, cells: alike(6, { platesV: 0.7 }) },
      family: 'flat',
    },
    right: ['passed'],
    teaches:
      'Terrible volts, good battery: something drew it down and its plates are sound. Wake it, charge it, test it.',
  }),
  cameIn({
    code: 'R-09',
    level: 3,
    title: 'Behind the stove',
    about: 'A sealed battery from behind a stove.',
    model: MODELS.hut60,
    wetMassG: 18_400,
    story: {
      says: 'It has been in the hut for six years, next to the stove.',
      told: told('weak', null, 6),
    },
    truth: {
      condition: { charge: 0.9, temperatureC: 20, cells: alike(6, { dry: 0.3, active: 0.84 }) },
      family: 'dry',
    },
    right: ['recycle', 'light'],
    teaches:
      'A missing gram is a missing millilitre. The scale tells in two minutes what no voltage shows.',
  }),
  cameIn({
    code: 'R-11',
    level: 3,
    title: 'Short trips',
    about: 'It is charged every day and never full.',
    model: MODELS.fell60,
    story: { says: 'Only to the village and back, all year.', told: told('short-runs', null, 2) },
    truth: {
      condition: { charge: 0.78, temperatureC: 20, layeredSg: 0.09 },
      family: 'layered',
    },
    right: ['passed'],
    teaches:
      'Strong acid lies at the bottom. The volts look good, the hydrometer at the top reads low; mixing brings it together again.',
  }),
  cameIn({
    code: 'R-13',
    level: 4,
    title: 'He only forgot the lights',
    about: 'What is told, and readings that do not go with it.',
    model: MODELS.fell60,
    story: { says: 'I left the lights on, last weekend I think.', told: told('left-on', 4, 3) },
    truth: {
      condition: { charge: 0.3, temperatureC: 20, cells: alike(6, { hard: 0.3, film: 1.2 }) },
      family: 'sulfated',
    },
    right: ['light', 'passed', 'recycle'],
    teaches:
      'What is told is one reading among others. Where the charge does not go in as it should, believe the meter.',
  }),
  cameIn({
    code: 'R-15',
    level: 3,
    title: 'Two summers',
    about: 'It has worked without complaint.',
    model: MODELS.fell60,
    story: { says: 'Water? No, I never put any in.', told: told('boiled', null, 4) },
    finds: { levels: { good: false, says: 'Plates bare in every cell.' } },
    truth: {
      condition: { charge: 0.7, temperatureC: 20, cells: alike(6, { dry: 0.35, active: 0.8 }) },
      family: 'dry',
    },
    right: ['light', 'passed'],
    defensible: ['recycle'],
    teaches:
      'Water first, then a slow charge. What dried for months stays lost; what was wetted again comes back.',
  }),
  cameIn({
    code: 'R-16',
    level: 4,
    title: 'Perfect on the day',
    about: 'Everything reads well, fresh off the charger.',
    model: MODELS.fell45,
    story: { says: 'Charged, it is perfect. A week later, nothing.', told: told('weak', null, 3) },
    truth: {
      condition: {
        charge: 0.7,
        temperatureC: 20,
        cells: oneOf(6, 4, { shortOhm: 4, behind: 0.05 }, {}),
      },
      stoodH: 24,
      family: 'bad-cell',
    },
    right: ['recycle'],
    teaches:
      'A soft short passes every test on the day. The week on the shelf is the test that counts.',
  }),
  cameIn({
    code: 'R-19',
    level: 4,
    title: 'Twice this month',
    about: 'A customer you know, and the same story again.',
    model: MODELS.fell60,
    meterShows: 1.025,
    story: { says: 'The lights were on overnight, twice this month.', told: told('left-on', 1, 4) },
    truth: { condition: { charge: 0.4, temperatureC: 20 }, family: 'flat' },
    right: ['passed'],
    teaches:
      'A full voltage with weak acid cannot be: SG + 0.845 is the volts of a cell. When two instruments disagree, doubt the meter.',
  }),
  cameIn({
    code: 'R-20',
    level: 4,
    title: 'Two things at once',
    about: 'A year unused, and it was tired before that.',
    model: MODELS.fell60,
    promisedH: 30 * 24,
    story: {
      says: 'It has stood since last year. It was not so good before, either.',
      told: told('parked', 200, 6),
    },
    truth: {
      condition: {
        charge: 0.35,
        temperatureC: 20,
        resistance: 1.2,
        cells: alike(6, { hard: 0.24, film: 1, active: 0.62 }),
      },
      family: 'sulfated',
    },
    right: ['light', 'recycle'],
    teaches:
      'Sulfate comes back, worn plates do not. What the charge brings is counted from what the plates still had, and the capacity test says where that ends.',
  }),
  cameIn({
    code: 'R-21',
    level: 3,
    title: 'Everything goes dark',
    about: 'Full volts on the meter, and nothing at the starter.',
    model: MODELS.fell60,
    story: {
      says: 'It shows 12.6. I turn the key, and every light goes out.',
      told: told('weak', null, 4),
    },
    truth: {
      condition: { charge: 0.9, temperatureC: 20, cells: oneOf(6, 2, { jointOhm: 0.9 }, {}) },
      family: 'bad-cell',
    },
    right: ['recycle'],
    teaches:
      'A link inside has parted: the meter needs no current and sees nothing. The load test falls to nearly nothing in one second, with SG full in every cell.',
  }),
  cameIn({
    code: 'R-22',
    level: 3,
    title: 'Nobody here at night',
    about: 'A flat battery at half past four, and the door closes at six.',
    model: MODELS.fell45,
    beginsH: 16.5,
    closesH: 18,
    promisedH: 14 * 24,
    chargers: [CHARGERS.wheels, CHARGERS.four, CHARGERS.recovery],
    story: {
      says: 'The lights were on over the weekend. It was fine on Friday.',
      told: told('left-on', 2, 2),
    },
    truth: { condition: { charge: 0.25, temperatureC: 20 }, family: 'flat' },
    right: ['passed'],
    teaches:
      'A charger that lifts a battery without a ceiling is for hands that stay beside it. Overnight goes what holds its ceiling by itself.',
  }),
];
