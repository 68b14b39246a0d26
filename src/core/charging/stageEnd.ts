import { formatDuration } from '../quantities/format.ts';

/** Why a stage of a charge plan was over: V, A, Ah, s. */
export type StageEnd =
  | { by: 'time'; s: number }
  | { by: 'ah'; ah: number }
  | { by: 'volts'; voltageV: number }
  | { by: 'tail'; currentA: number; forS: number }
  | { by: 'volts-flat'; overS: number }
  | { by: 'sg-flat'; readings: number }
  | { by: 'cut-off'; limitV: number }
  | { by: 'hand'; reason: string }
  /** As an earlier version said it. */
  | { by: 'said'; text: string };

/** The clause that follows “It ended when”: `the current had tailed off to 0.20 A …`; by hand, `by hand: Place needed`. */
export function stageEndWords(end: StageEnd): string {
  switch (end.by) {
    case 'time':
      return `its time of ${formatDuration(end.s)} was over`;
    case 'ah':
      return `${end.ah.toFixed(1)} Ah had gone in`;
    case 'volts':
      return `${end.voltageV.toFixed(2)} V was reached`;
    case 'tail':
      return `the current had tailed off to ${end.currentA.toFixed(2)} A and stood there for ${formatDuration(end.forS)}`;
    case 'volts-flat':
      return `the volts had not risen for ${formatDuration(end.overS)}`;
    case 'sg-flat':
      return `${end.readings} SG readings an hour apart agreed`;
    case 'cut-off':
      return `the cut-off of ${end.limitV.toFixed(2)} V was reached`;
    case 'hand':
      return `by hand: ${end.reason}`;
    case 'said':
      return end.text;
  }
}
