import { LOAD_TEST_S, loadTestMinimumV } from '../../capacity/loadTest.ts';
import { type Feature, fullOf, type Sound } from './features.ts';
import type { FeatureKey } from './table.ts';

/** A plain rule of the trade and how this battery stands to it. */
export interface TradeRule {
  key: 'dead-cell' | 'sulfated' | 'failing-cell' | 'load' | 'reversed';
  /** Volts of this battery, or SG, that the rule draws its line at. */
  line: number;
  to: number | null;
  state: 'holds' | 'no' | 'not-measured';
}

/** A dead cell takes its whole 2.1 V away; sulfate takes this much, V for 12 V; a failing cell lies this far below the others. */
const DEAD_CELL_V = 1.6;
const SULFATED_V = [0.08, 0.35] as const;
const FAILING_SG = 0.05;
/** The load line speaks of a charged battery, V for 12 V. */
const CHARGED_V = 12.4;

/** The rules that decide most, each with what this battery says to it. */
export function tradeRules(
  sound: Sound,
  features: readonly Feature[],
  temperatureC: number,
  open: boolean,
): TradeRule[] {
  const read = new Map<FeatureKey, number>(features.map((f) => [f.key, f.value]));
  const state = (value: number | undefined, holds: (v: number) => boolean): TradeRule['state'] =>
    value === undefined ? 'not-measured' : holds(value) ? 'holds' : 'no';
  const volts = (for12V: number): number => (for12V * sound.cells) / 6;
  const full = 6 * fullOf(sound).cellV;
  const short = read.get('short');
  const arrival = read.get('volts');
  const load =
    read.get('loadAfter') ??
    (arrival !== undefined && arrival >= CHARGED_V ? read.get('load') : undefined);
  const least = (6 / sound.cells) * loadTestMinimumV(temperatureC, sound.cells);
  const rules: TradeRule[] = [
    {
      key: 'dead-cell',
      line: volts(full - 2.1),
      to: null,
      state: state(short, (v) => v >= DEAD_CELL_V),
    },
    {
      key: 'sulfated',
      line: volts(full - SULFATED_V[1]),
      to: volts(full - SULFATED_V[0]),
      state: state(short, (v) => v >= SULFATED_V[0] && v <= SULFATED_V[1]),
    },
    { key: 'load', line: volts(least), to: LOAD_TEST_S, state: state(load, (v) => v < least) },
    { key: 'reversed', line: 0, to: null, state: state(arrival, (v) => v < 0) },
  ];
  if (open)
    rules.splice(2, 0, {
      key: 'failing-cell',
      line: FAILING_SG,
      to: null,
      state: state(read.get('spreadAfter'), (v) => v >= FAILING_SG),
    });
  return rules;
}
