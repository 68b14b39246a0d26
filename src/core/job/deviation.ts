import type { ChargerFault } from '../chargers/fit.ts';
import type { RouteKey } from '../diagnosis/routes.ts';

/** What was done otherwise than planned: which kind it is, and its figures. Words are made at the edge, by `deviationWords`. */
export type DeviationWhat =
  | { kind: 'step-skipped' }
  | { kind: 'step-reopened' }
  | { kind: 'wait-cut'; remainingS: number }
  /** Something outside the range its step asks for, °C. */
  | { kind: 'temperature'; label: string; temperatureC: number; lowC: number; highC: number }
  /** Acid off the SG that is wanted: at 25 °C, and as it was read. */
  | { kind: 'acid'; sg25: number; readSg: number; readC: number; wantedSg: number }
  /** An answer at ports that is tolerated; `answer` as the catalogue words it. */
  | { kind: 'ports'; answer: string; cells: number[] }
  | { kind: 'still-topped-up'; pass: number; cells: number[] }
  | { kind: 'ceiling'; setV: number; plannedV: number }
  | { kind: 'current'; setA: number; plannedA: number }
  /** A charger that something speaks against. */
  | { kind: 'charger'; name: string; faults: readonly ChargerFault[] }
  /** Found without current, for about so long. */
  | { kind: 'found-off'; hours: number }
  /** A charge that was ended before its readings agreed; `sentence` is what they said then. */
  | { kind: 'ended-early'; sentence: string }
  | { kind: 'route'; route: RouteKey }
  /** A battery was refused by a slip of the finger, and that was put right at once. */
  | { kind: 'refusal-taken-back' }
  /** A charge by hand that nobody looked at for so long. */
  | { kind: 'readings-missed'; missed: number; longestS: number }
  | { kind: 'overrun'; hours: number; expectedHours: number }
  /** A reading corrected after the battery was handed over. */
  | { kind: 'corrected-late'; label: string };
