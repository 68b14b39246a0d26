import { useMemo } from 'react';
import { chargerOptions, fits, hoursOn, whatWouldDo } from '../../core/chargers/fit.ts';
import {
  chargerCautionWords,
  hoursWords,
  settingWords,
  wouldDoWords,
} from '../../core/chargers/fitWords.ts';
import { chargerNeed } from '../../core/recovery/chargerNeed.ts';
import type { Job } from '../../core/job/job.ts';
import { useChargers } from '../line/queries.ts';

/** Which of the shop's chargers this battery will want, or what it lacks for it; nothing where no charger is written down. */
export function ChargerLine({ job }: { job: Job }) {
  const { data } = useChargers();
  const chargers = data?.chargers;
  const said = useMemo(() => {
    if (!chargers?.length) return null;
    const need = chargerNeed(job);
    // What is busy now may be free by then: only what fits is asked here.
    const options = chargerOptions(chargers, need);
    const [best] = options;
    const wouldDo = whatWouldDo(options, need);
    return best && fits(best)
      ? {
          name: best.charger.name,
          set: settingWords(best),
          hours: hoursWords(hoursOn(best, need)),
          others: options.filter(fits).length - 1,
          cautions: best.cautions.map(chargerCautionWords),
        }
      : { wouldDo: wouldDo && wouldDoWords(wouldDo) };
  }, [chargers, job]);
  if (!said) return null;
  if ('wouldDo' in said)
    return (
      <p className="rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2 text-lg">
        {said.wouldDo}
      </p>
    );
  return (
    <p className="text-lg">
      <span className="label block">Charger</span>
      <b className="font-label text-xl font-semibold">{said.name}</b>{' '}
      <span className="text-soft">
        {said.set}, {said.hours}
        {said.others > 0 &&
          `; ${said.others === 1 ? 'one other' : `${said.others} others`} would do`}
      </span>
      {said.cautions.map((caution) => (
        <span key={caution} className="block text-[15px] text-soft">
          ◆ {caution}
        </span>
      ))}
    </p>
  );
}
