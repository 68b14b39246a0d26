import type { ShopCharger } from '../chargers/charger.ts';
import { type ChargerOption, chargerOptions, fits, hoursOn, whatWouldDo } from '../chargers/fit.ts';
import { hoursWords, wouldDoWords } from '../chargers/fitWords.ts';
import type { Job } from '../job/job.ts';
import { chargerNeed, wakeNeed } from './chargerNeed.ts';

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
      hours: fits(option) ? hoursWords(hoursOn(option, need)) : null,
    })),
    wouldDo: wouldDo && wouldDoWords(wouldDo),
  };
}

/**
 * The chargers of a shop that may wake a battery: that start at what the clips read, and give no more than it, or both, may take.
 *
 * @param donorV what the clips read beside a donor, V; null where there is none
 * @param donorAh what the donor holds, Ah; 0 where there is none
 * @param day on which it is woken, YYYY-MM-DD
 */
export const wakeOffer = (
  chargers: readonly ShopCharger[],
  job: Job,
  donorV: number | null,
  donorAh: number,
  day: string,
): ChargerOption[] =>
  chargerOptions(chargers, { ...wakeNeed(job, donorV, donorAh), day }).filter(fits);
