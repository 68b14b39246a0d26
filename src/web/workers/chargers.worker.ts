import { expose } from 'comlink';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import type { Job } from '../../core/job/job.ts';
import { chargerSaid, type ChargerSaid } from '../../core/recovery/chargerLine.ts';
import type { ChargerOption } from '../../core/chargers/fit.ts';
import { chargerOffer, type ChargerOffer, wakeOffer } from '../../core/recovery/chargerOffer.ts';

const api = {
  said: (chargers: readonly ShopCharger[], job: Job): ChargerSaid | null =>
    chargerSaid(chargers, job),
  offer: (...asked: Parameters<typeof chargerOffer>): ChargerOffer => chargerOffer(...asked),
  wake: (...asked: Parameters<typeof wakeOffer>): ChargerOption[] => wakeOffer(...asked),
};

export type ChargersWorker = typeof api;
expose(api);
