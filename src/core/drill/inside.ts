import type { Moment } from '../quantities/moment.ts';
import { viewBattery } from '../simulation/view.ts';
import type { World } from './world.ts';

/** A battery at a moment, as only the simulation knows it. */
export interface Inside {
  at: Moment;
  /** V, A into it, °C. */
  voltageV: number;
  currentA: number;
  temperatureC: number;
  /** Of C20, 0–1: the mean of its cells, and the poorest. */
  charge: number;
  poorest: number;
  /** Water gone since it came, g. */
  waterG: number;
}

/** A point is kept at least so far from the last, ms; with each thinning twice that. */
const APART_MS = 5 * 60_000;
const MOST_POINTS = 800;

/** What went on in a battery, in no more points than can be drawn. */
export class InsideTrace {
  points: Inside[] = [];
  #apartMs = APART_MS;

  note(at: Moment, world: World): void {
    const last = this.points.at(-1);
    if (!world.battery || (last && at - last.at < this.#apartMs)) return;
    const view = viewBattery(world.battery);
    this.points.push({
      at,
      voltageV: world.voltageV,
      currentA: world.currentA,
      temperatureC: world.temperatureC,
      charge: Math.max(0, view.charge),
      poorest: Math.max(0, view.poorest),
      waterG: view.waterLostG,
    });
    if (this.points.length <= MOST_POINTS) return;
    this.points = this.points.filter((_, i) => i % 2 === 0);
    this.#apartMs *= 2;
  }
}
