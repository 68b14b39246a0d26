import type { DeviationWhat } from '../job/deviation.ts';
import type { Moment } from '../quantities/moment.ts';
import type { LookKind } from './case.ts';

/** What was done that marks go by, each noted when it happened and with nothing but its figures. */
export type Fact =
  /** Current was put through a battery that may never have any. */
  | { kind: 'charged-never' }
  /** Acid of another pack, or under broken foil, went in. */
  | { kind: 'filled-wrong'; what: 'pack' | 'foil' | 'acid' }
  /** A clip or a load made a spark while gas stood over the cells. */
  | { kind: 'spark'; byLoad: boolean; afterMin: number }
  | { kind: 'left-hot'; minutes: number }
  | { kind: 'boost' }
  /** It was charged with its cap strip pressed down: gas could not get out. */
  | { kind: 'strip-pressed' }
  /** Out of the door where a failure strands someone. */
  | { kind: 'sent-out'; strands: boolean }
  /** A question of the procedure was answered without a look, or otherwise than the look showed. */
  | { kind: 'not-looked'; what: LookKind }
  | { kind: 'answered-otherwise'; what: LookKind }
  /** A value was entered that no instrument had shown, or that one had shown otherwise. */
  | { kind: 'not-measured'; value: string }
  | { kind: 'written-otherwise'; value: string; shown: number; written: number }
  /** What was done otherwise than planned, by the job's own record, with its reason. */
  | { kind: 'deviation'; what: DeviationWhat | string; reason: string }
  /** It lies too deep under its cut-off, V. */
  | { kind: 'overdischarged'; byV: number }
  | { kind: 'lost-water'; grams: number }
  /** A reading that was taken before the battery had rested. */
  | { kind: 'read-early' };

export interface FactAt {
  at: Moment;
  /** The step in hand then; empty once the job is over. */
  stepId: string;
  fact: Fact;
}
