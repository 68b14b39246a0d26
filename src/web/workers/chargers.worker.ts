import { expose } from 'comlink';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import type { Job } from '../../core/job/job.ts';
import { chargerSaid, type ChargerSaid } from '../../core/recovery/chargerLine.ts';

const api = {
  said: (chargers: readonly ShopCharger[], job: Job): ChargerSaid | null =>
    chargerSaid(chargers, job),
};

export type ChargersWorker = typeof api;
expose(api);
