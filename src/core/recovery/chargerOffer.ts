import type { ShopCharger } from '../chargers/charger.ts';
import { type ChargerOption, chargerOptions, hoursOn, whatWouldDo } from '../chargers/fit.ts';
import { hoursWords, wouldDoWords } from '../chargers/fitWords.ts';
import type { Job } from '../job/job.ts';
import { chargerNeed } from './chargerNeed.ts';

/** A charger as it would be set, and how long the battery would stay on it, in words; null where something speaks against it. */
export interface ChargerChoice {
  option: ChargerOption;
  hours: string | null;
}

/** The chargers of a shop as a charge that begins is offered them, best first, and what would do where none fits. */
export interface ChargerOffer {
  choices: readonly ChargerChoice[];
  wouldDo: string | null;
}

/**
 * Some tenths of a second where chargers run by themselves: each is simulated.
 *
 * @param day on which the battery is to be put on, YYYY-MM-DD
 * @param inUse tags of the batteries each charger is on, by its id
 */
export function chargerOffer(
  chargers: readonly ShopCharger[],
  job: Job,
  day: string,
  inUse: ReadonlyMap<string, readonly string[]>,
): ChargerOffer {
  const need = { ...chargerNeed(job), day };
  const options = chargerOptions(chargers, need, inUse);
  const wouldDo = whatWouldDo(options, need);
  return {
    choices: options.map((option) => ({
      option,
      hours: option.faults.length === 0 ? hoursWords(hoursOn(option, need)) : null,
    })),
    wouldDo: wouldDo && wouldDoWords(wouldDo),
  };
}
