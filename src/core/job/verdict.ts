import { type Chemistry, CHEMISTRIES } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { correctSg } from '../electrolyte/concentration.ts';
import { restVoltageFromSg } from '../electrolyte/restVoltage.ts';
import { loadTestMinimumV } from '../capacity/loadTest.ts';
import { chargeByAcid, stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { type Job, standingReadings } from './job.ts';
import type { Reading } from './reading.ts';
import type { Verdict } from './outcome.ts';
import { linesOf } from '../plan/lines.ts';
import { stepOfKind } from '../plan/procedure.ts';
import { mean } from '../quantities/mean.ts';
import { lowCell } from '../batteries/cells.ts';

/** Chemistry of the job's battery, with the table of its state of charge as it was when the job began. */
export function jobChemistry({ plan }: Job): Chemistry {
  return {
    ...CHEMISTRIES[leadAcidKind(plan.model.kind).chemistry],
    stateOfCharge: linesOf(plan).stateOfCharge,
  };
}

/** The reading of this attempt that may be judged: rested, not corrected, newest. */
function judgedRest(job: Job): Reading | undefined {
  return ofAttempt(job, 'rest').findLast(
    (r) => !r.marks.includes('early') && !r.marks.includes('surface'),
  );
}

function ofAttempt(job: Job, role: Reading['role']): Reading[] {
  return standingReadings(job.state, role).filter((r) => r.attempt === job.state.attempt);
}

/** What one kind of evidence says: whether it holds, and why. Null where it was not taken. */
interface Finding {
  holds: boolean;
  reason: string;
}

/** A battery that goes out holds at least this share by its own acid. */
const LEAST_CHARGED = 0.9;

/**
 * How full it is by its rest voltage, %. A sealed battery whose acid is known goes by that acid: by the usual table it
 * reads full long before it is. Open ones go by the table; their acid is read itself.
 */
export function chargeOf(
  job: Job,
  restV: number,
  temperatureC?: number,
): { percent: number; band: { low: number; high: number }; by: 'acid' | 'table' } {
  const { model, figures, roomC } = job.plan;
  const kind = leadAcidKind(model.kind);
  const chemistry = jobChemistry(job);
  if (kind.ports === 'serviceable' || (figures.fillSg.origin === 'default' && kind.fill === null)) {
    const percentAt = (volts: number): number =>
      stateOfChargePercent(volts, model.cells, chemistry);
    const off = TABLE_OFF_V * model.cells;
    return {
      percent: percentAt(restV),
      band: { low: percentAt(restV - off), high: percentAt(restV + off) },
      by: 'table',
    };
  }
  const mlPerAh =
    model.electrolyteMl === null
      ? {}
      : { mlPerAh: model.electrolyteMl / model.cells / model.c20Ah };
  const { low, mid, high } = chargeByAcid(
    restV,
    model.cells,
    chemistry,
    { sg: figures.fillSg.value, ...mlPerAh },
    temperatureC ?? roomC,
  );
  return { percent: 100 * mid, band: { low: 100 * low, high: 100 * high }, by: 'acid' };
}

/**
 * The rest voltage at which the battery of a job holds so much, by what its charge is judged by.
 *
 * @param percent of its charge, 0–100
 * @returns V per battery at 25 °C
 */
export function restVoltageHolding(job: Job, percent: number): number {
  let [low, high] = LEAST_AND_MOST_CELL_V.map((v) => v * job.plan.model.cells) as [number, number];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (chargeOf(job, middle, 25).percent < percent) low = middle;
    else high = middle;
  }
  return high;
}

/** Rest voltages between which every lead-acid cell goes from empty to full, V. */
const LEAST_AND_MOST_CELL_V = [1.8, 2.3] as const;

/** A table of a family may be off by this for one of its batteries, V per cell, 8 of 10. */
const TABLE_OFF_V = 0.015;

/** Weighs the readings of this attempt against the plan. Nothing early, marked or missing can pass a battery. */
export function judge(job: Job): Verdict {
  const { figures } = job.plan;
  const tested = stepOfKind(job.procedure, 'load') !== undefined;
  const rest = judgedRest(job);
  const restV = rest?.values.voltageV ?? null;
  const loadV = ofAttempt(job, 'load').at(-1)?.values.voltageV ?? null;
  const ccaA = ofAttempt(job, 'analyser').at(-1)?.values.ccaA ?? null;
  const charge = restV === null ? null : chargeOf(job, restV, rest?.values.temperatureC);
  const socPercent = charge && charge.percent;
  const reasons: string[] = [];

  if (restV === null) {
    const early = ofAttempt(job, 'rest').length > 0;
    reasons.push(
      early
        ? 'Every rest voltage was read early or still carries surface charge; none can be judged.'
        : 'No rest voltage was measured.',
    );
  } else {
    const line = figures.passV.value;
    reasons.push(
      `At rest ${restV.toFixed(2)} V, ${restV >= line ? 'on or over' : 'under'} the line of ${line.toFixed(2)} V.`,
    );
  }
  const underLoad = loadFinding(job) ?? analyserFinding(job);
  if (underLoad) reasons.push(underLoad.reason);
  else if (tested) reasons.push('Neither a load test nor an analyser’s CCA was taken.');
  const cells = cellFinding(job);
  if (cells) reasons.push(cells.reason);

  const short = charge?.by === 'acid' && charge.percent < 100 * LEAST_CHARGED - 0.05;
  const letGo =
    short &&
    rest !== undefined &&
    job.state.leadDecisions.some((d) => d.decision === 'go-on' && d.at >= rest.at);
  if (charge && short)
    reasons.push(
      `By the acid it was filled with (SG ${figures.fillSg.value.toFixed(3)}) it holds about ${charge.percent.toFixed(0)} %; under ${(100 * LEAST_CHARGED).toFixed(0)} % it needs more charge.${letGo ? ' The lead lets it go as it is.' : ''}`,
    );

  const verdict = {
    reasons,
    restV,
    socPercent,
    ...(charge ? { socBand: charge.band, socBy: charge.by } : {}),
    loadV,
    ccaA,
  };
  if (restV === null || (tested && !underLoad)) return { ...verdict, outcome: 'incomplete' };
  const passes =
    restV >= figures.passV.value && (underLoad?.holds ?? true) && (cells?.holds ?? true);
  if (passes && (!short || letGo)) return { ...verdict, outcome: 'pass' };
  const step = stepOfKind(job.procedure, 'verdict');
  // Short of charge alone is no failure: it is charged on as often as it takes, or the lead lets it go.
  if (passes || job.state.attempt < (step?.maxAttempts ?? 1)) {
    return {
      ...verdict,
      outcome: 'repeat',
      reasons: [
        ...reasons,
        passes
          ? 'Charge it on and test again, or ask the lead to let it go.'
          : 'Repeat the charge and test again.',
      ],
    };
  }
  return {
    ...verdict,
    outcome: 'lead',
    reasons: [
      ...reasons,
      `It failed ${job.state.attempt === 2 ? 'twice' : `${job.state.attempt} times`}. The lead decides: claim or recovery.`,
    ],
  };
}

function loadFinding(job: Job): Finding | null {
  const { figures, model } = job.plan;
  const load = ofAttempt(job, 'load').at(-1);
  if (load?.values.voltageV === undefined || load.values.temperatureC === undefined) return null;
  const least = loadTestMinimumV(
    load.values.temperatureC,
    model.cells,
    linesOf(job.plan).loadMinimum,
  );
  const holds = load.values.voltageV >= least;
  const loadWords = `${figures.loadA.value.toFixed(0)} A and ${load.values.temperatureC.toFixed(0)} °C`;
  return {
    holds,
    reason: `Under ${loadWords} it ${holds ? 'held' : 'fell to'} ${load.values.voltageV.toFixed(2)} V; ${least.toFixed(2)} V is the least.`,
  };
}

/** CCA by an analyser against the rating; only by the rating's own standard, for standards are different tests. */
function analyserFinding(job: Job): Finding | null {
  const { model, figures } = job.plan;
  const read = ofAttempt(job, 'analyser').at(-1);
  const cca = read?.values.ccaA;
  if (cca === undefined || !figures.ccaLeastA || read?.standard !== model.ccaStandard) return null;
  const holds = cca >= figures.ccaLeastA.value;
  return {
    holds,
    reason: `CCA ${cca.toFixed(0)} A (${read.standard}) by the analyser; ${figures.ccaLeastA.value.toFixed(0)} A is the rating.`,
  };
}

/** What the cells' gravity, corrected for its temperature, says of the charge: by the rest voltage of that acid and the same table. */
function chargeBySg(job: Job, sgs: readonly number[], temperatureC: number | undefined): string {
  if (temperatureC === undefined) return '';
  const sg = correctSg(mean(sgs), temperatureC);
  if (sg < 1.05 || sg > 1.35) return '';
  const { cells } = job.plan.model;
  const percent = stateOfChargePercent(restVoltageFromSg(sg) * cells, cells, jobChemistry(job));
  return ` On average ${sg.toFixed(3)} at 25 °C: about ${percent.toFixed(0)} % charged by its acid.`;
}

/** A cell well below the mean of the others after a charge is failing, whatever the terminals say. */
function cellFinding(job: Job): Finding | null {
  const read = ofAttempt(job, 'cells').findLast((r) =>
    r.cells?.every((c) => c.specificGravity !== undefined),
  );
  const sgs = read?.cells?.map((c) => c.specificGravity as number);
  const low = sgs && lowCell(sgs);
  if (!low) return null;
  const { cell, below } = low;
  const holds = below < linesOf(job.plan).failingCellSg - 1e-9;
  return holds
    ? {
        holds,
        reason: `SG of the cells within ${(Math.max(...sgs) - Math.min(...sgs)).toFixed(3)} of each other.${chargeBySg(job, sgs, read?.values.temperatureC)}`,
      }
    : { holds, reason: `Cell ${cell} is ${below.toFixed(3)} SG below the others: it is failing.` };
}
