import { type ChemistryKey, forCells } from '../batteries/chemistry.ts';
import type { PlanBattery } from '../charging/fitPlan.ts';
import type { Band } from '../rehearsal/outlook.ts';
import { behaviourOf } from './behaviour.ts';
import { type ChargerCourse, courseOn, perhapsSulfated, switchOff } from './course.ts';
import {
  awayOn,
  type ChargerProgram,
  type ChargerSetting,
  type ChargerStanding,
  type ShopCharger,
} from './charger.ts';

/** A battery as a charger meets it. */
export interface ChargeNeed {
  nominalV: number;
  cells: number;
  chemistry: ChemistryKey;
  c20Ah: number;
  /** What its plan charges it with, and the most it takes, A. */
  plannedA: number;
  mostA: number;
  /** Its ceiling at 25 °C, V. */
  ceilingV: number;
  /** The day on which it is to be put on, YYYY-MM-DD; absent where that is not known yet. */
  day?: string;
  /** Its rest voltage now, V; null where nobody has read it. */
  readsV: number | null;
  /** As its twin is made, and how full it is taken to be, share of C20. */
  battery: PlanBattery;
  share: number;
  roomC: number;
  /** Where its size is an estimate: the ends of its band as shares of what it is taken for; else both 1. */
  sizeSpan: { low: number; high: number };
  /** It may be sulfated: nobody has seen yet that it takes charge. */
  perhapsSulfated: boolean;
  /** Hours at a current held at a voltage until a person calls it full, where both are set by hand. */
  supplyHours: (amps: number, volts: number) => number;
}

/** Why a charger is not for this battery. */
export type ChargerFault =
  | { kind: 'standing'; standing: Exclude<ChargerStanding, 'ready'> }
  | { kind: 'away'; why: string }
  | { kind: 'in-use'; tags: readonly string[] }
  | { kind: 'volts'; volts: readonly number[]; nominalV: number }
  | { kind: 'starts'; startsV: number; readsV: number }
  | { kind: 'boost' }
  | { kind: 'too-much'; amps: number; mostA: number; c20Ah: number }
  | { kind: 'too-little'; amps: number; c20Ah: number }
  | { kind: 'family'; chemistry: ChemistryKey }
  | { kind: 'above-ceiling'; programV: number; ceilingV: number };

/** What to know before it is used all the same. */
export type ChargerCaution =
  | { kind: 'no-ceiling'; ceilingV: number; sealed: boolean }
  | { kind: 'slow'; amps: number; leastA: number; sealed: boolean }
  | { kind: 'low-ceiling'; programV: number; ceilingV: number }
  /** What it would do with this battery, by simulation. Shares of C20, h, V, °C. */
  | { kind: 'says-full'; afterH: number; share: number; sulfated: boolean }
  | { kind: 'stops-short'; share: number }
  | { kind: 'timer'; afterH: number; share: number }
  | { kind: 'endless'; afterH: number; share: number }
  | { kind: 'gases'; highestV: number; waterG: number }
  | { kind: 'warms'; peakC: number };

/** One way a charger can be set for a battery. */
export interface ChargerOption {
  charger: ShopCharger;
  setting: ChargerSetting | null;
  program: ChargerProgram | null;
  /** Current it will give, A, and the voltage it is held at or must be switched off at, V. */
  amps: number;
  volts: number;
  faults: readonly ChargerFault[];
  cautions: readonly ChargerCaution[];
}

/** The usual span of a current that does a battery good begins at C/20. */
const LEAST_C = 0.05;
/** Below C/50 a battery is kept, not charged. Usual care. */
const KEEPS_C = 0.02;
/** A current set by hand may be over by this share before it counts: nobody sets closer. */
const SET_SLACK = 1.05;
/** A transformer gives this much more or less than is printed on it; an adjustable one what it is set to. Bench experience. */
const TRANSFORMER_SPREAD = 0.2;
const SUPPLY_SPREAD = 0.03;
/** A program's ceiling may lie this far above the battery's, or below it, V per 12 V. */
const CEILING_SLACK_V = 0.15;
const LOW_CEILING_V = 0.45;

/** What is wanted of a charger for this battery, A: from C/20, or less where its plan says so, to the most it takes. */
export const wantedAmps = (need: ChargeNeed): { leastA: number; mostA: number } => ({
  leastA: Math.min(LEAST_C * need.c20Ah, need.plannedA),
  mostA: need.mostA,
});

/**
 * Every charger as it would best be set for a battery: first those that fit, the ones nearest to the plan's current before
 * others, a watched one after one that ends by itself.
 *
 * @param inUse tags of the batteries each charger is on, by its id
 */
export function chargerOptions(
  chargers: readonly ShopCharger[],
  need: ChargeNeed,
  inUse: ReadonlyMap<string, readonly string[]> = new Map(),
): ChargerOption[] {
  return chargers
    .map((charger) => bestOption(charger, need, inUse.get(charger.id) ?? []))
    .map((option) =>
      fits(option)
        ? { ...option, cautions: [...option.cautions, ...courseCautions(option, need)] }
        : option,
    )
    .toSorted((a, b) => rank(a, need) - rank(b, need));
}

/** Less than this is not full, whatever a light says. */
const FULL_SHARE = 0.9;
/** One that a person switches off at the ceiling is told to be short of full below this. */
const STOPPED_SHARE = 0.97;
/** A light that a sulfated battery turns green with less in it than this misleads. */
const SULFATED_SHARE = 0.85;
/** Water that a charge may cost, g per Ah of C20, and volts per cell beyond which a flooded battery gases hard. Usual care. */
const MUCH_WATER_G = 0.15;
const HARD_GASSING_V = 2.6;
const WARM_C = 45;

/** What a charger does with this battery by itself, and with a sulfated one like it; null where current and voltage are set by hand. */
function coursesOn(
  { charger, setting, program }: ChargerOption,
  need: ChargeNeed,
): { sound: ChargerCourse; sulfated: ChargerCourse | null } | null {
  const behaviour = charger.range ? null : behaviourOf(charger.kind, setting, program, need);
  if (!behaviour) return null;
  const off = switchOff(need.battery, need.ceilingV);
  const { share, roomC } = need;
  return {
    sound: courseOn(behaviour, need.battery, { share, roomC, hard: 0, film: 0 }, off),
    sulfated: need.perhapsSulfated
      ? courseOn(behaviour, need.battery, { ...perhapsSulfated(share), roomC }, off)
      : null,
  };
}

function courseCautions(option: ChargerOption, need: ChargeNeed): ChargerCaution[] {
  const courses = coursesOn(option, need);
  if (!courses) return [];
  const { sound, sulfated } = courses;
  const cautions: ChargerCaution[] = [];
  const ended = { afterH: sound.hours, share: sound.chargeAtEnd };
  if (sound.end === 'timer' || sound.end === 'endless')
    cautions.push({ kind: sound.end, ...ended });
  else if (sound.end === 'switched-off' && sound.chargeAtEnd < STOPPED_SHARE)
    cautions.push({ kind: 'stops-short', share: sound.chargeAtEnd });
  else if (sound.end === 'says-full' && sound.chargeAtEnd < FULL_SHARE)
    cautions.push({ kind: 'says-full', ...ended, sulfated: false });
  if (sulfated?.end === 'says-full' && sulfated.chargeAtEnd < SULFATED_SHARE)
    cautions.push({
      kind: 'says-full',
      afterH: sulfated.hours,
      share: sulfated.chargeAtEnd,
      sulfated: true,
    });
  if (
    need.chemistry === 'flooded' &&
    (sound.highestV > HARD_GASSING_V * need.cells || sound.waterG > MUCH_WATER_G * need.c20Ah)
  )
    cautions.push({ kind: 'gases', highestV: sound.highestV, waterG: sound.waterG });
  if (sound.peakC > WARM_C) cautions.push({ kind: 'warms', peakC: sound.peakC });
  return cautions;
}

/** The best of a charger's settings and programs for a battery. */
function bestOption(
  charger: ShopCharger,
  need: ChargeNeed,
  tags: readonly string[],
): ChargerOption {
  const settings: readonly (ChargerSetting | null)[] = charger.range ? [null] : charger.settings;
  const programs: readonly (ChargerProgram | null)[] =
    charger.programs.length > 0 ? charger.programs : [null];
  const options = settings.flatMap((setting) =>
    programs.map((program) => optionOf(charger, setting, program, need, tags)),
  );
  const [first, ...others] = options;
  if (!first) throw new Error(`Charger ${charger.name} has neither a setting nor a range.`);
  return others.reduce((best, o) => (rank(o, need) < rank(best, need) ? o : best), first);
}

/** Does anything but a person limit the voltage? */
const limits = ({ range }: ShopCharger, program: ChargerProgram | null): boolean =>
  range !== null || (program?.ceilingV ?? null) !== null;

/** A charger set so, for this battery: what speaks against it, and what to watch. */
export function optionOf(
  charger: ShopCharger,
  setting: ChargerSetting | null,
  program: ChargerProgram | null,
  need: ChargeNeed,
  tags: readonly string[] = [],
): ChargerOption {
  const { range } = charger;
  const { leastA, mostA } = wantedAmps(need);
  const amps = range
    ? Math.min(range.mostA, Math.max(range.leastA, need.plannedA))
    : (setting?.amps ?? 0);
  const ceilingV = program?.ceilingV ?? null;
  const programV = ceilingV === null ? null : forCells(ceilingV, need.cells);
  const held = limits(charger, program);
  const volts = range ? Math.min(range.mostV, need.ceilingV) : (programV ?? need.ceilingV);
  const slackV = forCells(CEILING_SLACK_V, need.cells);
  const startsV = forCells(charger.startsV, need.cells);

  const faults: ChargerFault[] = [];
  if (charger.standing !== 'ready') faults.push({ kind: 'standing', standing: charger.standing });
  const away = need.day === undefined ? null : awayOn(charger, need.day);
  if (away) faults.push({ kind: 'away', why: away.why });
  if (tags.length >= charger.outputs) faults.push({ kind: 'in-use', tags });
  if (!charger.volts.some((v) => v === need.nominalV))
    faults.push({ kind: 'volts', volts: charger.volts, nominalV: need.nominalV });
  if (need.readsV !== null && need.readsV < startsV)
    faults.push({ kind: 'starts', startsV, readsV: need.readsV });
  if (setting?.boost) faults.push({ kind: 'boost' });
  // Nobody can set a transformer closer than its print is true.
  else if (amps > mostA * (range ? SET_SLACK : 1 + TRANSFORMER_SPREAD))
    faults.push({ kind: 'too-much', amps, mostA, c20Ah: need.c20Ah });
  if (amps < KEEPS_C * need.c20Ah) faults.push({ kind: 'too-little', amps, c20Ah: need.c20Ah });
  if (program && !program.families.includes(need.chemistry))
    faults.push({ kind: 'family', chemistry: need.chemistry });
  else if (programV !== null && programV > need.ceilingV + slackV)
    faults.push({ kind: 'above-ceiling', programV, ceilingV: need.ceilingV });

  const sealed = need.chemistry !== 'flooded';
  const cautions: ChargerCaution[] = [];
  if (!held)
    cautions.push({
      kind: 'no-ceiling',
      ceilingV: need.ceilingV,
      sealed,
    });
  else if (volts < need.ceilingV - forCells(LOW_CEILING_V, need.cells))
    cautions.push({ kind: 'low-ceiling', programV: volts, ceilingV: need.ceilingV });
  if (amps < leastA / SET_SLACK && !faults.some((f) => f.kind === 'too-little'))
    cautions.push({ kind: 'slow', amps, leastA, sealed });

  return {
    charger,
    setting,
    program,
    amps,
    volts,
    faults,
    cautions,
  };
}

/**
 * Hours a battery stays on a charger that is set so: from one at the top of its tolerance to one at the bottom, and where the
 * plates may be sulfated from the sooner of both to the later.
 */
export function hoursOn(option: ChargerOption, need: ChargeNeed): Band {
  const courses = coursesOn(option, need);
  const spread = option.charger.range ? SUPPLY_SPREAD : TRANSFORMER_SPREAD;
  const middle = courses?.sound.hours ?? need.supplyHours(option.amps, option.volts);
  const other = courses?.sulfated?.hours ?? middle;
  const { low, high } = need.sizeSpan;
  return {
    low: (Math.min(middle, other) * low) / (1 + spread),
    middle,
    high: (Math.max(middle, other) * high) / (1 - spread),
  };
}

/** A charger that ends before a sound battery is full saves hours and costs the pass. */
export const leavesItShort = ({ cautions }: ChargerOption): boolean =>
  cautions.some(
    (c) =>
      c.kind === 'stops-short' ||
      c.kind === 'timer' ||
      c.kind === 'endless' ||
      (c.kind === 'says-full' && !c.sulfated),
  );

/** Does nothing speak against it? */
export const fits = (option: ChargerOption): boolean => option.faults.length === 0;

/** Lower is better: faults before cautions before how far it is from the plan's current. */
function rank(option: ChargerOption, need: ChargeNeed): number {
  const away = Math.abs(Math.log(Math.max(0.01, option.amps) / need.plannedA));
  // Recovery voltages are for what needs them: any usual program that fits comes first.
  const program = option.program && option.volts > need.ceilingV ? 0.5 : 0;
  // One that has to be watched by the hour comes after one that ends by itself.
  const careful = option.cautions.reduce((sum, c) => sum + (c.kind === 'no-ceiling' ? 15 : 10), 0);
  return 1000 * faultWeight(option.faults) + careful + away + program;
}

/** A charger that only has to be fetched from another battery is nearer than one of the wrong voltage. */
function faultWeight(faults: readonly ChargerFault[]): number {
  const weights: Record<ChargerFault['kind'], number> = {
    'in-use': 1,
    starts: 2,
    'too-little': 3,
    'above-ceiling': 4,
    'too-much': 5,
    standing: 5,
    away: 5,
    family: 6,
    boost: 8,
    volts: 9,
  };
  return faults.reduce((sum, f) => sum + weights[f.kind], 0);
}

/** What would do where no charger fits. */
export type WouldDo =
  /** Those that fit otherwise do not start: wake it first. */
  | { kind: 'wake'; names: readonly string[] }
  /** One is busy: it is free when that battery is done. */
  | { kind: 'wait'; name: string; tags: readonly string[] }
  /** A charger of this current. */
  | { kind: 'other'; leastA: number; mostA: number; ceilingV: number };

/** What would do for a battery that no charger of the shop fits; null where one does. */
export function whatWouldDo(options: readonly ChargerOption[], need: ChargeNeed): WouldDo | null {
  if (options.some(fits)) return null;
  const only = (kind: ChargerFault['kind']) =>
    options.filter((o) => o.faults.every((f) => f.kind === kind));
  const asleep = only('starts');
  if (asleep.length > 0) return { kind: 'wake', names: asleep.map((o) => o.charger.name) };
  const [busy] = only('in-use');
  const fault = busy?.faults[0];
  if (busy && fault?.kind === 'in-use')
    return { kind: 'wait', name: busy.charger.name, tags: fault.tags };
  return { kind: 'other', ...wantedAmps(need), ceilingV: need.ceilingV };
}

/** Tags of the batteries that each charger is on, by its id. */
export function tagsByCharger(
  charges: Iterable<{ chargerId: string | undefined; tag: string }>,
): Map<string, string[]> {
  const tags = new Map<string, string[]>();
  for (const { chargerId, tag } of charges)
    if (chargerId !== undefined) tags.set(chargerId, [...(tags.get(chargerId) ?? []), tag]);
  return tags;
}
