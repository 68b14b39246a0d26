import type { Procedure, Step } from '../plan/procedure.ts';
import * as usual from './steps.ts';

/** What every battery that comes wet and stays shut goes through; its charge differs by family. */
const sealed = (charge: Step, fitting: string): readonly Step[] => [
  usual.LOOK_OVER,
  usual.ARRIVAL,
  usual.MAKE_SAFE('before a clip goes on', ['hydrogen', 'shorts', 'maker']),
  charge,
  usual.CLEAR,
  usual.REST,
  usual.MEASURE,
  usual.LOAD_TEST,
  usual.VERDICT,
  usual.HAND_OVER(fitting),
];

/** AGM filled and charged at the works: to 100 % before service, whatever the shelf has taken from it. */
export const COMMISSION_SEALED_AGM: Procedure = {
  id: 'commission-agm-sealed',
  version: 3,
  name: 'Commission, factory-activated AGM',
  purpose: 'commission',
  arrives: 'sealed',
  steps: sealed(
    usual.CHARGE(
      'Charge to full at {chargeA}',
      'Charger with an AGM setting: it needs more volts than a conventional one gives. Off while you connect: positive first, then negative, then mains. The lid stays shut. No automotive boost. Read volts, amps and temperature every hour.',
    ),
    'Sealed: never opened, never topped up.',
  ),
};

/** Gel: as AGM, under its own, lower ceiling. */
export const COMMISSION_GEL: Procedure = {
  id: 'commission-gel',
  version: 3,
  name: 'Commission, gel',
  purpose: 'commission',
  arrives: 'sealed',
  steps: sealed(
    usual.CHARGE(
      'Charge to full at {chargeA}, never above {ceilingV}',
      'Charger with a gel setting. AGM and flooded settings go higher: gas then opens voids in the gel that never close again. Off while you connect: positive first, then negative, then mains. Read volts, amps and temperature every hour.',
    ),
    'Gel: its charger in the machine must have a gel setting too.',
  ),
};

/** Flooded, maintenance-free or EFB: wet, ports hidden or none. */
export const COMMISSION_SEALED_FLOODED: Procedure = {
  id: 'commission-flooded-sealed',
  version: 3,
  name: 'Commission, maintenance-free or EFB',
  purpose: 'commission',
  arrives: 'sealed',
  steps: sealed(
    usual.CHARGE(
      'Charge to full at {chargeA}',
      'It gasses through its vents at the ceiling: vent holes open, nothing laid on them. A charge indicator eye speaks for one cell only. Off while you connect: positive first, then negative, then mains. Read volts, amps and temperature every hour.',
    ),
    'Vent outlet open, or its tube led away. Water, if it ever needs any, is distilled.',
  ),
};
