import { compensatedCeilingV, TEMPERATURE_LIMITS, CEILING_SLACK_V } from './limits.ts';
import type { ChargeReading, ChargeTarget } from './progress.ts';
import { trip, type Trip } from './trips.ts';

export type HandAction = 'stop' | 'pause' | 'warn';

/** What readings taken by hand ask for. */
export type HandTrip = Trip & { action: HandAction };

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
): HandTrip[] {
  const last = readings.at(-1);
  if (!last) return [];
  const trips: HandTrip[] = [];
  const t = last.temperatureC;
  const { stopC, stopRiseC, stopRiseS, pauseC, pauseAboveAmbientC } = limits;

  if (t > stopC)
    trips.push({ action: 'stop', ...trip('hand-hot', { temperatureC: t, limitC: stopC }) });
  const recent = readings.filter((r) => (last.at - r.at) / 1000 <= stopRiseS);
  const riseC = t - Math.min(...recent.map((r) => r.temperatureC));
  if (riseC > stopRiseC) trips.push({ action: 'stop', ...trip('hand-heating-fast', { riseC }) });
  if (t <= stopC && (t > pauseC || t - ambientC > pauseAboveAmbientC)) {
    const suspect = recovering && t > pauseC;
    const how = t > pauseC ? { limitC: pauseC } : { overRoomC: t - ambientC };
    trips.push({
      action: suspect ? 'stop' : 'pause',
      ...trip('hand-warm', { temperatureC: t, ...how, suspect }),
    });
  }
  const ceilingV = compensatedCeilingV(target.ceilingV, target.cells, t);
  if (last.voltageV > ceilingV + CEILING_SLACK_V * target.cells)
    trips.push({
      action: 'pause',
      ...trip('hand-over-ceiling', { voltageV: last.voltageV, ceilingV, temperatureC: t }),
    });
  if (
    last.currentA < NO_CURRENT_C * target.c20Ah &&
    target.ceilingV - last.voltageV > 0.1 * target.cells
  )
    trips.push({ action: 'warn', ...trip('hand-no-current', { setA }) });
  const order: Record<HandAction, number> = { stop: 0, pause: 1, warn: 2 };
  return trips.sort((a, b) => order[a.action] - order[b.action]);
}

/** May a paused charge go on at this temperature? */
export function coolEnough(
  temperatureC: number,
  ambientC: number,
  { pauseC, pauseAboveAmbientC } = TEMPERATURE_LIMITS,
): boolean {
  return temperatureC <= pauseC - 5 && temperatureC - ambientC <= pauseAboveAmbientC / 2;
}
