import type { Procedure } from '../plan/procedure.ts';
import * as usual from './steps.ts';

/** First commissioning of a conventional dry-charged battery, three or six cells, from bulk acid. */
export const COMMISSION_DRY_FLOODED: Procedure = {
  id: 'commission-flooded-dry',
  version: 4,
  name: 'Commission, dry-charged conventional',
  purpose: 'commission',
  arrives: 'caps',
  steps: [
    usual.LOOK_OVER,
    {
      id: 'acid',
      kind: 'acid',
      segment: 'hands',
      handsS: 180,
      act: 'Judge',
      title: 'Judge the acid: {fillSg} at 25 °C',
      detail:
        'Hydrometer and thermometer into the bulk container. Warm acid reads low, so what you read is corrected before it is judged. Acid and battery between 16 and 30 °C.',
      hazards: ['acid'],
    },
    usual.MAKE_SAFE('before the caps come off', ['acid', 'hydrogen', 'shorts', 'maker']),
    {
      id: 'vent',
      kind: 'checks',
      segment: 'hands',
      handsS: 120,
      act: 'Check',
      title: '{caps} Open the vent for good',
      detail:
        'The little cap on the vent spout is for transport: it comes off now and never goes back. The long hose is the vent tube: cutting it to fill from is a classic slip.',
      leaves: 'open',
      checks: [
        {
          id: 'transport',
          text: 'Transport cap off the vent, and thrown away',
          answers: ['Off', 'Not yet'],
          hold: 'Take the transport cap off the vent. A battery charged with it on bursts.',
        },
        {
          id: 'tube',
          text: 'Vent tube whole; the short fill hose on the spout',
          answers: ['Whole', 'Cut or missing'],
          hold: 'Find a whole vent tube before you fill. The battery may not leave without one.',
        },
      ],
    },
    {
      id: 'fill',
      kind: 'do',
      segment: 'fill',
      handsS: 420,
      act: 'Filled',
      title: 'Fill each cell to the upper mark',
      detail:
        'Hose from the acid pack, cell by cell from plus to minus, slowly, plates covered. About {fillMl} in all. The wait starts when you press the button.',
      hazards: ['acid'],
    },
    {
      id: 'stand',
      kind: 'wait',
      segment: 'dwell',
      figure: 'standS',
      act: 'Look',
      title: 'Let it stand, tap the case now and then',
      detail:
        'Gentle taps free the bubbles. Levels fall while the plates take up acid. That is why there is a second pass.',
      early: 'The plates are still taking up acid. A level read now is too high.',
      skippable: true,
    },
    {
      id: 'pass',
      kind: 'ports',
      segment: 'fill',
      handsS: 180,
      act: 'Look',
      title: 'Level in every cell?',
      detail:
        'Against the light, or with the caps off. A cell that has fallen is topped up with the same acid, and the battery stands again.',
      question: 'Tap a port to change it',
      answers: [
        { id: 'mark', label: 'At the mark', good: true, level: 0.85 },
        { id: 'topped', label: 'Topped up', good: true, level: 0.85, again: true, added: 'acid' },
        { id: 'low', label: 'Low', good: false, level: 0.4 },
        {
          id: 'over',
          label: 'Too full',
          good: true,
          level: 1,
          deviation: 'Filled over the upper mark',
        },
      ],
      hold: 'A cell is low. Top it up with the same acid and say so; it stands once more then.',
      passes: { from: 'stand', most: 3 },
    },
    {
      id: 'used',
      kind: 'do',
      segment: 'hands',
      handsS: 60,
      act: 'Keep',
      title: 'How much acid did it take?',
      detail:
        'From the marks on the container, topping up included. The amount is taken from the lot and printed on the sheet.',
      amount: { label: 'Acid it took', expected: 'fillMl' },
    },
    {
      ...usual.CHARGE(
        'Initial charge at {chargeA}',
        'Caps laid on loosely: they keep the splash in and let gas go. Charger off while you connect: positive first, then negative, then mains. No automotive boost. Read volts, amps and temperature every hour; look at the levels while you are there.',
      ),
      withinS: usual.SOON_AFTER_FILLING_S,
      leaves: 'caps-loose',
    },
    usual.CLEAR,
    usual.CELL_SG,
    usual.WATER_LEVELS(false),
    usual.CAPS_ON,
    usual.REST,
    usual.MEASURE,
    usual.LOAD_TEST,
    usual.VERDICT,
    usual.HAND_OVER(
      'Vent tube led away, not pinched by the battery or its strap. Transport plug out.',
    ),
  ],
};
