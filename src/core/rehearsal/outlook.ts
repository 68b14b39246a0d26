import type { FittedPlan } from '../charging/fitPlan.ts';
import type { SimBattery } from '../simulation/battery.ts';
import { rehearse, type RehearsalSummary, type Trace } from './rehearse.ts';
import { tripTitle } from '../charging/tripWords.ts';

/** A middle and where eight of ten twins lie. */
export interface Band {
  low: number;
  middle: number;
  high: number;
}

/** What the twins say of a plan where the condition is uncertain. */
export interface Odds {
  twins: number;
  /** Share of twins that end the plan without a guard switching off. */
  finishes: number;
  hours: Band;
  chargeAtEnd: Band;
  /** Hard sulfate brought back, share of C20 (mean of cells). */
  broughtBack: Band;
  peakC: Band;
  waterG: Band;
  /** Guards that would switch off, most frequent first, with the share of twins. */
  trips: { title: string; share: number }[];
}

export function oddsOf(summaries: readonly RehearsalSummary[]): Odds {
  const evenWeights = summaries.map(() => 1);
  const band = (pick: (summary: RehearsalSummary) => number): Band =>
    bandOf(summaries.map(pick), evenWeights);
  const counts = new Map<string, number>();
  for (const { trip } of summaries)
    if (trip) counts.set(tripTitle(trip), (counts.get(tripTitle(trip)) ?? 0) + 1);
  return {
    twins: summaries.length,
    finishes: summaries.filter((s) => s.finished).length / summaries.length,
    hours: band((s) => s.hours),
    chargeAtEnd: band((s) => s.chargeAtEnd),
    broughtBack: band((s) => s.hardBefore - s.hardAfter),
    peakC: band((s) => s.peakC),
    waterG: band((s) => s.waterG),
    trips: [...counts]
      .map(([title, n]) => ({ title, share: n / summaries.length }))
      .sort((a, b) => b.share - a.share),
  };
}

/** Weighted 10th, 50th and 90th percentile. */
export function bandOf(values: readonly number[], weights: readonly number[]): Band {
  const order = values
    .map((value, i) => ({ value, weight: weights[i] ?? 0 }))
    .sort((a, b) => a.value - b.value);
  const total = order.reduce((sum, o) => sum + o.weight, 0);
  const quantileAt = (share: number): number => {
    let sum = 0;
    for (const o of order) {
      sum += o.weight;
      if (sum >= share * total) return o.value;
    }
    return order.at(-1)?.value ?? Number.NaN;
  };
  return { low: quantileAt(0.1), middle: quantileAt(0.5), high: quantileAt(0.9) };
}

/** One way a charge may go: its trace and how many hours it takes. */
export interface Course {
  trace: Trace;
  hours: number;
}

export const coursesOf = (twins: readonly SimBattery[], plan: FittedPlan): Course[] =>
  twins.map((twin) => {
    const { trace, summary } = rehearse(twin, plan);
    return { trace, hours: summary.hours };
  });

/** How far the volts of even the right twin may lie from a measured trace, V per cell. Model error, not noise: it does not average out. */
const MODEL_V_PER_CELL = 0.02;

/**
 * Hours left of a running charge: each course counts by how near its volts came to the measured ones.
 *
 * @param all courses that seemed possible at the start
 * @param measured hours with current on, and volts, a few points spread over the charge so far
 */
export function timeLeft(
  all: readonly Course[],
  measured: readonly { hours: number; voltageV: number }[],
  cells: number,
): Band | null {
  const now = measured.at(-1)?.hours ?? 0;
  // A course that would be over by now is not the one that is still running.
  const running = all.filter((c) => c.hours > now);
  const courses = running.length > 0 ? running : all;
  if (courses.length === 0) return null;
  const sigma = MODEL_V_PER_CELL * cells;
  const scores = courses.map((course) => {
    if (measured.length === 0) return 0;
    let sum = 0;
    for (const m of measured)
      sum += Math.min(
        25,
        ((valueAt(course.trace.hours, course.trace.voltageV, m.hours) - m.voltageV) / sigma) ** 2,
      );
    return -0.5 * Math.min(measured.length, 4) * (sum / measured.length);
  });
  const best = Math.max(...scores);
  // A tenth of the weight stays where it was before: no twin is ever quite ruled out.
  const weights = scores.map((score) => 0.1 + 0.9 * Math.exp(score - best));
  return bandOf(
    courses.map((c) => Math.max(0, c.hours - now)),
    weights,
  );
}

/** A trace's value between its points, level beyond its ends. */
export function valueAt(hours: readonly number[], values: readonly number[], at: number): number {
  let low = 0;
  let high = hours.length - 1;
  if (at <= (hours[0] ?? 0)) return values[0] ?? Number.NaN;
  if (at >= (hours[high] ?? 0)) return values[high] ?? Number.NaN;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if ((hours[mid] ?? 0) <= at) low = mid;
    else high = mid;
  }
  const [a, b] = [hours[low] ?? 0, hours[high] ?? 0];
  const share = b > a ? (at - a) / (b - a) : 0;
  return (values[low] ?? 0) + share * ((values[high] ?? 0) - (values[low] ?? 0));
}
