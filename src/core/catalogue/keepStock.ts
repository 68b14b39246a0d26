import type { Cover, Procedure, Purpose, Step, StepOf } from '../plan/procedure.ts';
import * as usual from './steps.ts';

/** What stock goes through between its first charge and the day it is sold: recharges, display machines, the twice-yearly service. */

const OUT_OF_MACHINE: StepOf<'do'> = {
  id: 'take-out',
  kind: 'do',
  segment: 'hands',
  handsS: 600,
  act: 'Out',
  title: 'Take it out of the machine',
  detail:
    'Negative off first, then positive, then the strap. A display machine still draws a little current, and ruins a battery that is left in it.',
  hazards: ['shorts'],
};

const SLOW =
  'Charger off while you connect: positive first, then negative, then mains. Read volts, amps and temperature every hour.';

const MIX: StepOf<'do'> = {
  ...usual.MIX,
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
  return { id, version: 3, name, purpose, arrives, steps };
}

const TO_SHELF = usual.HAND_OVER('Onto the shelf: the new date goes on its tag.');

/** @param open its cells can be reached */
export function rechargeProcedure(open: boolean): Procedure {
  return procedure(
    `recharge-${open ? 'open' : 'sealed'}`,
    'Recharge for the shelf',
    'recharge',
    open ? 'caps' : 'sealed',
    [
      usual.ARRIVAL,
      usual.MAKE_SAFE('before a clip goes on', ['hydrogen', 'shorts', 'maker']),
      ...(open ? [usual.WATER_LEVELS(true)] : []),
      usual.CHARGE('Charge at {chargeA}', open ? `Caps loosened a turn. ${SLOW}` : SLOW),
      usual.CLEAR,
      usual.REST,
      usual.MEASURE,
      usual.VERDICT,
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
    [OUT_OF_MACHINE, usual.LOOK_OVER, ...rechargeProcedure(open).steps],
  );
}

export function serviceProcedure(open: boolean): Procedure {
  return procedure(
    `service-${open ? 'open' : 'sealed'}`,
    'Twice-yearly service',
    'service',
    open ? 'caps' : 'sealed',
    [
      usual.LOOK_OVER,
      usual.MAKE_SAFE('before anything is opened', ['acid', 'hydrogen', 'shorts', 'maker']),
      usual.CLEAN,
      usual.ARRIVAL,
      ...(open ? [{ ...usual.WATER_LEVELS(true), leaves: 'caps-loose' as const }] : []),
      usual.CHARGE(
        'Full slow charge at {chargeA}',
        open
          ? `Caps laid on loosely. Slow beats fast: the whole plate takes part. ${SLOW}`
          : `Slow beats fast: the whole plate takes part. ${SLOW}`,
      ),
      ...(open ? [MIX] : []),
      usual.CLEAR,
      ...(open ? [usual.CELL_SG, usual.CAPS_ON] : []),
      usual.REST,
      usual.MEASURE,
      usual.LOAD_TEST,
      usual.VERDICT,
      usual.HAND_OVER('Next service in half a year, before winter or before summer.'),
    ],
  );
}
