import type { ChargerInUse } from '../chargers/charger.ts';
import { type ChargerFault, optionOf } from '../chargers/fit.ts';
import { chargerFaultWords, STANDING_WORDS } from '../chargers/fitWords.ts';
import { type JobCommand, Refused } from '../job/commands.ts';
import type { DecisionContext } from '../job/context.ts';
import type { Job } from '../job/job.ts';
import { chargerNeed } from '../recovery/chargerNeed.ts';

type StartCharge = Extract<JobCommand, { type: 'startCharge' }>;

/** The charger a charge begins on, and what speaks against it. */
export interface ChargerChoice {
  inUse: ChargerInUse;
  /** What it gives by itself, A and V; left out where it is set freely. */
  fixed?: { setA: number; setV: number };
  faults: readonly ChargerFault[];
}

/**
 * Looks at the charger that a charge is begun on: is there such a one, is it free, does it fit this battery?
 *
 * @returns null where none was said
 * @throws Refused where there is none such, it is out of order or lent, or it is on another battery and nobody has confirmed
 */
export function chargerChoice(
  job: Job,
  { charger: said, setA, setV, sure }: StartCharge,
  { chargers = [], chargersInUse = new Map() }: DecisionContext,
): ChargerChoice | null {
  if (!said) return null;
  const charger = chargers.find((c) => c.id === said.id);
  if (!charger)
    throw new Refused(
      'This charger is no longer in the shop. Choose another.',
      'invalid',
      'charger',
    );
  const setting = charger.settings.find((s) => s.name === said.setting) ?? null;
  const program = charger.programs.find((p) => p.name === said.program) ?? null;
  if (!charger.range && !setting)
    throw new Refused(`Say which setting of ${charger.name} it is.`, 'invalid', 'charger');
  if (charger.programs.length > 0 && !program)
    throw new Refused(`Say which program of ${charger.name} it is.`, 'invalid', 'charger');
  if (charger.standing !== 'ready')
    throw new Refused(
      `${charger.name}: ${STANDING_WORDS[charger.standing].toLowerCase()}. Choose another charger.`,
      'invalid',
      'charger',
    );
  const { range } = charger;
  if (range && (setA < range.leastA || setA > range.mostA))
    throw new Refused(
      `${charger.name} gives ${range.leastA} to ${range.mostA} A. Set it within that, or choose another.`,
      'invalid',
      'setA',
    );
  if (range && setV > range.mostV)
    throw new Refused(
      `${charger.name} goes to ${range.mostV} V. Set it within that, or choose another.`,
      'invalid',
      'setV',
    );
  const need = chargerNeed(job);
  const { faults, amps, volts } = optionOf(
    charger,
    setting,
    program,
    need,
    chargersInUse.get(charger.id),
  );
  const busy = faults.find((f) => f.kind === 'in-use');
  if (busy && !sure)
    throw new Refused(
      `${charger.name} is on ${busy.tags.join(', ')} already. Is it on this battery as well?`,
      'ask',
      'charger',
    );
  return {
    inUse: {
      id: charger.id,
      name: charger.name,
      ...(setting ? { setting: setting.name } : {}),
      ...(program && charger.programs.length > 1 ? { program: program.name } : {}),
      showsAmps: charger.shows.includes('amps'),
      ...(setting
        ? {
            own: {
              kind: charger.kind,
              amps: setting.amps,
              program,
              startsV: charger.startsV,
              shows: charger.shows,
              lights: charger.lights,
            },
          }
        : {}),
    },
    ...(range ? {} : { fixed: { setA: amps, setV: Math.min(volts, need.ceilingV) } }),
    faults,
  };
}

/** What speaks against a charger, asked for a reason. @throws Refused where none is given */
export function reasonFor({ inUse, faults }: ChargerChoice, reason: string | undefined): string {
  if (reason) return reason;
  throw new Refused(
    `${inUse.name}: ${faults.map(chargerFaultWords).join(' ')} Choose another, or give a reason.`,
    'invalid',
    'reason',
  );
}
