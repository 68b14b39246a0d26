import { expose } from 'comlink';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import type { Job } from '../../core/job/job.ts';
import { chargerSaid, type ChargerSaid } from '../../core/recovery/chargerLine.ts';
import { chargerOffer, type ChargerOffer } from '../../core/recovery/chargerOffer.ts';

const api = {
  said: (chargers: readonly ShopCharger[], job: Job): ChargerSaid | null =>
    chargerSaid(chargers, job),
  offer: (...asked: Parameters<typeof chargerOffer>): ChargerOffer => chargerOffer(...asked),
};

export type ChargersWorker = typeof api;
expose(api);
