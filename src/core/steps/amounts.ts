import type { OnStretch } from '../charging/progress.ts';
import { Refused } from '../job/commands.ts';
import type { DeviationWhat } from '../job/deviation.ts';
import type { JobPlan } from '../plan/jobPlan.ts';

/** Of what a battery is expected to take: outside these it is asked about, and beyond the last it does not fit. */
const ASK_BELOW = 0.6;
const ASK_ABOVE = 1.2;
const MOST = 1.6;
/** One top-up of a cell, as a share of what the cell holds: asked about, and refused. */
const TOP_UP_ASK = 0.2;
const TOP_UP_MOST = 0.5;
/** More than so many times its capacity goes into no battery in one charge without somebody looking twice. */
const MUCH_CHARGE = 2.2;
/** Readings are due each hour, and this much late is not missed, s. */
const HOUR_S = 3600;
const LATE_S = 900;
/** A charge longer than expected by this share is an overrun … */
const OVERRUN = 1.5;
/** … and by at least this, h. */
const OVERRUN_H = 4;

const asked = (question: string, field: string, sure: boolean | undefined): void => {
  if (!sure) throw new Refused(question, 'ask', field);
};

/**
 * Liquid that went in, mL, against what the plan expects.
 *
 * @throws Refused where it cannot be, or is unusual and not confirmed
 */
export function checkFilled(amountMl: number, expectedMl: number, sure: boolean | undefined): void {
  const said = `${amountMl.toFixed(0)} mL`;
  if (amountMl > MOST * expectedMl)
    throw new Refused(
      `${said} do not fit: it takes about ${expectedMl.toFixed(0)} mL. Is it in litres, or of several batteries?`,
      'invalid',
      'amountMl',
    );
  if (amountMl > ASK_ABOVE * expectedMl || amountMl < ASK_BELOW * expectedMl)
    asked(
      `${said}, where about ${expectedMl.toFixed(0)} mL are expected. Is that right?`,
      'amountMl',
      sure,
    );
}

/** Liquid topped up, mL in all, against what those cells hold. @throws Refused */
export function checkToppedUp(
  ml: number,
  cells: number,
  { model }: JobPlan,
  sure: boolean | undefined,
): void {
  if (model.electrolyteMl === null) return;
  const perCell = ml / cells;
  const holds = model.electrolyteMl / model.cells;
  if (perCell > TOP_UP_MOST * holds)
    throw new Refused(
      `${perCell.toFixed(0)} mL a cell do not fit: a cell holds about ${holds.toFixed(0)} mL in all.`,
      'invalid',
      'ml',
    );
  if (perCell > TOP_UP_ASK * holds)
    asked(
      `${perCell.toFixed(0)} mL a cell is much: a cell holds about ${holds.toFixed(0)} mL in all. Is that right?`,
      'ml',
      sure,
    );
}

/** Charge that readings say has gone in, Ah, against what the battery holds. @throws Refused */
export function checkPutIn(
  ampereHours: number,
  { model }: JobPlan,
  sure: boolean | undefined,
): void {
  if (ampereHours > MUCH_CHARGE * model.c20Ah)
    asked(
      `By its readings ${ampereHours.toFixed(0)} Ah went into a ${model.c20Ah} Ah battery. Was current on all that time? If not, correct the readings or say so in a note.`,
      'ampereHours',
      sure,
    );
}

/**
 * What was not looked at while a charge was run by hand: hourly readings that were missed, and a charge that ran on.
 *
 * @param readAt moments of its readings, ms, in order
 * @param now ms
 * @param expectedS how long it was expected to take, s
 * @param hourly false where its charger ends by itself, and nobody needs to look each hour
 */
export function lookedAwayFrom(
  on: readonly OnStretch[],
  readAt: readonly number[],
  now: number,
  expectedS: number,
  hourly = true,
): DeviationWhat[] {
  let missed = 0;
  let longestS = 0;
  let onS = 0;
  for (const { from, to } of on) {
    const end = to ?? now;
    onS += (end - from) / 1000;
    const marks = [from, ...readAt.filter((at) => at > from && at < end), end];
    for (const [i, at] of marks.slice(1).entries()) {
      const gapS = (at - (marks[i] as number)) / 1000;
      missed += Math.max(0, Math.floor((gapS + LATE_S) / HOUR_S) - 1);
      longestS = Math.max(longestS, gapS);
    }
  }
  const found: DeviationWhat[] = [];
  if (hourly && missed > 0) found.push({ kind: 'readings-missed', missed, longestS });
  if (onS > OVERRUN * expectedS && onS - expectedS > OVERRUN_H * HOUR_S)
    found.push({ kind: 'overrun', hours: onS / HOUR_S, expectedHours: expectedS / HOUR_S });
  return found;
}
