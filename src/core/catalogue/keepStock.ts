import type { Cover, Procedure, Purpose, Step, StepOf } from '../plan/procedure.ts';
import {
  ARRIVAL,
  CAPS_ON,
  CELL_SG,
  CHARGE,
  CLEAN,
  CLEAR,
  HAND_OVER,
  LOAD_TEST,
  LOOK_OVER,
  MAKE_SAFE,
  MEASURE,
  REST,
  VERDICT,
  WATER_LEVELS,
} from './steps.ts';

/** What stock goes through between its first charge and the day it is sold: recharges, display machines, the twice-yearly service. */

const OUT_OF_MACHINE: StepOf<'do'> = {
  id: 'take-out',
  kind: 'do',
  segment: 'hands',
  handsS: 600,
  act: 'Out',
  title: 'Take it out of the machine',
  detail:
    'Negative off first, then positive, then the strap. A machine on display goes on drawing a little; a battery left in it is a battery lost.',
  hazards: ['shorts'],
};

const SLOW =
  'Charger off while you connect: positive first, then negative, then mains. Volts, amps and warmth every hour.';

const MIX: StepOf<'do'> = {
  id: 'mix',
  kind: 'do',
  segment: 'charge',
  handsS: 3600,
  act: 'Mixed',
  skippable: true,
  title: 'Mix the acid: gas it for an hour',
  detail:
    'Standing acid lies in layers, strong below. Let it gas gently for about an hour at the end of the charge, or rock it. A charger that said full takes more once the acid is mixed.',
  hazards: ['hydrogen'],
};

function procedure(
  id: string,
  name: string,
  purpose: Purpose,
  arrives: Cover,
  steps: readonly Step[],
): Procedure {
  return { id, version: 1, name, purpose, arrives, steps };
}

const TO_SHELF = HAND_OVER('Onto the shelf: the new date goes on its tag.');

/** @param open its cells can be reached */
export function rechargeProcedure(open: boolean): Procedure {
  return procedure(
    `recharge-${open ? 'open' : 'sealed'}`,
    'Recharge for the shelf',
    'recharge',
    open ? 'caps' : 'sealed',
    [
      ARRIVAL,
      MAKE_SAFE('before a clip goes on', ['hydrogen', 'shorts', 'maker']),
      ...(open ? [WATER_LEVELS(true)] : []),
      CHARGE('Charge at {chargeA}', open ? `Caps loosened a turn. ${SLOW}` : SLOW),
      CLEAR,
      REST,
      MEASURE,
      VERDICT,
      TO_SHELF,
    ],
  );
}

export function displayProcedure(open: boolean): Procedure {
  return procedure(
    `display-${open ? 'open' : 'sealed'}`,
    'Out of a display machine',
    'display',
    open ? 'caps' : 'sealed',
    [OUT_OF_MACHINE, LOOK_OVER, ...rechargeProcedure(open).steps],
  );
}

export function serviceProcedure(open: boolean): Procedure {
  return procedure(
    `service-${open ? 'open' : 'sealed'}`,
    'Twice-yearly service',
    'service',
    open ? 'caps' : 'sealed',
    [
      LOOK_OVER,
      MAKE_SAFE('before anything is opened', ['acid', 'hydrogen', 'shorts', 'maker']),
      CLEAN,
      ARRIVAL,
      ...(open ? [{ ...WATER_LEVELS(true), leaves: 'caps-loose' as const }] : []),
      CHARGE(
        'Full slow charge at {chargeA}',
        open
          ? `Caps laid on loosely. Slow beats fast: the whole plate takes part. ${SLOW}`
          : `Slow beats fast: the whole plate takes part. ${SLOW}`,
      ),
      ...(open ? [MIX] : []),
      CLEAR,
      ...(open ? [CELL_SG, CAPS_ON] : []),
      REST,
      MEASURE,
      LOAD_TEST,
      VERDICT,
      HAND_OVER('Next service in half a year, before winter or before summer.'),
    ],
  );
}
