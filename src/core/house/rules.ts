import type { Moment } from '../quantities/moment.ts';
import type { TemperatureUnit, VolumeUnit } from '../quantities/quantity.ts';
import type { WallStyle } from '../quantities/format.ts';
import { DEFAULT_SCALES, type SetScales } from './setScales.ts';
import { DEFAULT_STAKES, type Stakes } from '../diagnosis/stakes.ts';
import type { InstrumentSetting } from './instruments.ts';
import { DEFAULT_SCHOOLS, type SchoolChoices } from './schools.ts';

/** Reference temperatures of specific gravity in use, °C. */
export const SG_REFERENCES = [25, 20, 26.7] as const;
export type SgReference = (typeof SG_REFERENCES)[number];
export const PAPERS = ['A4', 'Letter'] as const;
export type Paper = (typeof PAPERS)[number];

export interface WorkingHours {
  from: number;
  to: number;
  days: readonly boolean[];
}

/** When one person is at the bench, where that is not whenever the shop is open. Minutes after midnight; Monday first. */
export interface PersonHours extends WorkingHours {
  personId: string;
  /** A break begins, and lasts so long, min; 0 for none. */
  breakFrom: number;
  breakMinutes: number;
}

/** Days on which somebody is away, the last included: `2026-03-10`. */
export interface Absence {
  personId: string;
  from: string;
  to: string;
}

/** How far a new shop has been set up, in this order. */
export const SET_UP_STEPS = ['shop', 'people', 'chargers', 'schools', 'air', 'done'] as const;
export type SetUpStep = (typeof SET_UP_STEPS)[number];

/** What this shop has decided, apart from any one battery. */
export interface HouseRules extends Required<WallStyle> {
  shopName: string;
  temperatureUnit: TemperatureUnit;
  /** Usual temperature of the bench, °C. */
  roomC: number;
  /** Charging places on the bench, numbered from 1. */
  places: number;
  /** Air the room's ventilation moves, m³/h, and the air the room holds, m³. */
  roomAirM3h: number;
  roomM3: number;
  /** What the mains gives chargers, A, at its voltage, V. */
  mainsA: number;
  mainsV: number;
  /** How many of each the shop has. */
  loadTesters: number;
  dischargeLoads: number;
  hydrometers: number;
  /** Days on which the shop is closed, besides those of its week. */
  closedOn: string[];
  /** Who is not there whenever the shop is open. */
  personHours: PersonHours[];
  absences: Absence[];
  /** Months that the batteries of customers are asked in for their service, 1 to 12. */
  serviceMonths: number[];
  /** Usual temperature where stock is kept, °C. */
  shelfC: number;
  /** Temperature specific gravities are printed at, °C: 25 here, 20 in much of Europe, 80 °F in the US. */
  sgReferenceC: SgReference;
  volumeUnit: VolumeUnit;
  paper: Paper;
  /** When hands are at the bench, minutes after midnight; the days of the week, Monday first. */
  hours: WorkingHours;
  schools: SchoolChoices;
  /** What time and batteries are worth; decides which route pays. */
  stakes: Stakes;
  /** Recoveries that ended before do not teach the diagnosis; null where all do. */
  learnSince: Moment | null;
  /** How alike the batteries of a set must be. */
  sets: SetScales;
  /** Years for which each half minute of a charge on an instrument is kept; after that its envelope is, a quarter of an hour at a time. */
  samplesYears: number;
  /** Room for pictures beside the data, GB. */
  picturesGb: number;
  /** The step of the set-up that comes next. */
  setUp: SetUpStep;
  /** Instruments that answer over the network; places without one are run by hand. */
  instruments: InstrumentSetting[];
}

/** How a shop says times and amounts, and on what it prints. */
export type ShopStyle = Pick<
  HouseRules,
  'timeZone' | 'clock' | 'dateOrder' | 'temperatureUnit' | 'volumeUnit' | 'paper'
>;

export const DEFAULT_RULES: HouseRules = {
  shopName: 'Our shop',
  timeZone: 'UTC',
  clock: '24h',
  dateOrder: 'day-first',
  temperatureUnit: 'C',
  roomC: 20,
  places: 8,
  roomAirM3h: 40,
  roomM3: 80,
  mainsA: 16,
  mainsV: 230,
  loadTesters: 1,
  dischargeLoads: 1,
  hydrometers: 1,
  closedOn: [],
  personHours: [],
  absences: [],
  serviceMonths: [4, 10],
  shelfC: 18,
  sgReferenceC: 25,
  volumeUnit: 'mL',
  paper: 'A4',
  hours: { from: 8 * 60, to: 18 * 60, days: [true, true, true, true, true, true, false] },
  schools: DEFAULT_SCHOOLS,
  stakes: DEFAULT_STAKES,
  learnSince: null,
  sets: DEFAULT_SCALES,
  samplesYears: 2,
  picturesGb: 5,
  setUp: 'done',
  instruments: [],
};
