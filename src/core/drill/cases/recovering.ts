import type { DrillCase } from '../case.ts';
import { cameIn } from './cameIn.ts';
import { alike, CHARGERS, MODELS, oneOf, told } from './shop.ts';

/** Recoveries of the first two levels: one thing is the matter, and readings say so. */
export const RECOVERING: readonly DrillCase[] = [
  cameIn({
    code: 'R-01',
    level: 1,
    title: 'The cab light',
    promisedH: 14 * 24,
    about: 'The commonest of all: something was left on.',
    model: MODELS.fell60,
    story: {
      says: 'The light in the cab was on since Friday. It was fine before.',
      told: told('left-on', 3, 2),
    },
    truth: { condition: { charge: 0.22, temperatureC: 20 }, family: 'flat' },
    right: ['passed'],
    teaches:
      'Most “bad” batteries are only flat. What happened to it, the rest voltage and an even SG say so; a full charge and a test prove it.',
  }),
  cameIn({
    code: 'R-02',
    level: 1,
    title: 'All winter in the shed',
    about: 'It stood flat in an unheated shed all winter.',
    model: MODELS.fell45,
    story: {
      says: 'It was in the shed since the autumn. We had minus fifteen.',
      told: told('parked', 120, 4, { coldestC: -15 }),
    },
    finds: { frost: { good: false, says: 'Ice in two of its ports.' } },
    truth: {
      condition: { charge: 0.05, temperatureC: 3, cells: alike(6, { hard: 0.3, film: 1 }) },
      never: true,
      family: 'never',
    },
    right: ['refused'],
    teaches:
      'Ice has pushed its plates apart. It is never charged: thawed upright in a tub, and to the recycler.',
  }),
  cameIn({
    code: 'R-03',
    level: 1,
    title: 'A wet corner',
    about: 'It came in a plastic bag.',
    model: MODELS.fell60,
    story: { says: 'It fell off the trailer, but it still works.', told: told('unknown', null, 3) },
    finds: { case: { good: false, says: 'A crack at the lower corner, wet.' } },
    truth: { condition: { charge: 0.6, temperatureC: 20 }, never: true, family: 'never' },
    right: ['refused'],
    teaches:
      'A leaking case is refused at the look-over, before anybody has measured anything. It took two minutes.',
  }),
  cameIn({
    code: 'R-04',
    level: 2,
    title: 'Since the spring',
    promisedH: 14 * 24,
    about: 'Parked for a season, never charged meanwhile.',
    model: MODELS.fell60,
    story: { says: 'The mower stood since April.', told: told('parked', 75, 3) },
    truth: {
      condition: { charge: 0.55, temperatureC: 20, cells: alike(6, { hard: 0.16, film: 0.6 }) },
      family: 'sulfated',
    },
    right: ['passed', 'light'],
    teaches:
      'Light sulfate comes back with time under a gentle current. Slow beats fast, and only the capacity test says how much.',
  }),
  cameIn({
    code: 'R-06',
    level: 2,
    title: 'Charged all night',
    about: 'The customer has done what one does.',
    model: MODELS.fell60,
    story: {
      says: 'I had it on the charger all night. It is dead again.',
      told: told('weak', null, 5),
    },
    truth: {
      condition: {
        charge: 0.9,
        temperatureC: 20,
        cells: oneOf(6, 3, { shortOhm: 0.05, behind: 0.6 }, {}),
      },
      stoodH: 10,
      family: 'bad-cell',
    },
    right: ['recycle'],
    teaches:
      'Two volts short after a charge, and one cell like water: a shorted cell. No route helps, and every hour on the charger is lost.',
  }),
  cameIn({
    code: 'R-10',
    level: 2,
    title: 'Eight winters',
    about: 'It has served long.',
    model: MODELS.fell74,
    story: { says: 'It was always good. This winter it is slow.', told: told('weak', null, 8) },
    truth: {
      condition: {
        charge: 0.88,
        temperatureC: 20,
        resistance: 1.4,
        cells: alike(6, { active: 0.42 }),
      },
      family: 'worn',
    },
    right: ['recycle'],
    defensible: ['light'],
    teaches:
      'SG full and even, and no capacity behind it: the plates have gone. A charge changes nothing; the age said it first.',
  }),
  cameIn({
    code: 'R-12',
    level: 2,
    title: 'A helpful nephew',
    about: 'Somebody has charged it already.',
    model: MODELS.fell45,
    story: { says: 'My nephew put it on a charger. It hummed.', told: told('unknown', null, 2) },
    truth: {
      condition: { charge: 0.5, temperatureC: 20, cells: alike(6, { reversed: true }) },
      never: true,
      family: 'bad-cell',
    },
    right: ['recycle'],
    teaches: 'Volts below nought: it is reversed. Nothing is connected to it any more.',
  }),
  cameIn({
    code: 'R-14',
    level: 2,
    title: 'On suspicion',
    promisedH: 12 * 24,
    about: 'The garage has changed it. Was it the battery?',
    model: MODELS.fell60,
    story: {
      says: 'The garage said it was the battery. I am not sure.',
      told: told('weak', null, 2),
    },
    truth: { condition: { charge: 0.96, temperatureC: 20 }, family: 'nothing' },
    right: ['passed'],
    teaches:
      'A sound battery is sound: tested, charged full, and back with a sheet that says so. Look for the fault in the machine.',
  }),
  cameIn({
    code: 'R-17',
    level: 2,
    title: 'It came off hard',
    about: 'Taken out in a hurry.',
    model: MODELS.hut60,
    story: { says: 'It came off hard.', told: told('unknown', null, 2) },
    finds: { posts: { good: false, says: 'The positive post turns in the lid.' } },
    truth: { condition: { charge: 0.6, temperatureC: 20 }, never: true, family: 'never' },
    right: ['refused'],
    teaches: 'A loose post sparks over gas. It is refused at the look-over.',
  }),
  cameIn({
    code: 'R-18',
    level: 2,
    title: 'Six volts from the barn',
    promisedH: 14 * 24,
    about: 'Half of everything, and the same work.',
    model: MODELS.fell11,
    chargers: [CHARGERS.supply, CHARGERS.one],
    story: {
      says: 'The tractor stood for a fortnight with the key in.',
      told: told('left-on', 14, 2),
    },
    truth: { condition: { charge: 0.15, temperatureC: 20 }, family: 'flat' },
    right: ['passed'],
    teaches: 'Every line is half for three cells. Read the label before you read the meter.',
  }),
];
