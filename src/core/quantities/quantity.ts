/** The quantities a technician types or reads. SI inside, except temperature (°C), resistance (mΩ) and mass (g) and volume (mL), which are kept as the bench says them. */
export type QuantityKey =
  | 'voltage'
  | 'current'
  | 'temperature'
  | 'specificGravity'
  | 'resistance'
  | 'crankingCurrent'
  | 'frequency'
  | 'mass'
  | 'volume';

export interface Quantity {
  key: QuantityKey;
  /** Word used on screen and paper. */
  label: string;
  /** Symbol of the stored unit. */
  unit: string;
  decimals: number;
  /** A value outside is not a reading of this quantity on a shop bench, whatever the battery. */
  possible: readonly [number, number];
}

export const QUANTITIES: Readonly<Record<QuantityKey, Quantity>> = {
  voltage: { key: 'voltage', label: 'Volts', unit: 'V', decimals: 2, possible: [-60, 60] },
  current: { key: 'current', label: 'Amps', unit: 'A', decimals: 2, possible: [-2000, 2000] },
  temperature: {
    key: 'temperature',
    label: 'Temperature',
    unit: '°C',
    decimals: 0,
    possible: [-40, 90],
  },
  specificGravity: {
    key: 'specificGravity',
    label: 'SG',
    unit: '',
    decimals: 3,
    possible: [1.0, 1.5],
  },
  resistance: {
    key: 'resistance',
    label: 'Resistance',
    unit: 'mΩ',
    decimals: 1,
    possible: [0, 100_000],
  },
  crankingCurrent: {
    key: 'crankingCurrent',
    label: 'CCA',
    unit: 'A',
    decimals: 0,
    possible: [0, 3000],
  },
  frequency: {
    key: 'frequency',
    label: 'Pulses a second',
    unit: 'Hz',
    decimals: 1,
    possible: [0, 100_000],
  },
  mass: { key: 'mass', label: 'Mass', unit: 'g', decimals: 0, possible: [0, 500_000] },
  volume: { key: 'volume', label: 'Volume', unit: 'mL', decimals: 0, possible: [0, 1_000_000] },
};

export type TemperatureUnit = 'C' | 'F';
export type VolumeUnit = 'mL' | 'oz';

/** Millilitres in a US fluid ounce, exact. */
export const ML_PER_OUNCE = 29.5735295625;
/** Millilitres in a US gallon, exact. */
export const ML_PER_GALLON = 128 * ML_PER_OUNCE;
/** Grams in an avoirdupois pound, and in its ounce, exact. */
export const GRAMS_PER_POUND = 453.59237;
export const GRAMS_PER_OUNCE = GRAMS_PER_POUND / 16;

/** °F → °C, exact. */
export function celsiusFromFahrenheit(fahrenheit: number): number {
  return ((fahrenheit - 32) * 5) / 9;
}

/** °C → °F, exact. */
export function fahrenheitFromCelsius(celsius: number): number {
  return (celsius * 9) / 5 + 32;
}
