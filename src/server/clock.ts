import type { MachineClock } from '../contract/wire.ts';

/** The one clock everything that waits reads. */
export interface BenchClock {
  /** The moment things are dated with, ms since the epoch. It never jumps by itself and never runs backwards. */
  now(): number;
  /** Bench time that has gone by, ms from a start of its own. Everything that measures a duration asks this. */
  passed(): number;
  readonly rate: number;
  readonly demo: boolean;
  /** Only a demo clock changes speed. */
  setRate(rate: number): void;
}

/** A moment twice: the date it is written down with, and bench time gone by, ms, for what is measured. */
export interface Instant {
  at: number;
  passed: number;
}

export const instantOf = (clock: BenchClock): Instant => ({
  at: clock.now(),
  passed: clock.passed(),
});

/**
 * Time of this machine that goes by evenly, ms: nobody can set it, and every process on the machine counts the same.
 * While the machine sleeps it stands still.
 */
export const steadyMs = (): number => Number(process.hrtime.bigint() / 1000n) / 1000;

const began = Date.now() - steadyMs();
/** The machine's time as it was when this process began, and evenly since: for what counts real time whatever is set. */
export const steadyWall = (): number => began + steadyMs();

/** Where a clock stood at a moment of steady time; enough for another process to show the same time. */
export interface Anchor {
  bench: number;
  passed: number;
  steady: number;
  rate: number;
}

/** Bench time: steady time from an anchor on. What the wall clock of the machine does meanwhile does not reach it. */
export class SteadyClock implements BenchClock {
  #anchor: Anchor;
  #latest = -Infinity;
  #heard: () => void = () => undefined;

  constructor(
    start: { bench: number; rate: number } | Anchor,
    readonly demo: boolean,
    private readonly steady: () => number = steadyMs,
  ) {
    this.#anchor = 'steady' in start ? start : { ...start, passed: 0, steady: steady() };
  }

  now(): number {
    return (this.#latest = Math.max(this.#latest, Math.round(this.#anchor.bench + this.#since())));
  }

  passed(): number {
    return this.#anchor.passed + this.#since();
  }

  get rate(): number {
    return this.#anchor.rate;
  }

  get anchor(): Anchor {
    return this.#anchor;
  }

  setRate(rate: number): void {
    if (!this.demo) throw new Error('A shop clock has one speed.');
    this.#anchor = { ...this.#here(), rate };
    this.#heard();
  }

  /** Calls whenever the clock is set, by a person or to another speed. */
  onSet(hear: () => void): void {
    this.#heard = hear;
  }

  /** Dates things by so much later (or earlier) from now on, ms, because a person says so; what has gone by stays what it was. */
  move(byMs: number): void {
    this.#latest = -Infinity;
    this.draw(byMs);
    this.#heard();
  }

  /** As {@link move}, by a little and without ever stepping back. */
  draw(byMs: number): void {
    const here = this.#here();
    this.#anchor = { ...here, bench: here.bench + byMs };
  }

  /** Takes over the time of another process's clock. */
  follow(anchor: Anchor): void {
    this.#latest = -Infinity;
    this.#anchor = anchor;
  }

  #since(): number {
    return (this.steady() - this.#anchor.steady) * this.#anchor.rate;
  }

  #here(): Anchor {
    return {
      bench: this.#anchor.bench + this.#since(),
      passed: this.passed(),
      steady: this.steady(),
      rate: this.#anchor.rate,
    };
  }
}

/** Apart by more than this, one of the two was set, or the machine slept; by less, a clock merely runs a little fast. ms */
export const WALL_SLACK_MS = 2 * 60_000;
/** A start so long after the last entry is asked about: a machine whose clock battery died wakes up in any year. ms */
const LONG_AWAY_MS = 30 * 24 * 3_600_000;
/** Bench time follows a wall clock that runs a little fast or slow by at most this share. */
const SLEW = 0.005;

/**
 * Holds bench time against the machine's clock. A little apart, bench time is drawn after it, slowly; more than two
 * minutes apart, bench time goes on evenly and the difference is told, until a person says which is right.
 */
export class WallWatch {
  #lookedAt: number;
  #told: number | null = null;
  #kept: number | null = null;

  constructor(
    private readonly clock: SteadyClock,
    private readonly wall: () => number = Date.now,
    private readonly steady: () => number = steadyMs,
  ) {
    this.#lookedAt = steady();
  }

  /** Where the machine's clock stands; null while they agree. */
  standing(): MachineClock | null {
    const apart = Math.round(this.wall() - this.clock.now());
    return Math.abs(apart) > WALL_SLACK_MS
      ? {
          aheadMs: apart,
          kept: this.#kept !== null && Math.abs(apart - this.#kept) <= WALL_SLACK_MS,
        }
      : null;
  }

  /** A person says that the machine's clock is wrong as it stands; set again, it is asked about again. */
  keepBench(): void {
    this.#kept = this.wall() - this.clock.now();
  }

  /** @returns the difference when there is a new one to tell, ms; 0 when there is none any more; null when nothing is new */
  look(): number | null {
    const sinceMs = Math.max(0, this.steady() - this.#lookedAt);
    this.#lookedAt = this.steady();
    const apart = this.wall() - this.clock.now();
    if (Math.abs(apart) <= WALL_SLACK_MS) {
      const most = SLEW * sinceMs;
      this.clock.draw(Math.max(-most, Math.min(most, apart)));
      const was = this.#told;
      this.#told = this.#kept = null;
      return was === null ? null : 0;
    }
    if (this.#told !== null && Math.abs(apart - this.#told) <= WALL_SLACK_MS) return null;
    this.#told = Math.round(apart);
    return this.#told;
  }
}

/**
 * A shop's clock. It starts with the machine's clock, unless that lies before the latest entry or long after it:
 * then it goes on from that entry, and {@link WallWatch} asks.
 *
 * @param latest the latest moment already on record; 0 when there is none
 */
export function shopClock(
  latest: number,
  wall: () => number = Date.now,
  steady: () => number = steadyMs,
): SteadyClock {
  const machine = wall();
  const credible =
    latest === 0 || (machine >= latest - WALL_SLACK_MS && machine - latest < LONG_AWAY_MS);
  return new SteadyClock(
    { bench: credible ? Math.max(machine, latest) : latest, rate: 1 },
    false,
    steady,
  );
}

/** The demo's clock: starts at a moment of its own, may run fast, and asks no wall. */
export function demoClock(
  start: number,
  rate: number,
  steady: () => number = steadyMs,
): SteadyClock {
  return new SteadyClock({ bench: start, rate }, true, steady);
}
