import type { HazardKey } from '../safety/hazards.ts';
import type { Check, StepOf } from '../plan/procedure.ts';

/** Steps that several procedures share, each written once. */

const CASE: Check = {
  id: 'case',
  text: 'Case whole: no crack, bulge or dent',
  answers: ['Whole', 'Damaged'],
  refusal: 'A damaged case is never filled or charged: it leaks acid, or bursts. Set it aside.',
};
const POSTS: Check = {
  id: 'posts',
  text: 'Posts straight and tight',
  answers: ['Tight', 'Loose'],
  refusal: 'A loose post leaks and sparks. Set it aside.',
};

export const LOOK_OVER: StepOf<'checks'> = {
  id: 'identify',
  kind: 'checks',
  segment: 'hands',
  handsS: 180,
  act: 'Check',
  title: 'Look the battery over',
  detail: 'On a level surface, out of the machine.',
  checks: [
    {
      id: 'label',
      text: 'The label says {model}, {volts} V',
      answers: ['It does', 'It does not'],
      refusal: 'This is not the battery the job was opened for. Nothing on this plan fits it.',
    },
    CASE,
    POSTS,
  ],
};

export const MAKE_SAFE = (when: string, hazards: readonly HazardKey[]): StepOf<'acknowledge'> => ({
  id: 'safe',
  kind: 'acknowledge',
  segment: 'hands',
  handsS: 120,
  act: 'Ready',
  title: 'Make the place safe',
  detail: `Once for this job, ${when}.`,
  hazards,
});

export const CLEAN: StepOf<'do'> = {
  id: 'clean',
  kind: 'do',
  segment: 'hands',
  handsS: 600,
  act: 'Clean',
  title: 'Clean it before anything is opened',
  detail:
    'Brush the posts, wash the lid with bicarbonate, rinse, dry. Caps stay on meanwhile. White growth on the positive post: it sat undercharged; write it down.',
  hazards: ['acid'],
};

export const ARRIVAL: StepOf<'arrival'> = {
  id: 'arrival',
  kind: 'arrival',
  segment: 'test',
  handsS: 60,
  act: 'Measure',
  skippable: true,
  once: true,
  title: 'Measure the voltage on arrival',
  detail:
    'Nothing connected but the meter. It tells how much is missing; a wet battery has been losing charge since the day it was made.',
};

export const CHARGE = (title: string, detail: string): StepOf<'charge'> => ({
  id: 'charge',
  role: 'main-charge',
  kind: 'charge',
  segment: 'charge',
  act: 'Charge',
  title,
  detail,
  hazards: ['hydrogen', 'heat', 'pressure'],
});

/** Acid in, and no charge: it sulfates from the first day. Usual care. */
export const SOON_AFTER_FILLING_S = 24 * 3600;
/** Emptied, it is charged at once. Usual care. */
export const SOON_AFTER_EMPTYING_S = 2 * 3600;

export const CLEAR: StepOf<'wait'> = {
  id: 'clear',
  kind: 'wait',
  segment: 'rest',
  figure: 'clearS',
  act: 'Unclip',
  title: 'Charger off, let the gas clear',
  detail: 'Mains off first. Wait before the clips come off; positive last on the bench.',
  early: 'Hydrogen is still over the ports; a clip makes a spark.',
  hazards: ['hydrogen'],
};

export const REST: StepOf<'wait'> = {
  id: 'rest',
  role: 'rest-before-verdict',
  kind: 'wait',
  segment: 'rest',
  figure: 'restS',
  act: 'Measure',
  title: 'Rest with the leads off',
  detail: 'A voltage read now is too high: surface charge.',
  early:
    'The voltage still carries surface charge. A reading taken now is kept and marked, and cannot be judged.',
  skippable: true,
};

export const MEASURE: StepOf<'measure'> = {
  id: 'ocv',
  kind: 'measure',
  segment: 'test',
  handsS: 120,
  act: 'Measure',
  skippable: true,
  title: 'Measure the rest voltage',
  detail: 'Nothing connected but the meter. Pass line {passV}.',
};

export const LOAD_TEST: StepOf<'load'> = {
  id: 'load',
  kind: 'load',
  segment: 'test',
  handsS: 300,
  act: 'Test',
  skippable: true,
  title: 'Load test at {loadA} for {loadS}',
  detail:
    'Read the volts at the end of the {loadS}, load still on; the minimum that passes depends on the temperature. Or the CCA by an analyser, by its own standard.',
  hazards: ['shorts'],
};

export const VERDICT: StepOf<'verdict'> = {
  id: 'verdict',
  kind: 'verdict',
  segment: 'test',
  handsS: 60,
  act: 'Decide',
  title: 'Verdict',
  detail: 'What the readings say, and why.',
  repeatFrom: 'charge',
  maxAttempts: 2,
};

export const HAND_OVER = (fitting: string): StepOf<'handover'> => ({
  id: 'handover',
  kind: 'handover',
  segment: 'hands',
  handsS: 300,
  act: 'Hand over',
  title: 'Tag it and hand it over',
  detail:
    `Sheet printed, date tag on. In a machine negative goes off first and on last. Every accessory lead back on its post, snug plus a quarter turn and no more: posts tear out. Terminals greased. ${fitting}`.trim(),
});

/** Caps of a serviceable battery go back, its vent is led away. */
export const CAPS_ON: StepOf<'checks'> = {
  id: 'close',
  kind: 'checks',
  segment: 'hands',
  handsS: 300,
  act: 'Close',
  title: 'Caps on, vent tube led away',
  detail:
    'Caps finger-tight, never with a tool. Wash the outside with bicarbonate and dry it; none of it may enter a cell.',
  leaves: 'caps',
  checks: [
    {
      id: 'caps',
      text: 'Every cap on, finger-tight',
      answers: ['On', 'Not yet'],
      hold: 'Put every cap on first: an open cell spills and gasses into the room.',
    },
    {
      id: 'vent',
      text: 'Vent tube on, led away, not kinked or pinched',
      answers: ['Clear', 'Not yet'],
      hold: 'Fit the vent tube and lead it clear. A pinched tube bursts the case.',
    },
  ],
};

export const CELL_SG: StepOf<'cells'> = {
  id: 'sg',
  kind: 'cells',
  segment: 'test',
  handsS: 300,
  act: 'Measure',
  skippable: true,
  title: 'SG of every cell',
  detail:
    'Hydrometer in each cell, from plus to minus, and the acid’s temperature. Draw and return twice before you read. One cell 0.050 below its neighbours after a charge is failing.',
  hazards: ['acid'],
};

/** Levels of a serviceable battery once it has been charged: from here only distilled water goes in. */
export const WATER_LEVELS = (once: boolean): StepOf<'ports'> => ({
  id: 'levels',
  kind: 'ports',
  segment: 'fill',
  handsS: 180,
  act: 'Look',
  skippable: true,
  ...(once ? { once: true } : {}),
  title: 'Levels: distilled water only',
  detail:
    'Plates covered and each cell at the upper mark. Acid does not leave with the gas, water does: more acid would make it too strong.',
  question: 'Tap a port to change it',
  answers: [
    { id: 'mark', label: 'At the mark', good: true, level: 0.85 },
    { id: 'watered', label: 'Watered', good: true, level: 0.85, added: 'water' },
    { id: 'low', label: 'Low', good: false, level: 0.4 },
    { id: 'over', label: 'Too full', good: true, level: 1, deviation: 'Over the upper mark' },
  ],
  hold: 'A cell is low. Bring it to the mark with distilled water, then say so.',
});

/** Layered acid is mixed while it is charged; why and how stands with the procedure. */
export const MIX = {
  id: 'mix',
  kind: 'do',
  segment: 'charge',
  handsS: 3600,
  act: 'Mixed',
  skippable: true,
} as const;
