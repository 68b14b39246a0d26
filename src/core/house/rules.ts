import type { TemperatureUnit } from '../quantities/quantity.ts';
import type { InstrumentSetting } from './instruments.ts';
import { DEFAULT_SCHOOLS, type SchoolChoices } from './schools.ts';

/** What this shop has decided, apart from any one battery. */
export interface HouseRules {
  shopName: string;
  /** IANA name; every time on screen and paper is said in it. */
  timeZone: string;
  temperatureUnit: TemperatureUnit;
  /** Usual temperature of the bench, °C. */
  roomC: number;
  /** Charging places on the bench, numbered from 1. */
  places: number;
  /** Air the room's ventilation moves, m³/h. */
  roomAirM3h: number;
  schools: SchoolChoices;
  /** Instruments that answer over the network; places without one are run by hand. */
  instruments: InstrumentSetting[];
}

export const DEFAULT_RULES: HouseRules = {
  shopName: 'Our shop',
  timeZone: 'UTC',
  temperatureUnit: 'C',
  roomC: 20,
  places: 8,
  roomAirM3h: 40,
  schools: DEFAULT_SCHOOLS,
  instruments: [],
};
