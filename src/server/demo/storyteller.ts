import { showingsOf } from '../../core/chargers/showing.ts';
import type { JobCommand } from '../../core/job/commands.ts';
import type { LeadDecision } from '../../core/job/outcome.ts';
import type { Job } from '../../core/job/job.ts';
import type { CauseKey } from '../../core/diagnosis/causes.ts';
import type { RouteKey } from '../../core/diagnosis/routes.ts';
import type { StoryKey } from '../../core/diagnosis/stories.ts';
import { handSettings } from '../../core/recovery/recovery.ts';
import type { FamilyKey } from '../../core/diagnosis/practice/families.ts';
import { familiesAtOnce } from '../../core/recovery/question.ts';
import { hoursOn } from '../../core/charging/progress.ts';
import type { Band } from '../../core/rehearsal/outlook.ts';
import type {
  ChargeForecast,
  RecoveryOutcome,
  RouteForecast,
  ToldStory,
} from '../../core/job/recoveryState.ts';
import type { WakeKey } from '../../core/diagnosis/wakes.ts';
import { stepById } from '../../core/plan/procedure.ts';
import { moduleOf } from '../../core/steps/registry.ts';

/**
 * One line of a demo story, `-60 read 13.58 1.20 24`: minutes from the demo's start, a verb, its words.
 * Stories are played through the same commands as a person's taps, so the demo's past is as true as its present.
 */
export interface StoryLine {
  minute: number;
  verb: string;
  words: string[];
}

export function readStoryLine(text: string): StoryLine[] {
  const [minute = '', verb = '', ...words] = text.split(' ');
  const line = { minute: Number(minute), verb, words };
  if (Number.isNaN(line.minute)) throw new Error(`A story line begins with minutes: “${text}”.`);
  if (verb !== 'ok') return [line];
  // `ok 3` does the next three steps the usual way, a minute apart.
  return Array.from({ length: Number(words[0] ?? 1) }, (_, i) => ({
    minute: line.minute + i,
    verb,
    words: [],
  }));
}

/** The lot of packs that stories fill from. */
const DEMO_LOT = 'L-2602';

/** The command a story line stands for in a settled job. */
export function commandOf({ verb, words }: StoryLine, job: Job): JobCommand {
  const stepId = job.state.current?.stepId ?? '';
  const n = words.map(Number);
  const text = words.join(' ');
  switch (verb) {
    case 'ok':
      return usual(job);
    case 'pack':
      return { type: 'matchPack', stepId, code: text, lot: DEMO_LOT };
    case 'acid':
      return {
        type: 'matchAcid',
        stepId,
        lot: words[0] ?? '',
        specificGravity: n[1] as number,
        temperatureC: n[2] as number,
        batteryC: n[3] as number,
      };
    case 'amount':
      return { type: 'confirmDone', stepId, amountMl: n[0] as number };
    case 'ports':
      return { type: 'answerPorts', stepId, ports: words };
    case 'arrival':
      return {
        type: 'read',
        role: 'arrival',
        values: {
          voltageV: n[0] as number,
          ...(n.length > 1 ? { temperatureC: n[1] as number } : {}),
        },
        sure: true,
      };
    case 'cells':
      return {
        type: 'read',
        role: 'cells',
        values: { temperatureC: n[0] as number },
        cells: n.slice(1).map((specificGravity) => ({ specificGravity })),
      };
    case 'analyser':
      return {
        type: 'read',
        role: 'analyser',
        values: { ccaA: n[0] as number },
        standard: job.plan.model.ccaStandard ?? 'EN',
      };
    case 'water':
      return {
        type: 'topUp',
        liquid: 'water',
        lot: words[0] ?? '',
        ml: n[1] as number,
        cells: n.slice(2),
      };
    case 'foil-broken':
      return { type: 'answerChecks', stepId, answers: { foil: false } };
    case 'charge':
      return { type: 'startCharge', stepId, place: n[0] as number, ...handSettings(job) };
    case 'read':
      return {
        type: 'read',
        role: 'charge',
        values: {
          voltageV: n[0] as number,
          currentA: n[1] as number,
          temperatureC: n[2] as number,
        },
        sure: true,
      };
    case 'light': {
      // `light Red`, or with volts and warmth beside it.
      const own = job.state.charge?.charger?.own;
      const showing = own && showingsOf(own).find((s) => s.light === words[0]);
      if (!showing) throw new Error(`This charge has no light ${text}.`);
      return {
        type: 'read',
        role: n.length > 1 ? 'charge' : 'light',
        values: n.length > 1 ? { voltageV: n[1] as number, temperatureC: n[2] as number } : {},
        showing,
      };
    }
    case 'correct': {
      const last = job.state.readings.at(-1);
      return {
        type: 'correct',
        readingId: last?.id ?? '',
        values: {
          voltageV: n[0] as number,
          currentA: n[1] as number,
          temperatureC: n[2] as number,
        },
      };
    }
    case 'full':
      return { type: 'endCharge', stepId };
    case 'full-anyway':
      return { type: 'endCharge', stepId, reason: text };
    case 'rest':
      return { type: 'read', role: 'rest', values: { voltageV: n[0] as number } };
    case 'load':
      return {
        type: 'read',
        role: 'load',
        values: {
          voltageV: n[0] as number,
          temperatureC: n[1] as number,
          ...(n.length > 2 ? { beforeV: n[2] as number, afterV: n[3] as number } : {}),
        },
        sure: true,
      };
    case 'verdict':
      return { type: 'giveVerdict', stepId };
    case 'handover':
      return { type: 'handOver', stepId, destination: words[0] === 'shelf' ? 'shelf' : 'customer' };
    case 'cut':
      return { type: 'cutWait', stepId, reason: text };
    case 'told':
      return { type: 'tellStory', stepId, story: toldBy(words) };
    case 'route':
      return chosenBy(stepId, job, words);
    case 'wake':
      return {
        type: 'wake',
        stepId,
        chargerA: n[0] as number,
        ...(n.length > 1
          ? {
              donorV: n[1] as number,
              donorAh: n[2] as number,
              leadM: n[3] as number,
              leadMm2: n[4] as number,
            }
          : {}),
      };
    case 'woken':
      return {
        type: 'checkWake',
        stepId,
        voltageV: n[0] as number,
        feel: Array.from({ length: job.plan.model.cells }, (_, k) =>
          k + 1 === n[1] ? ('hot' as const) : ('warm' as const),
        ),
      };
    case 'spot':
      return {
        type: 'read',
        role: 'spot',
        values: { [words[0] as 'massG']: n[1] as number },
        sure: true,
      };
    case 'looked':
      return {
        type: 'read',
        role: 'cells',
        values: { temperatureC: n[0] as number },
        cells: n.slice(1).map((specificGravity) => ({ specificGravity, level: 'mark' as const })),
        sure: true,
      };
    case 'discharge':
      return {
        type: 'startDischarge',
        stepId,
        currentA: n[0] as number,
        cutoffV: n[1] as number,
        temperatureC: n[2] as number,
      };
    case 'emptied':
      return { type: 'endDischarge', stepId, minutes: n[0] as number, endV: n[1] as number };
    case 'held':
      return {
        type: 'read',
        role: 'hold',
        values: { voltageV: n[0] as number, temperatureC: n[1] as number },
      };
    case 'skip':
      return { type: 'skip', stepId, reason: text };
    case 'becomes':
      return becameBy(stepId, job, words);
    case 'note':
      return { type: 'note', text };
    case 'lead':
      return {
        type: 'leadDecide',
        decision: words[0] as LeadDecision,
        reason: words.slice(1).join(' '),
      };
    default:
      throw new Error(`No story verb “${verb}”.`);
  }
}

/** `parked 120 3 - 0 -`: story, days, years, coldest, white post, wet mass; a dash where nobody knows. */
function toldBy(words: readonly string[]): ToldStory {
  const known = (word: string | undefined): number | null =>
    word === undefined || word === '-' ? null : Number(word);
  return {
    story: words[0] as StoryKey,
    standingDays: known(words[1]),
    ageYears: known(words[2]),
    coldestC: known(words[3]),
    whitePost: words[4] === '1',
    wetMassG: known(words[5]),
  };
}

/** `slow-restore parallel light 0.4 0.2 0.5 0.6 0.7 0.8 40 50 60 held Why`: route, wake, and what was forecast; `-` for no forecast. */
function chosenBy(stepId: string, job: Job, words: readonly string[]): JobCommand {
  const [route, wake, cause, ...rest] = words;
  const n = rest.slice(0, 9).map(Number);
  const reason = (cause === '-' ? rest : rest.slice(10)).join(' ');
  const forecast: RouteForecast | null =
    cause === '-'
      ? null
      : {
          cause: cause as CauseKey,
          causeOdds: n[0] as number,
          returns: n[1] as number,
          light: n[2] as number,
          capacity: { low: n[3] as number, middle: n[4] as number, high: n[5] as number },
          hours: { low: n[6] as number, middle: n[7] as number, high: n[8] as number },
          proposed: rest[9] === '-' ? null : (rest[9] as RouteKey),
          families: familiesAtOnce(job),
        };
  return {
    type: 'chooseRoute',
    stepId,
    route: route as RouteKey,
    wake: wake as WakeKey,
    forecast,
    ...(reason ? { reason } : {}),
  };
}

/** `recycle =worn Why`: what becomes of it, what it was in the end where that is not what practice takes it for, and the reason. */
function becameBy(stepId: string, job: Job, [outcome, ...rest]: readonly string[]): JobCommand {
  const told = rest[0]?.startsWith('=') ? (rest[0].slice(1) as FamilyKey) : null;
  const reason = (told ? rest.slice(1) : rest).join(' ');
  const said = familiesAtOnce(job);
  return {
    type: 'giveOutcome',
    stepId,
    outcome: outcome as RecoveryOutcome,
    found: outcome === 'another' ? null : (told ?? said[0]?.family ?? null),
    ...(stepById(job.procedure, stepId).kind === 'diagnose' ? { said } : {}),
    ...(reason ? { reason } : {}),
  };
}

/** `10 0.4 0.3 0.6 0.7 0.8 12.5 12.6 12.7 30 40 50`: what was said of a charge after so many hours: mark, odds, capacity, volts, hours. */
export function foreseen({ words }: StoryLine, job: Job, now: number): ChargeForecast | null {
  const [mark = 0, returns = 0, light = 0, ...n] = words.map(Number);
  const { attempt, charge } = job.state;
  const band = (from: number): Band => ({
    low: n[from] ?? 0,
    middle: n[from + 1] ?? 0,
    high: n[from + 2] ?? 0,
  });
  return (
    charge && {
      attempt,
      mark,
      at: now,
      afterHours: hoursOn(charge.on, now),
      returns,
      light,
      capacity: band(0),
      restV: band(3),
      hours: band(6),
    }
  );
}

/** What a careful technician answers when nothing is wrong. */
function usual(job: Job): JobCommand {
  const step = stepById(job.procedure, job.state.current?.stepId ?? '');
  const answer = moduleOf(step).usual?.(job, step);
  if (!answer) throw new Error(`“${step.title}” has no usual answer; tell it with its own verb.`);
  return answer.type === 'matchPack' ? { ...answer, lot: DEMO_LOT } : answer;
}
