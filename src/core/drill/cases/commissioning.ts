import type { DrillCase } from '../case.ts';
import { newBattery } from './newBattery.ts';
import { CHARGERS, MODELS, oneOf } from './shop.ts';

export const COMMISSIONING: readonly DrillCase[] = [
  newBattery({
    code: 'N-01',
    level: 1,
    title: 'From the box to the counter',
    promisedH: 14,
    about: 'A dry-charged AGM battery with everything in order. Walk it once, without haste.',
    model: MODELS.plough12,
    right: ['passed'],
    teaches:
      'The order and the waits are the work: soak, first charge, rest, and only then the meter. Half a day, told to the customer before it starts.',
  }),
  newBattery({
    code: 'N-02',
    level: 1,
    title: 'Acid from the drum',
    promisedH: 12,
    about: 'A conventional battery, filled cell by cell.',
    model: MODELS.fell14,
    right: ['passed'],
    teaches:
      'Levels fall while the plates take up acid: a second look, the same acid, and from the first charge on only water.',
  }),
  newBattery({
    code: 'N-03',
    level: 1,
    title: 'Two packs on the shelf',
    about: 'Somebody has put the packs where there was room.',
    model: MODELS.plough12,
    packs: [
      { code: 'QE-69', lot: 'Q-298' },
      { code: 'QE-66', lot: 'Q-311' },
    ],
    right: ['passed'],
    teaches:
      'The code decides, letter for letter. Look at the pack in your hand, not at the shelf it lay on.',
  }),
  newBattery({
    code: 'N-04',
    level: 2,
    title: 'The last pack',
    about: 'The customer waits, and there is one pack left.',
    model: MODELS.plough18,
    packs: [{ code: 'QE-101', lot: 'Q-305' }],
    right: ['with-lead'],
    teaches:
      'Another code is another quantity. No hurry makes it fit: it goes to the lead, and the right pack is ordered.',
  }),
  newBattery({
    code: 'N-05',
    level: 1,
    title: 'A dented box',
    about: 'The carton has had a knock. The battery in it looks new.',
    model: MODELS.plough8,
    finds: { foil: { good: false, says: 'The foil is torn over port 5.' } },
    truth: {
      condition: { charge: 0.55, temperatureC: 20, cells: oneOf(6, 4, { active: 0.6 }, {}) },
      dry: true,
      family: 'never',
    },
    right: ['refused'],
    teaches:
      'Under broken foil the plates have met air. Acid does not bring them back: it is a claim.',
  }),
  newBattery({
    code: 'N-06',
    level: 2,
    title: 'Six tubes',
    promisedH: 14,
    about: 'Air must rise in every tube. Look at each.',
    model: MODELS.plough12,
    truth: {
      condition: { charge: 0.8, temperatureC: 20 },
      dry: true,
      stillTubes: [3],
      family: 'nothing',
    },
    right: ['passed'],
    teaches:
      'A tube that stands still leaves its cell short of acid, and that cell fails first. Two taps are enough.',
  }),
  newBattery({
    code: 'N-07',
    level: 2,
    title: 'Acid from the yard',
    promisedH: 24,
    about: 'The drum stood outside over night.',
    model: MODELS.fell14,
    roomC: 19,
    acid: { sg25: 1.265, temperatureC: 8, lot: 'B-211' },
    right: ['passed'],
    teaches:
      'Cold acid reads high and fills late. Correct what you read to 25 °C, and let the acid come to 16 °C before it goes in.',
  }),
  newBattery({
    code: 'N-08',
    level: 2,
    title: 'Which charger?',
    promisedH: 16,
    about: 'A small battery, and the wall is nearly empty.',
    model: MODELS.plough12,
    chargers: [CHARGERS.wheels, CHARGERS.ten, CHARGERS.one],
    right: ['passed'],
    teaches:
      'A tenth of C20, and never above 3 A for a small one. The slow charger is the right one, whatever the clock says.',
  }),
  newBattery({
    code: 'N-09',
    level: 2,
    title: 'Out of the van',
    promisedH: 14,
    about: 'It lay behind the windscreen all afternoon.',
    model: MODELS.plough12,
    truth: { condition: { charge: 0.8, temperatureC: 39 }, dry: true, family: 'nothing' },
    right: ['passed'],
    teaches:
      'A warm battery gasses when it is filled. It waits until it is below 30 °C; the wait costs nobody’s hands.',
  }),
  newBattery({
    code: 'N-12',
    level: 2,
    title: 'Tidy hands',
    about: 'A colleague helps while it soaks up its acid.',
    model: MODELS.plough12,
    finds: {
      strip: {
        good: false,
        says: 'Somebody has pressed the cap strip down along its whole length.',
      },
    },
    right: ['with-lead'],
    teaches:
      'The strip lies on loosely until it is charged; pressed, it is never opened again and the gas of the first charge stays in. It is no technician’s decision any more: the lead’s, and the maker’s.',
  }),
  newBattery({
    code: 'N-10',
    level: 3,
    title: 'It reads 12.9',
    promisedH: 24,
    about: 'A sealed one, two years in the warehouse, straight off the charger with a fine number.',
    model: MODELS.hut18,
    truth: { condition: { charge: 0.5, temperatureC: 20 }, family: 'flat' },
    chargers: [CHARGERS.supply, CHARGERS.four],
    right: ['passed'],
    teaches:
      'A voltage read before the rest is over is surface charge. It is written down, and judges nothing.',
  }),
  newBattery({
    code: 'N-13',
    level: 3,
    title: 'Three in the afternoon',
    about: 'The shop closes at six, and it is wanted before noon tomorrow.',
    model: MODELS.plough12,
    beginsH: 15,
    closesH: 18,
    promisedH: 21,
    chargers: [CHARGERS.wheels, CHARGERS.ten, CHARGERS.one],
    right: ['passed'],
    teaches:
      'What runs through the night must be right without anybody: filled and soaked before closing, on a charger that holds its ceiling, and its rest is over when the door opens.',
  }),
  newBattery({
    code: 'N-11',
    level: 3,
    title: 'Twice below the line',
    promisedH: 24,
    strands: true,
    forWhom: 'Rope rescue post, radio',
    about: 'It came wet and sealed from the maker, and it will not pass.',
    model: MODELS.hut18,
    truth: {
      condition: {
        charge: 0.75,
        temperatureC: 20,
        cells: oneOf(6, 2, { jointOhm: 0.06 }, {}),
      },
      family: 'bad-cell',
    },
    chargers: [CHARGERS.supply, CHARGERS.four],
    right: ['with-lead'],
    teaches:
      'Below the line: charge again, once. The second failure is not argued with: the lead decides between claim and recovery.',
  }),
];
