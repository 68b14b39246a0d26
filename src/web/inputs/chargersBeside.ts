import { type Remote, wrap } from 'comlink';
import { startTransition, useEffect, useState } from 'react';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import type { Job } from '../../core/job/job.ts';
import type { ChargerSaid } from '../../core/recovery/chargerLine.ts';
import type { ChargerOffer } from '../../core/recovery/chargerOffer.ts';
import type { ChargersWorker } from '../workers/chargers.worker.ts';

// Which charger fits is worked out beside the page: each is simulated.

interface Beside {
  api: Remote<ChargersWorker>;
  /** Never ends well: its program did not come. */
  failed: Promise<never>;
}
const NO_CHARGERS: ChargerOffer = { choices: [], wouldDo: null };

let beside: Beside | null = null;
/** One worker for the page, started when it is first asked. */
function chargersWorker(): Beside {
  if (beside) return beside;
  const worker = new Worker(new URL('../workers/chargers.worker.ts', import.meta.url), {
    type: 'module',
  });
  const failed = new Promise<never>((_, fail) => {
    worker.addEventListener('error', () => {
      beside = null;
      fail(new Error('The chargers cannot be worked out beside the page.'));
    });
  });
  failed.catch(() => undefined);
  return (beside = { api: wrap<ChargersWorker>(worker), failed });
}

/** Which charger a job will want. Null until it is known. */
export function useChargerSaid(
  chargers: readonly ShopCharger[] | undefined,
  job: Job,
): ChargerSaid | null {
  const [said, setSaid] = useState<ChargerSaid | null>(null);
  useEffect(() => {
    if (!chargers?.length) return undefined;
    const { api, failed } = chargersWorker();
    // Where it fails nothing is said of a charger; it is asked for once more when the charge begins.
    return newest(Promise.race([api.said(chargers, job), failed]), setSaid);
  }, [chargers, job]);
  return said;
}

/**
 * The chargers a charge that begins is offered. Null until they are known; what was offered stands while it is worked out anew.
 *
 * @param inUse tags of the batteries each charger is on, by its id; as text, so that a new list of the same changes nothing
 */
export function useChargerOffer(
  chargers: readonly ShopCharger[] | undefined,
  job: Job,
  day: string,
  inUse: string,
): ChargerOffer | null {
  const [offer, setOffer] = useState<ChargerOffer | null>(null);
  useEffect(() => {
    if (!chargers?.length) return undefined;
    const tags = new Map(JSON.parse(inUse) as [string, string[]][]);
    const { api, failed } = chargersWorker();
    // Without an offer no charge begins: then it is worked out here, however long the page stands still.
    const here = async () =>
      (await import('../../core/recovery/chargerOffer.ts')).chargerOffer(chargers, job, day, tags);
    return newest(
      Promise.race([api.offer(chargers, job, day, tags), failed]).catch(here),
      setOffer,
    );
  }, [chargers, job, day, inUse]);
  return chargers?.length === 0 ? NO_CHARGERS : offer;
}

/** Takes an answer unless it was asked anew meanwhile. @returns says so */
function newest<T>(answer: Promise<T>, take: (value: T) => void): () => void {
  let over = false;
  answer
    .then((value) => {
      if (!over) startTransition(() => take(value));
    })
    .catch(() => undefined);
  return () => {
    over = true;
  };
}
