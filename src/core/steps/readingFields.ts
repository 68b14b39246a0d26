import { type QuantityKey } from '../quantities/quantity.ts';
import { showsNoAmps } from '../job/chargeShowing.ts';
import type { ChargeState } from '../job/chargeState.ts';
import type { ReadingRole, ReadingValues } from '../job/reading.ts';

/** Which value is which quantity, and its word. */
export const VALUE_FIELDS: Readonly<
  Record<keyof ReadingValues, { quantity: QuantityKey; label: string }>
> = {
  voltageV: { quantity: 'voltage', label: 'Volts' },
  currentA: { quantity: 'current', label: 'Amps' },
  temperatureC: { quantity: 'temperature', label: 'Temperature' },
  specificGravity: { quantity: 'specificGravity', label: 'SG' },
  resistanceMilliohm: { quantity: 'resistance', label: 'Resistance' },
  ccaA: { quantity: 'crankingCurrent', label: 'CCA' },
  massG: { quantity: 'mass', label: 'Mass' },
  pulseHz: { quantity: 'frequency', label: 'Pulses a second' },
  peakA: { quantity: 'current', label: 'Peak amps' },
  meanA: { quantity: 'current', label: 'Mean amps' },
  beforeV: { quantity: 'voltage', label: 'Volts before' },
  afterV: { quantity: 'voltage', label: 'Volts after' },
};

/** What each kind of reading must hold, and may. */
export const ROLE_FIELDS: Readonly<
  Record<
    Exclude<ReadingRole, 'shelf'>,
    { must: readonly (keyof ReadingValues)[]; may: readonly (keyof ReadingValues)[] }
  >
> = {
  arrival: { must: ['voltageV'], may: ['temperatureC'] },
  charge: { must: ['voltageV', 'currentA', 'temperatureC'], may: ['specificGravity'] },
  light: { must: [], may: ['voltageV', 'temperatureC'] },
  rest: { must: ['voltageV'], may: ['temperatureC'] },
  load: { must: ['voltageV', 'temperatureC'], may: ['beforeV', 'afterV'] },
  analyser: { must: ['ccaA'], may: ['resistanceMilliohm', 'voltageV', 'temperatureC'] },
  cells: { must: [], may: ['temperatureC'] },
  hold: { must: ['voltageV'], may: ['temperatureC'] },
  spot: {
    must: [],
    may: [
      'voltageV',
      'currentA',
      'temperatureC',
      'specificGravity',
      'resistanceMilliohm',
      'ccaA',
      'massG',
      'pulseHz',
      'peakA',
      'meanA',
    ],
  },
};

/** What a reading of this job must hold: on a charger that shows no current none is asked for. */
export function fieldsFor(
  role: Exclude<ReadingRole, 'shelf'>,
  charge: ChargeState | null,
): (typeof ROLE_FIELDS)[Exclude<ReadingRole, 'shelf'>] {
  const { must, may } = ROLE_FIELDS[role];
  return role === 'charge' && showsNoAmps(charge)
    ? { must: must.filter((f) => f !== 'currentA'), may: [...may, 'currentA'] }
    : { must, may };
}
