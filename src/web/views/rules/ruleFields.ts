import type { SetScales } from '../../../core/house/setScales.ts';

/** The rules that are typed as numbers, and what this page calls them. */

export type NumberRule =
  'roomC' | 'shelfC' | 'places' | 'roomAirM3h' | 'roomM3' | 'samplesYears' | 'picturesGb';
export type StakeRule = 'pricePerAh' | 'handsPerHour' | 'placePerDay';
export const STAKES: readonly { field: StakeRule; label: string }[] = [
  { field: 'pricePerAh', label: 'A new battery, per Ah' },
  { field: 'handsPerHour', label: 'Hands, per hour' },
  { field: 'placePerDay', label: 'A charging place, per day' },
];
export const SCALES: readonly { field: keyof SetScales; label: string }[] = [
  { field: 'ageYears', label: 'Age, years' },
  { field: 'capacity', label: 'Capacity, share' },
  { field: 'resistance', label: 'Resistance, share' },
  { field: 'restV', label: 'Rest voltage, V' },
  { field: 'limit', label: 'Limit for any two' },
];
export const numberOf = (text: string): number => Number(text.replace(',', '.'));
export const NUMBERS: readonly { field: NumberRule; label: string }[] = [
  { field: 'roomC', label: 'Usual bench temperature, °C' },
  { field: 'shelfC', label: 'Usual shelf temperature, °C' },
  { field: 'places', label: 'Charging places' },
  { field: 'roomM3', label: 'Air in the room, m³' },
  { field: 'roomAirM3h', label: 'Air the room moves, m³/h' },
  { field: 'samplesYears', label: 'Charge curves in full for, years' },
  { field: 'picturesGb', label: 'Room for pictures, GB' },
];

export const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
export const clockOf = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;

/** Name of the draft in which rules that are typed and not kept yet lie. */
export const RULES_DRAFT = 'rules';
