import type { ShopCharger } from '../chargers/charger.ts';
import type { HouseRules } from '../house/rules.ts';

/** What the shop does its work with. */
export interface PlannedShop {
  rules: HouseRules;
  people: readonly { id: string; name: string; role: 'technician' | 'lead' }[];
  chargers: readonly ShopCharger[];
}

/** The place at an output of a charger; and one where an instrument charges. */
export const outputPost = (chargerId: string, output: number): string => `${chargerId}#${output}`;
export const placePost = (place: number): string => `place#${place}`;
