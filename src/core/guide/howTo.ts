/** A page of the field guide: what to do, in steps, and the slips that everybody makes once. */
export interface HowTo {
  key: string;
  title: string;
  why: string;
  steps: readonly string[];
  slips: readonly string[];
}

export const HOW_TO: readonly HowTo[] = [
  {
    key: 'tell-kinds',
    title: 'Tell the kinds apart',
    why: 'Each kind has its own ceiling. The wrong one harms the battery.',
    steps: [
      'Read the label first: AGM, VRLA, GEL, EFB, or a lithium sign.',
      'Caps, or a strip that lifts off: flooded, you can look inside.',
      'A flat lid with a decal, and it sloshes when tilted a little: flooded, closed.',
      'Heavy, nothing sloshes, “do not open”: AGM or gel. Not sure which: charge it as gel.',
      'Light for its size, or LiFePO4 on it: lithium. Refuse it.',
    ],
    slips: ['An eye in the lid speaks for one cell only.', 'AGM and gel look the same outside.'],
  },
  {
    key: 'read-a-meter',
    title: 'Read a meter',
    why: 'Every judgement begins with a voltage that is true.',
    steps: [
      'Set it to DC volts, 20 V range.',
      'Red on plus, black on minus, on the metal of the posts, not on the clips.',
      'Wait until the last digit stands still.',
      'Read two decimals: 12.4 is not 12.48.',
    ],
    slips: [
      'Read just after a charge: surface charge, too high.',
      'A minus sign: leads are swapped, or the battery is reversed.',
    ],
  },
  {
    key: 'read-a-hydrometer',
    title: 'Read a hydrometer',
    why: 'SG is the only look into each cell.',
    steps: [
      'Goggles and gloves. Draw acid until the float swims free.',
      'Eye level with the liquid. Read at its flat middle.',
      'Take the temperature of the acid too, and write both down.',
      'Give the acid back to the same cell.',
    ],
    slips: [
      'Read just after water was added: the top is water.',
      'Float stuck to the glass: tap it.',
    ],
  },
  {
    key: 'use-a-load-tester',
    title: 'Use a load tester',
    why: 'A battery that reads well may still have no strength.',
    steps: [
      'Charged and rested: 12.4 V or more.',
      'Clips first, load off. Set three times C20.',
      'Load on for 15 seconds. Read the voltage at the end, under load.',
      'Load off. It must come back at once.',
    ],
    slips: [
      'Testing a flat battery: it fails only because it is flat.',
      'Clips on with the load on: a spark over gas.',
    ],
  },
  {
    key: 'clip-a-charger',
    title: 'Clip a charger on and off',
    why: 'A spark over a gassing battery is an explosion in your face.',
    steps: [
      'Mains off. Plus first, then minus, then mains on.',
      'To take it off: mains off, wait five minutes for the gas, minus off, plus off.',
      'In a machine the other way: minus off first, and on last.',
    ],
    slips: ['Pulling a clip while it charges.', 'A clip on paint or rust: it clicks on and off.'],
  },
  {
    key: 'why-green-is-not-full',
    title: 'Why green is not full',
    why: 'A charger sees only voltage and current at its clips.',
    steps: [
      'A sulfated battery reaches the ceiling at once: the light turns green in minutes.',
      'A large battery on a small charger: the timer ends it half full.',
      'So rest it, measure, and let the voltage decide.',
    ],
    slips: ['Handing a battery over because the light was green.'],
  },
  {
    key: 'what-10-5-means',
    title: 'What 10.5 V means',
    why: 'The same number means two things.',
    steps: [
      'Before a charge: it is empty. Many chargers do not start below 10.5 V.',
      'After a full charge and a rest: one cell is shorted. Recycle it.',
      'Under load in a capacity test: this is where the test ends.',
    ],
    slips: ['Scrapping an empty battery that only needed a donor beside it.'],
  },
  {
    key: 'top-up',
    title: 'Acid or water?',
    why: 'Acid never leaves a cell by gassing; only water does.',
    steps: [
      'Before the first charge, at filling: acid of the right SG.',
      'Ever after: distilled water, to the mark, after the charge.',
      'Plates bare: a little water first, just over the plates, then charge, then to the mark.',
    ],
    slips: [
      'Topping up with acid later: the cell gets too strong.',
      'Filling to the mark before a charge: it overflows.',
    ],
  },
  {
    key: 'promise-an-hour',
    title: 'Promise an hour',
    why: 'A charge that is hurried to be in time costs the battery.',
    steps: [
      'At intake, ask the day plan before you ask the customer.',
      'Say the hour that holds in 8 of 10. The even chance is late every other time.',
      'Too late for them: see who pays if it goes first, and let the lead decide.',
      'Look at the day plan each morning. Tell the owner of what is red that day.',
      'Before you leave, take off what does not stop by itself.',
    ],
    slips: [
      'Counting the charge alone: rest, hands and the load tester take their hours too.',
      'More current, to be in time.',
    ],
  },
];
