import type { Band } from '../rehearsal/outlook.ts';
import { CHEMISTRIES } from '../batteries/chemistry.ts';
import type { ChargerInUse, ChargerStanding } from './charger.ts';
import type { ChargerCaution, ChargerFault, ChargerOption, WouldDo } from './fit.ts';

const v = (volts: number): string => `${volts.toFixed(2)} V`;
const a = (amps: number): string => `${Number(amps.toFixed(amps < 1 ? 2 : 1))} A`;

export const STANDING_WORDS: Readonly<Record<ChargerStanding, string>> = {
  ready: 'Ready',
  'out-of-order': 'Out of order',
  lent: 'Lent',
};

/** Why a charger is not for this battery, as a sentence. */
export function chargerFaultWords(fault: ChargerFault): string {
  switch (fault.kind) {
    case 'standing':
      return `${STANDING_WORDS[fault.standing]}.`;
    case 'away':
      return fault.why === '' ? 'Away today.' : `Away today: ${fault.why}.`;
    case 'in-use':
      return `On ${fault.tags.join(', ')}.`;
    case 'volts':
      return `For ${fault.volts.join(' and ')} V batteries; this one is ${fault.nominalV} V.`;
    case 'starts':
      return `Starts at ${v(fault.startsV)}, the battery reads ${v(fault.readsV)}: wake it first.`;
    case 'boost':
      return 'Boost is for starting an engine, not for charging.';
    case 'too-much':
      return `${a(fault.amps)} is C/${Number((fault.c20Ah / fault.amps).toFixed(1))} of this battery; at most ${a(fault.mostA)}.`;
    case 'too-little':
      return `${a(fault.amps)} keeps a battery of ${fault.c20Ah} Ah, and does not charge it.`;
    case 'family':
      return `No program for ${CHEMISTRIES[fault.chemistry].name}.`;
    case 'above-ceiling':
      return `Goes to ${v(fault.programV)}; this battery's ceiling is ${v(fault.ceilingV)}.`;
  }
}

/** What to know before a charger is used, as a sentence. */
export function chargerCautionWords(caution: ChargerCaution): string {
  switch (caution.kind) {
    case 'no-ceiling':
      return caution.sealed
        ? `No voltage limit: read the voltage every hour, and switch it off at ${v(caution.ceilingV)}.`
        : `No voltage limit: read the voltage every hour, and switch it off when it no longer rises.`;
    case 'slow':
      return `${a(caution.amps)} is below C/20 (${a(caution.leastA)}): it takes longer${caution.sealed ? '' : ', and mixes the acid little'}.`;
    case 'low-ceiling':
      return `Stops at ${v(caution.programV)}, and the battery's ceiling is ${v(caution.ceilingV)}: rest it and measure before you call it full.`;
    case 'says-full':
      return `${caution.sulfated ? 'If the plates are sulfated, it says full' : 'Says full'} after ${aboutHours(caution.afterH)}, and the battery is ${percent(caution.share)} charged then: rest it and measure.`;
    case 'stops-short':
      return `About ${percent(caution.share)} charged when it is switched off there.`;
    case 'timer':
      return `Its timer stops it after ${aboutHours(caution.afterH)}, at ${percent(caution.share)}: disconnect it and connect it again, it then goes on.`;
    case 'endless':
      return `Not full after ${aboutHours(caution.afterH)}: ${percent(caution.share)}.`;
    case 'gases':
      return `Rises to ${v(caution.highestV)} and gases hard${caution.waterG >= 1 ? `: about ${caution.waterG.toFixed(0)} g of water` : ''}. Caps loose, no flame, and do not leave it.`;
    case 'warms':
      return `Warms the battery to about ${caution.peakC.toFixed(0)} °C: feel it every hour.`;
  }
}

const percent = (share: number): string => `${Math.round(100 * share)} %`;
const aboutHours = (h: number): string =>
  h < 1 ? `${Math.max(1, Math.round(60 * h))} min` : `about ${Number(h.toFixed(h < 10 ? 1 : 0))} h`;

/** How a charger is to be set: `10 A, AGM`. */
export function settingWords({ charger, setting, program, amps, volts }: ChargerOption): string {
  if (charger.range) return `set to ${a(amps)} and ${volts.toFixed(2)} V`;
  return [setting?.name, charger.programs.length > 1 ? program?.name : null]
    .filter(Boolean)
    .join(', ');
}

/** `4 to 6 h`, or `7.5 h` where both ends round to the same. */
export function hoursWords({ low, high }: Band): string {
  const round = (h: number) => (h < 10 ? Math.round(h * 2) / 2 : Math.round(h));
  return round(low) === round(high) ? `${round(low)} h` : `${round(low)} to ${round(high)} h`;
}

/** What would do where none fits, as a sentence. */
export function wouldDoWords(what: WouldDo): string {
  switch (what.kind) {
    case 'wake':
      return `${what.names.join(' and ')} would do once the battery is awake: put a donor beside it, or use a charger that starts lower.`;
    case 'wait':
      return `${what.name} would do. It is on ${what.tags.join(', ')}.`;
    case 'other':
      return `None of the shop's chargers fits. What would: ${a(what.leastA)} to ${a(what.mostA)}, at most ${what.ceilingV.toFixed(2)} V. A lower current only takes longer.`;
  }
}

/** A charger and how it was set: `B, the blue one (4 A, AGM)`. */
export function chargerInUseWords({ name, setting, program }: ChargerInUse): string {
  const set = [setting, program].filter(Boolean).join(', ');
  return set ? `${name} (${set})` : name;
}
