import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Clock } from '../../contract/wire.ts';
import { get } from './api.ts';

/** The server's clock as this page estimates it between answers. */
class BenchClock {
  #anchor: Clock & { page: number } = { now: Date.now(), rate: 1, demo: false, page: performance.now() };
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
  }

  async sync(): Promise<void> {
    const asked = performance.now();
    const clock = await get<Clock>('/api/clock');
    // The answer is as old as half the way it came.
    this.set({ ...clock, now: clock.now + ((performance.now() - asked) / 2) * clock.rate });
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
}

export const benchClock = new BenchClock();
const SYNC_MS = 30_000;
setInterval(() => void benchClock.sync().catch(() => undefined), SYNC_MS);

/** The moment of an act, told when it is done and not when its screen was drawn. */
export const momentOfAct = (): number => Math.floor(benchClock.now());

/** Bench time, renewed each second, more often while the demo runs fast. */
export function useNow(): number {
  const { rate } = useClockSettings();
  const [now, setNow] = useState(() => benchClock.now());
  useEffect(() => {
    const tick = () => setNow(benchClock.now());
    tick();
    const timer = setInterval(tick, rate > 1 ? 250 : 1000);
    // A clock that was set, or changed its speed, is shown at once.
    const unsubscribe = benchClock.subscribe(tick);
    return () => {
      clearInterval(timer);
      unsubscribe();
    };
  }, [rate]);
  return now;
}

export function useClockSettings(): Clock {
  return useSyncExternalStore(benchClock.subscribe, () => benchClock.settings);
}
