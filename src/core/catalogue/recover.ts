import type { Cover, Procedure, Step, StepOf } from '../plan/procedure.ts';
import * as usual from './steps.ts';
import { WAKE } from './wakeSteps.ts';

/** From "it's dead" to a verdict. Which of its steps apply follows from the route and the way of waking that are chosen on the way. */

const LOOK: StepOf<'checks'> = {
  ...usual.LOOK_OVER,
  title: 'Look it over: is it safe to work on?',
  detail:
    'Out of the machine, on a level surface, in good light. One bad answer ends it here: some must never be charged.',
  checks: [
    usual.LOOK_OVER.checks[0] as StepOf<'checks'>['checks'][number],
    {
      id: 'crack',
      text: 'Case whole: no crack, no leak',
      answers: ['Whole', 'Cracked or leaking'],
      refusal: 'Case cracked or leaking. It is never charged: to the recycler, upright, in a tub.',
    },
    {
      id: 'bulge',
      text: 'Sides flat: no bulge, no dent into the plates',
      answers: ['Flat', 'Bulged or dented'],
      refusal: 'Bulged or dented into the plates: it may be shorted inside. To the recycler.',
    },
    {
      id: 'post',
      text: 'Posts firm, none burnt',
      answers: ['Firm', 'Loose or burnt'],
      refusal: 'A post is loose or burnt: under current it sparks over gas. To the recycler.',
    },
    {
      id: 'frozen',
      text: 'Not frozen, not icy to the touch',
      answers: ['Not frozen', 'Frozen'],
      refusal:
        'It has frozen. Ice has pushed its plates apart: never charged, thaw it upright in a tub, to the recycler.',
    },
  ],
};

const STORY: StepOf<'story'> = {
  id: 'story',
  kind: 'story',
  segment: 'hands',
  handsS: 120,
  act: 'Tell',
  once: true,
  title: 'What happened to it?',
  detail: 'Ask the customer. The answer tells as much as a meter, and costs nothing.',
};

const DIAGNOSE: StepOf<'diagnose'> = {
  id: 'diagnose',
  kind: 'diagnose',
  segment: 'test',
  handsS: 900,
  act: 'Decide',
  title: 'What is wrong with it, and what to try',
  detail:
    'Measure what is worth measuring, cheapest first; then choose a route. The odds are the model’s; the choice is yours.',
};

const ADDITIVE: readonly Step[] = [
  {
    id: 'rinse',
    kind: 'rinse',
    acid: 'acidL',
    segment: 'hands',
    handsS: 2400,
    act: 'Rinsed',
    only: { route: ['sulfate', 'magnesium'] },
    title: 'Drain the acid, rinse, and look at what comes out',
    detail:
      'Tip it slowly over a tub, then twice with distilled water. What is drained, about {acidL}, and the rinsing water are hazardous waste: into their own closed drum, never the drain; {wasteSodaKg} of bicarbonate at hand for a spill. Brown flakes are its plates: look well before more money goes in.',
    hazards: ['acid', 'waste'],
  },
  {
    id: 'fill-solution',
    kind: 'do',
    segment: 'hands',
    handsS: 1800,
    act: 'Filled',
    only: { route: ['sulfate'] },
    title: 'Fill in the solution: {saltG} in {acidL}',
    detail:
      'Contested: results reported differ. Sodium sulfate dissolved in distilled water, 27.5 g to the litre, in place of the acid.',
    hazards: ['acid'],
  },
  {
    id: 'fill-magnesium',
    kind: 'do',
    segment: 'hands',
    handsS: 1800,
    act: 'Filled',
    only: { route: ['magnesium'] },
    title: 'Fill in the solution: {magnesiumMl} of salt to {acidL} of warm water',
    detail:
      'Contested: results reported differ. Magnesium sulfate, about one part to three of warm distilled water by volume; stir until it is clear, then fill it in place of the acid. At most four rounds, each with a day of rest after it.',
    hazards: ['acid'],
  },
  {
    id: 'conditioner',
    kind: 'do',
    segment: 'hands',
    handsS: 900,
    act: 'In',
    only: { route: ['conditioner'] },
    title: 'Conditioner into each cell',
    detail:
      'Contested: results reported differ. The measured amount its maker prints for a cell of this size, the same into every cell; write it down as a note.',
    hazards: ['acid'],
  },
  {
    id: 'open-agm',
    kind: 'do',
    segment: 'hands',
    handsS: 3600,
    act: 'Closed',
    only: { route: ['water-agm'] },
    title: 'Open it, water, close it: experimental',
    detail:
      'Weigh it first, and again after. Warm the decal, lift and keep it; lift the caps so that they can go back. Small equal amounts of distilled water, a missing gram is a missing millilitre, never more; what stands free after an hour is drawn off. It never goes to critical service again. A case is never drilled.',
    amount: { label: 'Water in all, at most', expected: 'waterMl', most: true, weighed: true },
    hazards: ['acid', 'pressure'],
  },
];

const EMPTY_FIRST: StepOf<'capacity'> = {
  id: 'empty-first',
  role: 'empty-first',
  kind: 'capacity',
  segment: 'test',
  handsS: 3 * 3600,
  act: 'Discharge',
  skippable: true,
  only: { route: ['cycle'] },
  title: 'Down to the cut-off first',
  detail:
    'A place with an electronic load does this by the plan, and stops by itself. By hand: an alert comes when a sound one would be empty.',
  hazards: ['shorts', 'heat'],
};

const MIX: StepOf<'do'> = {
  ...usual.MIX,
  only: { route: ['mix', 'slow-restore', 'recharge', 'held'] },
  title: 'Mix the acid',
  detail:
    'Rock it, or let it gas gently for an hour at the end. A charger that said full takes more once the acid is mixed.',
  hazards: ['hydrogen'],
};

const HOLD: readonly Step[] = [
  {
    id: 'capacity',
    kind: 'capacity',
    segment: 'test',
    handsS: 3 * 3600,
    act: 'Test',
    skippable: true,
    title: 'Capacity: what does it really hold?',
    detail:
      'A constant current down to the cut-off, and the minutes. CCA and resistance may look fine while this has not moved; nothing is called recovered without it.',
    hazards: ['shorts', 'heat'],
  },
  {
    ...usual.CHARGE(
      'Charge it full again',
      'Emptied by the test, it is never left so: back on the charger at once. An instrument that tests does both, one after the other.',
    ),
    id: 'refill',
    role: 'refill',
    own: true,
    withinS: usual.SOON_AFTER_EMPTYING_S,
  },
  { ...usual.CLEAR, id: 'clear-refill' },
  {
    id: 'hold',
    role: 'hold',
    kind: 'wait',
    segment: 'rest',
    figure: 'holdS',
    readEveryS: 2 * 24 * 3600,
    act: 'Measure',
    skippable: true,
    title: 'Hold: a week on the shelf, nothing connected',
    detail:
      'What it loses in that week is the verdict that counts. Its volts every other day show early whether it leaks.',
    early:
      'Without the week nobody knows whether it keeps its charge; it cannot be returned to service.',
  },
  {
    id: 'hold-volts',
    kind: 'hold-measure',
    segment: 'test',
    handsS: 60,
    act: 'Measure',
    skippable: true,
    title: 'Measure it after the hold',
    detail: 'Nothing connected but the meter, and the temperature it stood at.',
  },
  {
    id: 'outcome',
    kind: 'outcome',
    repeatFrom: 'diagnose',
    segment: 'test',
    handsS: 120,
    act: 'Decide',
    title: 'Verdict',
    detail: 'What the numbers say, before and after.',
  },
];

/** @param open its cells can be reached */
export function recoverProcedure(open: boolean): Procedure {
  const arrives: Cover = open ? 'caps' : 'sealed';
  return {
    id: `recover-${open ? 'open' : 'sealed'}`,
    version: 5,
    name: 'Recovery',
    purpose: 'recover',
    arrives,
    steps: [
      { ...LOOK, once: true },
      {
        ...usual.MAKE_SAFE('before anything is connected or opened', [
          'acid',
          'hydrogen',
          'shorts',
          'maker',
        ]),
        once: true,
      },
      { ...usual.CLEAN, once: true, skippable: true },
      STORY,
      {
        ...usual.ARRIVAL,
        title: 'Rest voltage on arrival',
        detail:
          'Nothing connected but the meter, and its temperature. The voltage alone does not decide: 12.5 V can collapse under load, 4 V can recover.',
      },
      DIAGNOSE,
      ...WAKE,
      ...ADDITIVE,
      ...(open ? [{ ...usual.WATER_LEVELS(false), leaves: 'caps-loose' as const }] : []),
      EMPTY_FIRST,
      usual.CHARGE(
        'Charge by the route',
        `Slow beats fast; never above a fifth of C20. By hand: volts and temperature every two hours. Volts that do not rise with current going in are a short; no current is an open joint.${open ? ' Caps laid on loosely.' : ''}`,
      ),
      ...(open ? [MIX] : []),
      usual.CLEAR,
      ...(open ? [usual.CELL_SG, usual.CAPS_ON] : []),
      usual.REST,
      usual.MEASURE,
      usual.LOAD_TEST,
      ...HOLD,
      usual.HAND_OVER(
        'A sheet with before and after goes with it. Light duty: say so on the tag, never where a failure strands someone.',
      ),
    ],
  };
}
