import type { FamilyKey, FamilyOdds } from '../diagnosis/practice/families.ts';
import type { Showing } from '../chargers/showing.ts';
import type { CcaStandard } from '../batteries/model.ts';
import type { ChargePlan } from '../charging/chargePlan.ts';
import type { LeadDecision } from './outcome.ts';
import type { Sediment } from './sediment.ts';
import type { CellFeel, RecoveryOutcome, RouteForecast, ToldStory } from './recoveryState.ts';
import type { WakeKey } from '../diagnosis/wakes.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import type { CellValues, ReadingRole, ReadingValues } from './reading.ts';
import type { Liquid } from './topUp.ts';

/** What a technician asks for. `stepId` names the step on the screen, so a stale page cannot act on another. */
export type JobCommand =
  | { type: 'acknowledge'; stepId: string }
  | { type: 'answerChecks'; stepId: string; answers: Record<string, boolean> }
  | { type: 'matchPack'; stepId: string; code: string; lot: string; sure?: boolean }
  | {
      type: 'matchAcid';
      stepId: string;
      lot: string;
      specificGravity: number;
      temperatureC: number;
      batteryC?: number;
      reason?: string;
      sure?: boolean;
    }
  | {
      type: 'confirmDone';
      stepId: string;
      temperatureC?: number;
      amountMl?: number;
      reason?: string;
      sure?: boolean;
    }
  | { type: 'topUp'; liquid: Liquid; cells: number[]; ml?: number; lot?: string; sure?: boolean }
  | { type: 'answerPorts'; stepId: string; ports: string[]; reason?: string }
  | { type: 'cutWait'; stepId: string; reason: string }
  | { type: 'skip'; stepId: string; reason: string }
  | { type: 'reopen'; stepId: string; reason: string }
  | {
      type: 'startCharge';
      /** One of the shop's chargers, and how it is set. */
      charger?: { id: string; setting?: string; program?: string };
      sure?: boolean;
      stepId: string;
      place: number;
      setA: number;
      setV: number;
      reason?: string;
    }
  | { type: 'planCharge'; stepId: string; plan: ChargePlan }
  | { type: 'pauseCharge'; stepId: string; reason: string }
  | { type: 'resumeCharge'; stepId: string; temperatureC: number }
  /** Taken off its charger and connected again, so that it starts anew. */
  | { type: 'reconnect'; stepId: string }
  /** Found without current since about a moment, ms; connected again now. */
  | { type: 'foundOff'; stepId: string; sinceAt: number }
  | { type: 'endCharge'; stepId: string; reason?: string; sure?: boolean }
  | {
      type: 'read';
      role: ReadingRole;
      values: ReadingValues;
      cells?: CellValues[];
      standard?: CcaStandard;
      showing?: Showing;
      /** Just off a charger, or driven here within the hour: surface charge. */
      fresh?: boolean;
      takenAt?: number;
      sure?: boolean;
    }
  | {
      type: 'correct';
      readingId: string;
      values: ReadingValues;
      cells?: CellValues[];
      standard?: CcaStandard;
      showing?: Showing;
      sure?: boolean;
      reason?: string;
    }
  | { type: 'tellStory'; stepId: string; story: ToldStory }
  | {
      type: 'chooseRoute';
      stepId: string;
      route: RouteKey;
      wake: WakeKey;
      forecast: RouteForecast | null;
      reason?: string;
    }
  | {
      type: 'wake';
      stepId: string;
      donorV?: number;
      donorAh?: number;
      leadM?: number;
      leadMm2?: number;
      chargerA: number;
      /** Which charger it is, in words. */
      charger?: string;
      donorTag?: string;
      reason?: string;
    }
  | { type: 'checkWake'; stepId: string; voltageV: number; feel: CellFeel[] }
  | { type: 'rinse'; stepId: string; sediment: Sediment; drainedMl: number; sure?: boolean }
  /** The discharge is left to the instrument that charges it afterwards. */
  | { type: 'testByInstrument'; stepId: string }
  | {
      type: 'startDischarge';
      stepId: string;
      currentA: number;
      cutoffV: number;
      temperatureC: number;
    }
  | { type: 'endDischarge'; stepId: string; minutes: number; endV: number }
  | { type: 'dropDischarge'; stepId: string; reason: string }
  | {
      type: 'giveOutcome';
      stepId: string;
      outcome: RecoveryOutcome;
      /** What it was in the end; null where nobody can say. */
      found?: FamilyKey | null;
      /** What it was taken for, where no route was chosen. */
      said?: FamilyOdds[];
      reason?: string;
    }
  | { type: 'giveVerdict'; stepId: string }
  | { type: 'handOver'; stepId: string; destination: 'customer' | 'shelf' }
  /** Its size was an estimate, and is known now: by a label that was found, or by somebody who knows it. */
  | { type: 'tellSize'; c20Ah: number }
  | { type: 'pause'; reason: string }
  | { type: 'resume' }
  | { type: 'note'; text: string }
  /** The refusal was a slip of the finger. */
  | { type: 'takeBackRefusal'; reason: string }
  | { type: 'escalate'; reason: string }
  | { type: 'leadDecide'; decision: LeadDecision; reason: string };

export type JobCommandType = JobCommand['type'];

/** Why a command was not carried out, in words to act on. `ask` means: say it again with `sure`. */
export class Refused extends Error {
  override readonly name = 'Refused';
  constructor(
    message: string,
    readonly code: 'out-of-order' | 'invalid' | 'ask' | 'forbidden' = 'invalid',
    readonly field?: string,
  ) {
    super(message);
  }
}
