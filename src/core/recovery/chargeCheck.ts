import { forCells } from '../batteries/chemistry.ts';
import type { Diagnosis, DiagnosisQuestion } from '../diagnosis/diagnose.ts';
import type { Evidence } from '../diagnosis/evidence.ts';
import type { FamilyKey, PictureKey } from '../diagnosis/practice/families.ts';
import { ON_CHARGE } from '../diagnosis/practice/onCharge.ts';
import type { Range } from '../diagnosis/practice/table.ts';
import { likeliestOf } from '../diagnosis/practice/whys.ts';
import { shareAtFirst } from '../job/chargeExpected.ts';
import type { Job } from '../job/job.ts';
import { handSettings } from './recovery.ts';

/** A charge under way, as its readings tell it. */
export interface ChargeLook {
  /** Hours with current on, at the last reading; voltage, V, and current, A, then. */
  hours: number;
  volts: number;
  amps: number;
  /** Charge that has gone in, Ah; and when it first came to its ceiling, null while it has not. */
  inAh: number;
  atCeilingInAh: number | null;
  /** What the charge may rise to, V. */
  ceilingV: number;
  cells: number;
  c20Ah: number;
  /** Believed to have been missing when it began, Ah. */
  missingAh: number;
  /** Warmer than the air, K; null where nobody has read it. */
  warmerK: number | null;
}

/** How a charge goes, beside what batteries of the family it is taken for do. */
export interface ChargeCheck {
  state: 'as-expected' | 'look-closer' | 'not-working';
  says: string;
  /** What to do about it; null where it goes on as it is. */
  now: string | null;
}

/** At its ceiling within so much, and held down by a dead cell below that, V for 12 V. */
const CEILING_SLACK_V = 0.15;
const DEAD_CELL_V = 13.4;
/** Next to no current, and a current that should bring it to its ceiling, share of C20. */
const NOTHING_C = 0.006;
const BRINGS_IT_UP_C = 0.03;
/** With that current a battery reads 12.2 to 12.9 V within minutes; one that is below this after so many hours lacks a cell, V for 12 V. */
const LOW_V = 11.9;
const LOW_AFTER_H = 1;
/** Less than this of what was missing has gone in where it takes nothing. */
const NOT_TAKEN = 0.3;
/** A battery that was nearly full tells nothing by its ceiling, share of C20. */
const MISSING_TELLS = 0.3;
/** In so many of a family it would be otherwise by now: it is said; and nothing is said against it in the first half hour. */
const OFTEN = 0.9;
const TOO_SOON_H = 0.5;
/** Its ceiling comes early where it comes so much sooner than the bad end of its family, share of what was missing. */
const SOONER = 0.05;
/** Warmer than the bad end of its family by so much, K. */
const WARM_SLACK_K = 3;

/** A charge so far as it was read; null before there is enough of it. */
export function lookOf(
  trace: Extract<Evidence, { of: 'charging' }>,
  facts: Pick<ChargeLook, 'ceilingV' | 'cells' | 'c20Ah' | 'missingAh' | 'warmerK'>,
): ChargeLook | null {
  // What a cycle takes out first is another matter.
  const from = trace.amps.findLastIndex((i) => i < 0) + 1;
  const [hours, volts, amps] = [trace.hours, trace.volts, trace.amps].map((values) =>
    values.slice(from),
  ) as [number[], number[], number[]];
  const last = hours.length - 1;
  if (last < 0) return null;
  const began = from > 0 ? (trace.hours[from - 1] as number) : 0;
  let inAh = 0;
  let atCeilingInAh: number | null = null;
  for (let i = 0; i <= last; i++) {
    inAh += (amps[i] as number) * ((hours[i] as number) - (hours[i - 1] ?? began));
    if (atCeilingInAh === null && isAtCeiling(volts[i] as number, facts)) atCeilingInAh = inAh;
  }
  return {
    ...facts,
    hours: (hours[last] as number) - began,
    volts: volts[last] as number,
    amps: amps[last] as number,
    inAh,
    atCeilingInAh,
  };
}

const isAtCeiling = (
  volts: number,
  { ceilingV, cells }: Pick<ChargeLook, 'ceilingV' | 'cells'>,
): boolean => volts >= ceilingV - forCells(CEILING_SLACK_V, cells);

/**
 * Does a charge go as it goes with batteries of this family? Said early: once it would be otherwise with 9 in 10 of them.
 *
 * @param picture what it most likely is within the family
 */
export function checkCharge(look: ChargeLook, family: FamilyKey, picture: PictureKey): ChargeCheck {
  const { hours, volts, amps, inAh, cells, c20Ah, missingAh } = look;
  const expects = ON_CHARGE[picture];
  const most = NAMES[family];
  const atCeiling = isAtCeiling(volts, look);
  const taken = inAh / Math.max(missingAh, 0.05 * c20Ah);

  if (
    atCeiling &&
    amps < NOTHING_C * c20Ah &&
    taken < NOT_TAKEN &&
    missingAh > MISSING_TELLS * c20Ah
  )
    return takesNothing(look, expects.turnsAfterH, most);

  if (
    hours >= LOW_AFTER_H &&
    amps >= BRINGS_IT_UP_C * c20Ah &&
    expects.ceilingAt &&
    volts < forCells(LOW_V, cells)
  )
    return {
      state: 'look-closer',
      says: `${v(volts)} with ${a(amps)} after ${h(hours)}: ${most} read more than ${v(forCells(12.2, cells))} within minutes. A dead cell keeps it 2 V low.`,
      now: 'Measure every cell. None is low: let it go on, and read it again in an hour.',
    };

  if (!atCeiling && amps >= BRINGS_IT_UP_C * c20Ah && expects.ceilingAt) {
    const there = shareBy(expects.ceilingAt, taken);
    if (there >= OFTEN && taken > 1)
      return volts < forCells(DEAD_CELL_V, cells)
        ? {
            state: 'not-working',
            says: `${v(volts)} after ${ah(inAh)}: ${most} are at their ceiling by now in 9 of 10. A shorted cell keeps the voltage down like this.`,
            now: 'Measure every cell, and feel each. One that is 2 V low or warm: end this charge, it goes to the recycler.',
          }
        : {
            state: 'look-closer',
            says: `${v(volts)} after ${ah(inAh)}, not at its ceiling: ${most} are there by now in 9 of 10.`,
            now: 'Measure the cells. Even: it is larger or was emptier than believed, let it go on.',
          };
  }

  const { warmerK } = look;
  const [, hottest] = expects.warms;
  if (warmerK !== null && warmerK > hottest + WARM_SLACK_K)
    return {
      state: 'look-closer',
      says: `${warmerK.toFixed(0)} K warmer than the air: ${most} stay within ${hottest} K in 9 of 10.`,
      now: 'Feel every cell. One hotter than the others is shorted: end this charge.',
    };

  const early = earlyCeiling(look, expects.ceilingAt, picture, most);
  if (early) return early;
  if (hours < TOO_SOON_H) return { state: 'as-expected', says: 'Too soon to tell.', now: null };
  return {
    state: 'as-expected',
    says: `${v(volts)}, ${a(amps)} and ${ah(inAh)} in after ${h(hours)}: as with other ${most}.`,
    now: null,
  };
}

function takesNothing(
  { hours, amps, ceilingV }: ChargeLook,
  turns: Range | 'never' | null,
  most: string,
): ChargeCheck {
  const says = `${a(amps)} at its ceiling of ${v(ceilingV)} after ${h(hours)}`;
  if (turns === null && hours < TOO_SOON_H)
    return { state: 'as-expected', says: `${says}. Too soon to tell.`, now: null };
  const turned = turns === null || turns === 'never' ? 1 : shareByLog(turns, hours);
  if (turns !== null && turns !== 'never' && turned < OFTEN)
    return {
      state: 'as-expected',
      says: `${says}. ${most[0]?.toUpperCase()}${most.slice(1)} take next to nothing at first: ${tenths(turned)} have turned by now.`,
      now: 'Leave it on. The current rises when it turns.',
    };
  if (turns === null)
    return {
      state: 'look-closer',
      says: `${says}: ${most} take their current at once.`,
      now: 'Tap the case and look at the current. It flickers: a link is open, stop. Else its sulfate is hard: leave it on for a day at most.',
    };
  return {
    state: 'not-working',
    says: `${says}: ${turns === 'never' ? 'an open battery takes none' : `${most} have turned by now in 9 of 10`}.`,
    now: 'End this charge. Measure the cells, and wake it beside a donor, or it goes to the recycler.',
  };
}

function earlyCeiling(
  { atCeilingInAh, missingAh, c20Ah }: ChargeLook,
  expects: Range | null,
  picture: PictureKey,
  most: string,
): ChargeCheck | null {
  if (atCeilingInAh === null || expects === null || missingAh < MISSING_TELLS * c20Ah) return null;
  const there = atCeilingInAh / missingAh;
  const least = Math.min(...expects);
  if (picture === 'hard' || there > least - SOONER) return null;
  return {
    state: 'look-closer',
    says: `It came to its ceiling with ${percent(there)} of what was missing: ${most} get there with more than ${percent(least)} in 9 of 10. Sulfated or worn ones come early.`,
    now: 'Let it finish, rest it, and measure the cells and the capacity before a verdict.',
  };
}

/** How many of each family: “sulfated batteries”. */
const NAMES: Readonly<Record<FamilyKey, string>> = {
  never: 'damaged batteries',
  'bad-cell': 'batteries with a bad cell',
  worn: 'worn-out batteries',
  dry: 'dry batteries',
  sulfated: 'sulfated batteries',
  layered: 'batteries with layered acid',
  flat: 'flat batteries',
  nothing: 'sound batteries',
};

/** Which share of a range lies below a value; 8 in 10 lie between its ends. */
function shareBy([p, q]: Range, value: number): number {
  const [low, high] = [Math.min(p, q), Math.max(p, q)];
  const z = (2 * (value - (low + high) / 2)) / Math.max(1e-6, high - low);
  // Logistic with a tenth beyond each end.
  return 1 / (1 + Math.exp(-z * Math.log(9)));
}
const shareByLog = ([p, q]: Range, value: number): number =>
  shareBy([Math.log(p), Math.log(q)], Math.log(Math.max(1e-3, value)));

const v = (volts: number): string => `${volts.toFixed(2)} V`;
const a = (amps: number): string => `${amps.toFixed(2)} A`;
const ah = (charge: number): string => `${charge.toFixed(charge < 10 ? 1 : 0)} Ah`;
const h = (hours: number): string =>
  hours < 1 ? `${(60 * hours).toFixed(0)} min` : `${hours.toFixed(hours < 10 ? 1 : 0)} h`;
const percent = (share: number): string => `${(100 * Math.max(0, share)).toFixed(0)} %`;
const tenths = (share: number): string => `${Math.max(1, Math.round(10 * share))} in 10`;

/** How the charge of a recovery goes, beside what batteries do that are what it is taken for; null before there is enough of it. */
export function checkOfJob(
  job: Job,
  { evidence }: Pick<DiagnosisQuestion, 'evidence'>,
  { families, pictures }: Pick<Diagnosis, 'families' | 'pictures'>,
  temperatureC: number | null,
): ChargeCheck | null {
  const trace = evidence.find((e) => e.of === 'charging');
  const [first] = families;
  if (!trace || !first) return null;
  const { model, roomC } = job.plan;
  const set = job.state.charge ?? handSettings(job);
  const discharged = trace.amps.some((i) => i < 0);
  const look = lookOf(trace, {
    ceilingV: set.setV,
    cells: model.cells,
    c20Ah: model.c20Ah,
    missingAh: (discharged ? 1 : 1 - shareAtFirst(job)) * model.c20Ah,
    warmerK: temperatureC === null ? null : temperatureC - roomC,
  });
  return look && checkCharge(look, first.family, likeliestOf(first.family, pictures));
}
