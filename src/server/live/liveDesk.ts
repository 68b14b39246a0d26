import type { AnswerClock, MeasureWith, SkipStage, StartLive } from '../../contract/asks.ts';
import type {
  ChargeWire,
  Measured,
  TriedInstrument,
  PulseRecord,
} from '../../contract/chargeWire.ts';
import type { InstrumentSetting } from '../../core/house/instruments.ts';
import type { JobCommand } from '../../core/job/commands.ts';

/** A charge under way as whoever watches it knows it, ahead of what lies in the file. */
export type ChargeStanding = Pick<
  ChargeWire,
  'mode' | 'trip' | 'stretches' | 'run' | 'startedAt' | 'left'
>;

/**
 * What requests may ask of whoever watches the charges and speaks to the instruments. In a server that is another
 * process, which no request can keep from its looks; in a test it may be the same one.
 */
export interface LiveDesk {
  /** Begins the charge of a job: checks the clips before any current flows, then lets the plan run. */
  start(jobId: string, body: StartLive): Promise<{ chargeId: string }>;
  /** What must hold before a person's command is decided: current goes on again only where it may. */
  before(jobId: string, command: JobCommand): Promise<{ ahIn: number } | null>;
  /** After a person's command: the instrument follows the job. */
  sync(jobId: string): Promise<void>;
  skipStage(chargeId: string, body: SkipStage): Promise<{ chargeId: string }>;
  standing(chargeId: string): Promise<ChargeStanding | null>;
  /** A record of the pulses that a running charge gives; null where its instrument keeps none, or nothing pulses now. */
  waveform(chargeId: string): Promise<PulseRecord | null>;
  measure(request: MeasureWith): Promise<Measured>;
  tryOut(setting: InstrumentSetting): Promise<TriedInstrument>;
  /** Only a demo's clock changes speed. */
  setRate(rate: number): Promise<void>;
  /** A person says which is right, where bench time and the machine's clock have parted. */
  answerClock(body: AnswerClock): Promise<void>;
}

/** The methods of a desk, for a line that hands them on by name. */
export const DESK_METHODS = [
  'start',
  'before',
  'sync',
  'skipStage',
  'standing',
  'waveform',
  'measure',
  'tryOut',
  'setRate',
  'answerClock',
] as const satisfies readonly (keyof LiveDesk)[];
