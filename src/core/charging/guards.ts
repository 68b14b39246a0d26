import { compensatedCeilingV, TEMPERATURE_LIMITS } from './limits.ts';
import type { ChargeReading, ChargeTarget } from './progress.ts';

export type GuardAction = 'stop' | 'pause' | 'warn';

export interface GuardTrip {
  action: GuardAction;
  guard: 'hot' | 'heating-fast' | 'warm' | 'over-ceiling' | 'no-current';
  /** What happened and what to do. */
  sentence: string;
}

/** Volts per cell above the compensated ceiling before it counts. */
const CEILING_SLACK_V = 0.05;
/** Below this share of C20 with volts well under the ceiling, no current is flowing. */
const NO_CURRENT_C = 0.005;

/**
 * Looks at a window of hand readings, newest last, and says what must happen. Worst first.
 *
 * @param readings oldest first, since the current was last switched on
 * @param ambientC the room, °C
 * @param setA the charger's set current
 * @param recovering a new battery that is warm cools and goes on; one that is recovered is suspected of a short
 */
export function chargeGuards(
  readings: readonly ChargeReading[],
  target: ChargeTarget,
  ambientC: number,
  setA: number,
  recovering = false,
  limits = TEMPERATURE_LIMITS,
): GuardTrip[] {
  const last = readings.at(-1);
  if (!last) return [];
  const trips: GuardTrip[] = [];
  const t = last.temperatureC;
  const { stopC, stopRiseC, stopRiseS, pauseC, pauseAboveAmbientC } = limits;

  if (t > stopC) {
    trips.push({
      action: 'stop',
      guard: 'hot',
      sentence: `${t.toFixed(0)} °C is hot, above ${stopC} °C. Switch the charger off at the mains now and leave the battery alone.`,
    });
  }
  const recent = readings.filter((r) => (last.at - r.at) / 1000 <= stopRiseS);
  const coolest = Math.min(...recent.map((r) => r.temperatureC));
  if (t - coolest > stopRiseC) {
    trips.push({
      action: 'stop',
      guard: 'heating-fast',
      sentence: `It warmed by ${(t - coolest).toFixed(0)} °C within half an hour. Switch the charger off; suspect a short.`,
    });
  }
  if (t <= stopC && (t > pauseC || t - ambientC > pauseAboveAmbientC)) {
    const why = t > pauseC ? `above ${pauseC} °C` : `${(t - ambientC).toFixed(0)} °C over the room`;
    trips.push(
      recovering && t > pauseC
        ? {
            action: 'stop',
            guard: 'warm',
            sentence: `${t.toFixed(0)} °C is ${why}. One that is recovered and gets this warm is suspected of a short: charger off, feel every cell.`,
          }
        : { action: 'pause', guard: 'warm', sentence: `${t.toFixed(0)} °C is ${why}. Charger off, let it cool, then go on.` },
    );
  }
  const ceiling = compensatedCeilingV(target.ceilingV, target.cells, t);
  if (last.voltageV > ceiling + CEILING_SLACK_V * target.cells) {
    trips.push({
      action: 'pause',
      guard: 'over-ceiling',
      sentence: `${last.voltageV.toFixed(2)} V is over the ceiling of ${ceiling.toFixed(2)} V at ${t.toFixed(0)} °C. Charger off, check its setting.`,
    });
  }
  if (last.currentA < NO_CURRENT_C * target.c20Ah && target.ceilingV - last.voltageV > 0.1 * target.cells) {
    trips.push({
      action: 'warn',
      guard: 'no-current',
      sentence: `Next to no current flows of the ${setA.toFixed(1)} A set, and the volts are low. A lead is off, or the charger is unplugged.`,
    });
  }
  const order: Record<GuardAction, number> = { stop: 0, pause: 1, warn: 2 };
  return trips.sort((a, b) => order[a.action] - order[b.action]);
}

/** May a paused charge go on at this temperature? */
export function coolEnough(temperatureC: number, ambientC: number, { pauseC, pauseAboveAmbientC } = TEMPERATURE_LIMITS): boolean {
  return temperatureC <= pauseC - 5 && temperatureC - ambientC <= pauseAboveAmbientC / 2;
}
