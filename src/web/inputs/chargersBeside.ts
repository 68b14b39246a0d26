import { type Remote, wrap } from 'comlink';
import { startTransition, useEffect, useMemo, useState } from 'react';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import type { Job } from '../../core/job/job.ts';
import type { ChargerSaid } from '../../core/recovery/chargerLine.ts';
import type { ChargerOption } from '../../core/chargers/fit.ts';
import type * as Offers from '../../core/recovery/chargerOffer.ts';
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

/** Something that no charge begins without: where the worker does not come it is worked out here, however long the page stands still. */
interface Offering<Q, T> {
  beside: (api: Remote<ChargersWorker>, asked: Q) => Promise<T>;
  here: (offers: typeof Offers, asked: Q) => T;
}

const CHARGE: Offering<Parameters<typeof Offers.chargerOffer>, ChargerOffer> = {
  beside: (api, asked) => api.offer(...asked),
  here: (offers, asked) => offers.chargerOffer(...asked),
};
const WAKE: Offering<Parameters<typeof Offers.wakeOffer>, ChargerOption[]> = {
  beside: (api, asked) => api.wake(...asked),
  here: (offers, asked) => offers.wakeOffer(...asked),
};

/** The last answer, and to which question: what was offered stands while it is worked out anew, for whoever may show it. */
function useOffer<Q, T>(
  asked: Q | null,
  { beside, here }: Offering<Q, T>,
): { offer: T; to: Q } | null {
  const [answer, setAnswer] = useState<{ offer: T; to: Q } | null>(null);
  useEffect(() => {
    if (asked === null) return undefined;
    const { api, failed } = chargersWorker();
    return newest(
      Promise.race([beside(api, asked), failed]).catch(async () =>
        here(await import('../../core/recovery/chargerOffer.ts'), asked),
      ),
      (offer) => setAnswer({ offer, to: asked }),
    );
  }, [asked, beside, here]);
  return answer;
}

/**
 * The chargers a charge that begins is offered. Null until they are known.
 *
 * @param inUse tags of the batteries each charger is on, by its id; as text, so that a new list of the same changes nothing
 */
export function useChargerOffer(
  chargers: readonly ShopCharger[] | undefined,
  job: Job,
  day: string,
  inUse: string,
): ChargerOffer | null {
  const asked = useMemo(
    (): Parameters<typeof Offers.chargerOffer> | null =>
      chargers?.length
        ? [chargers, job, day, new Map(JSON.parse(inUse) as [string, string[]][])]
        : null,
    [chargers, job, day, inUse],
  );
  const answer = useOffer(asked, CHARGE);
  return chargers?.length === 0 ? NO_CHARGERS : (answer?.offer ?? null);
}

/**
 * The chargers that may wake a battery. Null until they are known: at other volts it may be others, or none.
 *
 * @param donorV what the clips read beside a donor, V; null where there is none
 * @param donorAh what the donor holds, Ah
 */
export function useWakeOffer(
  chargers: readonly ShopCharger[] | undefined,
  job: Job,
  donorV: number | null,
  donorAh: number,
  day: string,
): ChargerOption[] | null {
  const asked = useMemo(
    (): Parameters<typeof Offers.wakeOffer> | null =>
      chargers?.length ? [chargers, job, donorV, donorAh, day] : null,
    [chargers, job, donorV, donorAh, day],
  );
  const answer = useOffer(asked, WAKE);
  return answer?.to === asked ? answer.offer : null;
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
