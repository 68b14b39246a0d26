/** What an instrument on the bench does. */
export type InstrumentKind = 'charger' | 'load' | 'meter' | 'hydrometer' | 'analyser' | 'scale';

export const INSTRUMENT_KINDS: Readonly<Record<InstrumentKind, string>> = {
  charger: 'Charger or supply',
  load: 'Electronic load',
  meter: 'Bench meter',
  hydrometer: 'Hydrometer',
  analyser: 'Battery analyser',
  scale: 'Scale',
};

/** An instrument as the house rules know it: where it answers SCPI over TCP, and which places its outputs serve. */
export interface InstrumentSetting {
  id: string;
  name: string;
  kind: InstrumentKind;
  host: string;
  port: number;
  /** Bench place of its first output, and how many outputs it has. A hand-held one has output 1 for every place. */
  firstPlace: number;
  outputs: number;
  /** Most it may be asked for, A and V, and the least volts it starts from. */
  mostA: number;
  mostV: number;
  leastStartV: number;
}

/** The instrument of a kind that serves a place, and which of its outputs does. */
export function instrumentAt(
  instruments: readonly InstrumentSetting[],
  kind: InstrumentKind,
  place: number,
): { setting: InstrumentSetting; output: number } | null {
  const setting = instruments.find(
    (i) => i.kind === kind && place >= i.firstPlace && place < i.firstPlace + i.outputs,
  );
  return setting ? { setting, output: place - setting.firstPlace + 1 } : null;
}
