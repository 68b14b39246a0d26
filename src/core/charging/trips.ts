/**
 * What may stop a charge, be said while it runs, or keep it from starting, with the figures that tell why: V, A, °C, Ah, s.
 * The words are made where they are read (`tripWords.ts`).
 */
export interface TripFigures {
  // Guards over an instrument.
  hot: { temperatureC: number; limitC: number };
  'heating-fast': { riseC: number };
  reversed: { voltageV: number };
  'over-volts': { voltageV: number; mostV: number };
  silent: { silentS: number };
  'frozen-reading': { readings: number };
  /** Next to none of what was asked for; of a pulse stage, how long no burst came and how often one was due. */
  'no-current': { askedA: number; burst?: { quietS: number; everyS: number } };
  /** Either what it stands at, or between what it moved. */
  'no-rise': { ah: number; standsV?: number; lowestV?: number; highestV?: number };
  'low-plateau': { voltageV: number; shortV: number };
  'gassing-early': { voltageV: number; forS: number; ah: number; missingAh: number };
  /** Over its limit, or over the room. */
  warm: { temperatureC: number; limitC?: number; overRoomC?: number };
  'over-time': { ranS: number; plannedS: number };
  // Around an instrument.
  'output-off': Record<string, never>;
  'still-on': { currentA: number; voltageV: number };
  'not-recorded': Record<string, never>;
  interrupted: { place: number; instrument: boolean };
  // By readings that a person takes.
  'hand-hot': { temperatureC: number; limitC: number };
  'hand-heating-fast': { riseC: number };
  /** `suspect`: one that is recovered and gets warm is suspected of a short. */
  'hand-warm': { temperatureC: number; limitC?: number; overRoomC?: number; suspect: boolean };
  'hand-over-ceiling': { voltageV: number; ceilingV: number; temperatureC: number };
  'hand-no-current': { setA: number };
  // At the clips, before any current.
  'clips-reversed': { voltageV: number };
  'clips-open': { voltageV: number };
  'clips-too-much': { voltageV: number; nominalV: number };
  'clips-half': { voltageV: number };
  'clips-low': { voltageV: number; startsV: number };
  'clips-warm': { temperatureC: number; coolC: number };
  'clips-frozen': { temperatureC: number };
  /** As an earlier version said it. */
  said: { title: string; text: string };
}

export type TripKey = keyof TripFigures;
export type TripOf<K extends TripKey> = K extends TripKey
  ? { key: K; figures: TripFigures[K] }
  : never;
export type Trip = TripOf<TripKey>;

export const trip = <K extends TripKey>(key: K, figures: TripFigures[K]): TripOf<K> =>
  ({ key, figures }) as TripOf<K>;
