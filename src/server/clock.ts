/** The one clock everything that waits reads. */
export interface BenchClock {
  now(): number;
  readonly rate: number;
  readonly demo: boolean;
  /** Only a demo clock changes speed. */
  setRate(rate: number): void;
}

/**
 * A shop's clock: the machine's, except that it never runs backwards. If the machine's clock is set
 * back, bench time stands still until it has caught up.
 *
 * @param floor the latest moment already on record
 */
export function shopClock(floor: number, machine: () => number = Date.now): BenchClock {
  let latest = floor;
  return {
    now: () => (latest = Math.max(latest, machine())),
    rate: 1,
    demo: false,
    setRate() {
      throw new Error('A shop clock has one speed.');
    },
  };
}

/** The demo's clock: starts at a moment of its own and may run fast. */
export function demoClock(start: number, rate: number, machine: () => number = () => performance.now()): BenchClock {
  let anchor = { bench: start, machine: machine(), rate };
  const now = () => anchor.bench + Math.round((machine() - anchor.machine) * anchor.rate);
  return {
    now,
    get rate() {
      return anchor.rate;
    },
    demo: true,
    setRate(next) {
      anchor = { bench: now(), machine: machine(), rate: next };
    },
  };
}
