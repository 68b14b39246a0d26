import { KEPT_UNITS, sayAllIn, type Units } from '../../core/quantities/shopUnits.ts';

/** The shop's units where no component asks: for what the server says no with. */
let units: Units = KEPT_UNITS;

export function setUnits({ temperatureUnit, volumeUnit }: Units): void {
  units = { temperatureUnit, volumeUnit };
}

/** What the server said, in the shop's units. */
export const heard = <T>(said: T): T => sayAllIn(said, units);
