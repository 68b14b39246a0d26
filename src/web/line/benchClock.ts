import { useSyncExternalStore } from 'react';
import type { Clock } from '../../contract/wire.ts';
import { onTheWall } from '../../core/quantities/zonedTime.ts';
import { ask } from './api.ts';
import { hasBrowser } from './device.ts';

/** The server's clock as this page estimates it between answers. */
class BenchClock {
  #anchor: Clock & { page: number } = {
    now: Date.now(),
    rate: 1,
    demo: false,
    machine: null,
    page: performance.now(),
  };
  readonly #listeners = new Set<() => void>();

  now(): number {
    return this.#anchor.now + (performance.now() - this.#anchor.page) * this.#anchor.rate;
  }

  get settings(): Clock {
    return this.#anchor;
  }

  set(clock: Clock): void {
    this.#anchor = { ...clock, page: performance.now() };
    for (const listener of this.#listeners) listener();
    this.#tick = 0;
    if (this.#watchers.size === 0) return;
    this.#startTicking();
    this.#beat();
  }

  /** The clock as a page was drawn by it elsewhere: until the page is in hand, it is that moment. */
  setAsDrawn(clock: Clock): void {
    this.set(clock);
    this.#drawnAt = this.#tick = clock.now;
  }

  async sync(): Promise<void> {
    const asked = performance.now();
    const clock = await ask('clock');
    // The answer is as old as half the way it came.
    this.set({ ...clock, now: clock.now + ((performance.now() - asked) / 2) * clock.rate });
  }

  /** 0 while nobody has asked since the clock was set or left. */
  #tick = 0;
  #ticking: ReturnType<typeof setInterval> | undefined;
  readonly #watchers = new Set<() => void>();
  #drawnAt: number | null = null;

  /** The moment of the last tick: the same for everybody who draws between two of them. */
  tick = (): number => this.#tick || (this.#tick = this.now());

  /** The moment a page was drawn for that this one takes up. */
  drawnAt = (): number => this.#drawnAt ?? this.tick();

  readonly #beat = (): void => {
    this.#tick = this.now();
    for (const watcher of this.#watchers) watcher();
  };

  /** Calls with every tick: once a second, more often while the demo runs fast, and at once when the clock is set. */
  subscribeTicks = (watcher: () => void): (() => void) => {
    this.#watchers.add(watcher);
    if (this.#watchers.size === 1) this.#startTicking();
    return () => {
      this.#watchers.delete(watcher);
      if (this.#watchers.size > 0) return;
      clearInterval(this.#ticking);
      this.#tick = 0;
    };
  };

  #startTicking(): void {
    clearInterval(this.#ticking);
    this.#ticking = setInterval(this.#beat, this.#anchor.rate > 1 ? 250 : 1000);
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
}

export const benchClock = new BenchClock();
const SYNC_MS = 30_000;
if (hasBrowser) setInterval(() => void benchClock.sync().catch(() => undefined), SYNC_MS);

/** The moment of an act, told when it is done and not when its screen was drawn. */
export const momentOfAct = (): number => Math.floor(benchClock.now());

/** What this says of the moment; draws anew when it says something else. */
const useTick = <T extends number | string>(say: (now: number) => T): T =>
  useSyncExternalStore(
    benchClock.subscribeTicks,
    () => say(benchClock.tick()),
    () => say(benchClock.drawnAt()),
  );

/** Bench time, renewed each second, more often while the demo runs fast; between two ticks it is one moment for the whole page. */
export const useNow = (): number => useTick((now) => now);

const QUARTER_MS = 15_000;
const MINUTE_MS = 60_000;

const lastWhole = (now: number, ms: number): number => Math.floor(now / ms) * ms;

/** A moment to the quarter minute, as ribbons and times of day are drawn. */
export const toTheQuarter = (now: number): number => lastWhole(now, QUARTER_MS);

/** Bench time as of its last whole minute: for what is long to draw and nobody watches by the second. */
export const useMinute = (): number => useTick((now) => lastWhole(now, MINUTE_MS));

export function useClockSettings(): Clock {
  const settings = () => benchClock.settings;
  return useSyncExternalStore(benchClock.subscribe, settings, settings);
}

/** The day on the shop's wall, YYYY-MM-DD; draws anew only when another one begins. */
export const useToday = (timeZone: string): string =>
  useTick((now) => onTheWall(now, timeZone).date);
