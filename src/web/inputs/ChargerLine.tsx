import type { Job } from '../../core/job/job.ts';
import { useChargers } from '../line/queries.ts';
import { useChargerSaid } from './chargersBeside.ts';

/** Which of the shop's chargers this battery will want, or what it lacks for it; nothing where no charger is written down. */
export function ChargerLine({ job }: { job: Job }) {
  const chargers = useChargers().data?.chargers;
  const said = useChargerSaid(chargers, job);
  if (!chargers?.length) return null;
  // Two lines are kept free for it.
  if (!said) return <div className="min-h-13" />;
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
