import type { RouteKey } from '../diagnosis/routes.ts';
import type { SchoolQuestion } from './school.ts';

const HOUR = 3600;
const DAY = 24 * HOUR;

/** The questions that only a recovery asks. */
export const RECOVERY_SCHOOLS = {
  restRecovered: {
    key: 'restRecovered',
    question: 'Rest before judging a recovered battery',
    schools: [
      {
        id: 'day',
        name: '24 h',
        plain: 'Left alone for a day after the charge.',
        costs: 'A day; tired plates let go of their surface charge slowly.',
        heldBy: 'Most benches that recover.',
        values: { restS: DAY },
      },
      {
        id: 'night',
        name: '12 h',
        plain: 'Over night.',
        costs: 'Reads some hundredths of a volt high on a sulfated one.',
        heldBy: 'Shops short of shelf.',
        values: { restS: 12 * HOUR },
      },
    ],
  } satisfies SchoolQuestion<{ restS: number }>,
  tooFlat: {
    key: 'tooFlat',
    question: 'Too flat to try?',
    schools: [
      {
        id: 'cause',
        name: 'The cause decides',
        plain: 'No voltage is too low by itself; what is wrong with it decides.',
        costs: 'Minutes of measuring on batteries that go to the recycler after all.',
        heldBy: 'Benches that measure.',
        values: { leastPer12V: null },
      },
      {
        id: 'below-10-5',
        name: 'Below 10.5 V is scrap',
        plain: 'What most chargers refuse is not tried without a reason.',
        costs: 'Throws away most deeply discharged batteries that would have come back.',
        heldBy: 'Counters with little time.',
        values: { leastPer12V: 10.5 },
      },
      {
        id: 'from-10',
        name: '10 V and up only',
        plain: 'Anything under 10 V is not tried without a reason.',
        costs: 'As above, a little less.',
        heldBy: 'Shops with one simple charger.',
        values: { leastPer12V: 10 },
      },
    ],
  } satisfies SchoolQuestion<{ leastPer12V: number | null }>,
  wake: {
    key: 'wake',
    question: 'Waking what a charger refuses',
    schools: [
      {
        id: 'parallel',
        name: 'Beside a donor',
        plain:
          'A full battery of the same voltage and a charger of about 10 A; an hour, twice at most.',
        costs: 'A donor, heavy leads, and somebody near.',
        heldBy: 'Most shops.',
        values: {},
      },
      {
        id: 'low-start',
        name: 'Low-start charger',
        plain: 'A charger that starts from next to nothing.',
        costs: 'The charger.',
        heldBy: 'AGM shops.',
        values: {},
      },
      {
        id: 'dumb',
        name: 'Dumb supply',
        plain: 'A small constant current, watched.',
        costs: 'Nothing stops it but you.',
        heldBy: 'Experienced people with a bench supply.',
        values: {},
      },
      {
        id: 'bursts',
        name: 'Bursts, flooded only',
        plain: 'Caps off, 15 min at a high setting, until every cell bubbles.',
        costs: 'Gas, and somebody there every quarter of an hour.',
        heldBy: 'Tractor and truck shops.',
        values: {},
      },
    ],
  } satisfies SchoolQuestion<Record<string, never>>,
  desulfate: {
    key: 'desulfate',
    question: 'Bringing sulfate back',
    schools: [
      {
        id: 'slow-restore',
        name: 'Slow restore first',
        plain: 'A twentieth of C20 and a long hold; pulses if it no longer gains.',
        costs: 'Two days on a place.',
        heldBy: 'Most benches.',
        values: { prefer: 'slow-restore' },
      },
      {
        id: 'pulse',
        name: 'Pulse from the start',
        plain: 'Days of bursts, from the first day.',
        costs: 'A place for most of a week.',
        heldBy: 'Enthusiasts.',
        values: { prefer: 'pulse' },
      },
      {
        id: 'held',
        name: 'Held voltage',
        plain: 'Held at the top of its band, two days at most.',
        costs: 'Water, and somebody who watches its temperature.',
        heldBy: 'Makers of AGM batteries.',
        values: { prefer: 'held' },
      },
      {
        id: 'cycle',
        name: 'Cycling',
        plain: 'Down and up again, as long as it gains.',
        costs: 'Each cycle wears a little.',
        heldBy: 'Deep-cycle shops.',
        values: { prefer: 'cycle' },
      },
    ],
  } satisfies SchoolQuestion<{ prefer: RouteKey }>,
  stubborn: {
    key: 'stubborn',
    question: 'Ceiling for a stubborn flooded battery',
    schools: [
      {
        id: 'usual',
        name: '14.5 V',
        plain: 'The ceiling of its kind, whatever it does.',
        costs: 'A hard one may stay hard.',
        heldBy: 'Most benches.',
        values: { per12V: null, mostC: 0 },
      },
      {
        id: 'to-16',
        name: 'To 16 V at low current',
        plain: 'By hand, opened flooded only, at a fiftieth of C20 or less. For experts.',
        costs: 'Water, gas, and grid; somebody stays near.',
        heldBy: 'Experienced people with a bench supply.',
        values: { per12V: 16, mostC: 0.02 },
      },
    ],
  } satisfies SchoolQuestion<{ per12V: number | null; mostC: number }>,
  additive: {
    key: 'additive',
    question: 'Additives, opened flooded only',
    schools: [
      {
        id: 'none',
        name: 'None',
        plain: 'Nothing but water goes in.',
        costs: 'Nothing at all.',
        heldBy: 'Most makers.',
        values: {},
      },
      {
        id: 'sulfate',
        name: 'Sodium sulfate solution',
        plain:
          '27.5 g to a litre, in place of the acid, for a slow charge. Contested: results reported differ.',
        costs: 'The acid drawn off is hazardous waste.',
        heldBy: 'Some home workshops.',
        values: {},
      },
      {
        id: 'magnesium',
        name: 'Magnesium sulfate solution',
        plain:
          'About one part of salt to three of warm water by volume, in place of the acid; a trickle for 24 to 36 h, a day’s rest, at most four times. Contested: results reported differ.',
        costs: 'The acid drawn off is hazardous waste, and each round takes two to three days.',
        heldBy: 'Some home workshops.',
        values: {},
      },
      {
        id: 'conditioner',
        name: 'A conditioner per cell',
        plain: 'A measured amount into the acid. Contested: results reported differ.',
        costs: 'The bottle, and a clouded hydrometer.',
        heldBy: 'Some home workshops.',
        values: {},
      },
    ],
  } satisfies SchoolQuestion<Record<string, never>>,
  openAgm: {
    key: 'openAgm',
    question: 'Opening a sealed AGM to add water',
    schools: [
      {
        id: 'never',
        name: 'Never',
        plain: 'A sealed battery stays sealed.',
        costs: 'A dry one goes to the recycler.',
        heldBy: 'Most makers.',
        values: {},
      },
      {
        id: 'experiment',
        name: 'As an experiment',
        plain:
          'Weighed before and after, small equal amounts, caps back. Never to critical service again.',
        costs: 'An hour and a half of work, and its warranty.',
        heldBy: 'The curious.',
        values: {},
      },
    ],
  } satisfies SchoolQuestion<Record<string, never>>,
} as const;
