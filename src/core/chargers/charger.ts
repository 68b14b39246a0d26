import type { ChemistryKey } from '../batteries/chemistry.ts';

/**
 * The chargers a shop has: what can be set on one, what it does by itself, and what it shows. Most are no instruments:
 * a person turns a knob and looks at a light.
 */

export const CHARGER_KINDS = [
  'adjustable',
  'fixed',
  'automatic',
  'recovery',
  'maintainer',
  'taper',
] as const;
export type ChargerKind = (typeof CHARGER_KINDS)[number];

/** What a kind is, what it is good for, and what it does when nobody watches. */
export const CHARGER_KIND_WORDS: Readonly<
  Record<ChargerKind, { name: string; short: string; goodFor: string; beware: string }>
> = {
  adjustable: {
    name: 'Adjustable current and voltage',
    short: 'Adjustable',
    goodFor: 'First charges, waking, slow restore, a stubborn flooded battery.',
    beware: 'Nothing stops it but you.',
  },
  fixed: {
    name: 'Fixed settings',
    short: 'Fixed',
    goodFor: 'Waking beside a donor at 10 A; a big battery overnight at 2 A.',
    beware:
      'No voltage limit: read the voltage, and switch it off. Boost never on new or sealed stock.',
  },
  automatic: {
    name: 'Automatic, by lights',
    short: 'Automatic',
    goodFor: 'First and full charges without a watch.',
    beware:
      'It does not start on a deeply discharged battery. Green is its own opinion: rest the battery and measure.',
  },
  recovery: {
    name: 'Automatic with a recovery program',
    short: 'Recovery',
    goodFor: 'Deeply discharged AGM batteries, sulfated batteries.',
    beware: 'Its program may run for days. Read how long on its own sheet.',
  },
  maintainer: {
    name: 'Maintainer',
    short: 'Maintainer',
    goodFor: 'Shelf and display stock; small batteries over days.',
    beware: 'It never finishes a large or a sulfated battery.',
  },
  taper: {
    name: 'Taper, unregulated',
    short: 'Taper',
    goodFor: 'A flooded battery, while you watch.',
    beware: 'No voltage limit: it boils a battery that is left on it.',
  },
};

/** One position of its switch. */
export interface ChargerSetting {
  name: string;
  /** Nominal current, A; a taper charger's at 12.5 V. */
  amps: number;
  /** For starting an engine, not for charging. */
  boost: boolean;
}

/** What it does by itself with a 12 V battery. */
export interface ChargerProgram {
  name: string;
  families: readonly ChemistryKey[];
  /** Highest voltage at 25 °C, V per 12 V battery; null where nothing limits it. */
  ceilingV: number | null;
  /** Does the ceiling fall as it gets warmer? */
  compensated: boolean;
  ends: 'stops' | 'floats' | 'never';
  /** Before it charges, a deeply discharged battery gets bursts of the charger's current for so long, up to the ceiling. */
  bursts?: { hours: number; perSecond: number; peakOverMean: number };
}

export type ChargerStanding = 'ready' | 'out-of-order' | 'lent';

/** What a charger shows while it charges. */
export const SHOWN = ['amps', 'volts', 'percent', 'lights'] as const;
export type Shown = (typeof SHOWN)[number];

/** What a light means by the charger's own sheet. */
export const LIGHT_MEANINGS = ['charging', 'full', 'error', 'waiting'] as const;
export type LightMeaning = (typeof LIGHT_MEANINGS)[number];

/** A light and what the charger's sheet says it means. */
export interface ChargerLight {
  light: string;
  means: LightMeaning;
}

/** Days on which a charger is not here, the first and the last among them, YYYY-MM-DD: at its test, lent for a day. */
export interface Outage {
  from: string;
  to: string;
  why: string;
}

/** What a shop writes down of a charger. */
export interface ChargerFacts {
  /** As on its sticker. */
  name: string;
  kind: ChargerKind;
  /** Where it hangs. */
  where: string;
  /** Nominal voltages it charges. */
  volts: readonly (6 | 12)[];
  /** Positions of its switch; empty where the current is set freely. */
  settings: readonly ChargerSetting[];
  /** Where current and voltage are set freely: the range, A, and the highest voltage, V. */
  range: { leastA: number; mostA: number; mostV: number } | null;
  programs: readonly ChargerProgram[];
  /** It starts on a 12 V battery from this voltage; half of it on a 6 V one. */
  startsV: number;
  shows: readonly Shown[];
  lights: readonly ChargerLight[];
  /** Batteries it charges at a time, each on its own output. */
  outputs: number;
  standing: ChargerStanding;
  /** Known beforehand; the day plan goes by it. */
  outages: readonly Outage[];
}

/** Why a charger is away on a day; null where it is here. */
export const awayOn = ({ outages }: Pick<ChargerFacts, 'outages'>, day: string): Outage | null =>
  outages.find((o) => o.from <= day && day <= o.to) ?? null;

export interface ShopCharger extends ChargerFacts {
  id: string;
  /** Since when it stands as it does, ms since the epoch. */
  standingSince: number;
}

/** What a charger gives and shows by itself, as it was when a charge began. */
export interface OwnWay {
  kind: ChargerKind;
  amps: number;
  program: ChargerProgram | null;
  /** It starts on a 12 V battery from this voltage. */
  startsV: number;
  shows: readonly Shown[];
  lights: readonly ChargerLight[];
}

/** Which charger a charge runs on, and how it was set. Kept with the charge. */
export interface ChargerInUse {
  id: string;
  name: string;
  /** Position of its switch, where it has one. */
  setting?: string;
  program?: string;
  /** Its light and voltage are read where it shows no current. */
  showsAmps: boolean;
  /** Absent where it is set freely, and in charges older than the keeping of it. */
  own?: OwnWay;
}
