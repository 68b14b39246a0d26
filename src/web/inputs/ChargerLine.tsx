import { type Remote, wrap } from 'comlink';
import { startTransition, useEffect, useState } from 'react';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import type { Job } from '../../core/job/job.ts';
import type { ChargerSaid } from '../../core/recovery/chargerLine.ts';
import { useChargers } from '../line/queries.ts';
import type { ChargersWorker } from '../workers/chargers.worker.ts';

let beside: Remote<ChargersWorker> | null = null;
/** One worker for the page, started when it is first asked. */
const chargersWorker = (): Remote<ChargersWorker> =>
  (beside ??= wrap<ChargersWorker>(
    new Worker(new URL('../workers/chargers.worker.ts', import.meta.url), { type: 'module' }),
  ));

/** Which charger a job will want: worked out beside the page, for each charger is simulated. Null until it is known. */
function useChargerSaid(chargers: readonly ShopCharger[] | undefined, job: Job) {
  const [said, setSaid] = useState<ChargerSaid | null>(null);
  useEffect(() => {
    if (!chargers?.length) return undefined;
    let over = false;
    void chargersWorker()
      .said(chargers, job)
      .then((answer) => {
        if (!over) startTransition(() => setSaid(answer));
      })
      // Nothing is said of a charger then; it is asked for once more when the charge begins.
      .catch(() => undefined);
    return () => {
      over = true;
    };
  }, [chargers, job]);
  return said;
}

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
