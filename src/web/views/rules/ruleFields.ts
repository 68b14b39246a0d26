import {
  celsiusFromFahrenheit,
  fahrenheitFromCelsius,
  type TemperatureUnit,
} from '../../../core/quantities/quantity.ts';
import type { SetScales } from '../../../core/house/setScales.ts';

/** The rules that are typed as numbers, and what this page calls them. */

export type NumberRule =
  | 'roomC'
  | 'shelfC'
  | 'places'
  | 'roomAirM3h'
  | 'roomM3'
  | 'mainsA'
  | 'mainsV'
  | 'loadTesters'
  | 'dischargeLoads'
  | 'hydrometers'
  | 'samplesYears'
  | 'picturesGb';
export type StakeRule = 'pricePerAh' | 'handsPerHour' | 'placePerDay';
export const STAKES: readonly { field: StakeRule; label: string }[] = [
  { field: 'pricePerAh', label: 'A new battery, per Ah' },
  { field: 'handsPerHour', label: 'Work, per hour' },
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
export const NUMBERS: readonly { field: NumberRule; label: string; degrees?: boolean }[] = [
  { field: 'roomC', label: 'Usual bench temperature', degrees: true },
  { field: 'shelfC', label: 'Usual shelf temperature', degrees: true },
  { field: 'places', label: 'Charging places' },
  { field: 'roomM3', label: 'Air in the room, m³' },
  { field: 'roomAirM3h', label: 'Air the room moves, m³/h' },
  { field: 'mainsA', label: 'Fuse of the chargers, A' },
  { field: 'mainsV', label: 'Mains voltage, V' },
  { field: 'loadTesters', label: 'Load testers' },
  { field: 'dischargeLoads', label: 'Loads for capacity tests' },
  { field: 'hydrometers', label: 'Hydrometers' },
  { field: 'samplesYears', label: 'Charge curves in full for, years' },
  { field: 'picturesGb', label: 'Room for pictures, GB' },
];

export const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** A temperature as the form shows it, in this unit. */
const degreesText = (celsius: number, unit: TemperatureUnit): string =>
  String(Math.round(10 * (unit === 'F' ? fahrenheitFromCelsius(celsius) : celsius)) / 10);

/** A number as it is typed, as it is kept. */
export function keptNumber(
  { degrees = false }: (typeof NUMBERS)[number],
  text: string,
  unit: TemperatureUnit,
): number {
  const value = numberOf(text);
  return degrees && unit === 'F' ? Math.round(100 * celsiusFromFahrenheit(value)) / 100 : value;
}

/** A number as it is kept, as the form shows it. */
export const typedNumber = (
  { degrees = false }: (typeof NUMBERS)[number],
  value: number,
  unit: TemperatureUnit,
): string => (degrees ? degreesText(value, unit) : String(value));

/** Name of the draft in which rules that are typed and not kept yet lie. */
export const RULES_DRAFT = 'rules';
