import type { ShopCharger } from '../chargers/charger.ts';
import { chargerOptions, fits, hoursOn, whatWouldDo } from '../chargers/fit.ts';
import {
  chargerCautionWords,
  hoursWords,
  settingWords,
  wouldDoWords,
} from '../chargers/fitWords.ts';
import type { Job } from '../job/job.ts';
import { chargerNeed } from './chargerNeed.ts';

/** Which of a shop's chargers a battery will want, in words, or what the shop lacks for it. */
export type ChargerSaid =
  | { name: string; set: string; hours: string; others: number; cautions: readonly string[] }
  | { wouldDo: string | null };

/**
 * The charger this job will want. What is busy now may be free by then: only what fits is asked. Some tenths of a second where
 * chargers run by themselves: each is simulated.
 *
 * @returns null where no charger is written down
 */
export function chargerSaid(chargers: readonly ShopCharger[], job: Job): ChargerSaid | null {
  if (chargers.length === 0) return null;
  const need = chargerNeed(job);
  const options = chargerOptions(chargers, need);
  const [best] = options;
  if (best && fits(best))
    return {
      name: best.charger.name,
      set: settingWords(best),
      hours: hoursWords(hoursOn(best, need)),
      others: options.filter(fits).length - 1,
      cautions: best.cautions.map(chargerCautionWords),
    };
  const wouldDo = whatWouldDo(options, need);
  return { wouldDo: wouldDo && wouldDoWords(wouldDo) };
}
