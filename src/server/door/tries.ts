import { isIPv6 } from 'node:net';
import { LRUCache } from 'lru-cache';
import { steadyMs } from '../clock.ts';

/** Wrong tries that cost no wait; then one that doubles with each, up to a quarter of an hour. */
const FREE = 3;
/** Of all people together from one address: a shared tablet is mistyped by many. */
const FREE_OF_ADDRESS = 12;
/** Of one person from all places that are new to the shop together: somebody with many addresses tries no faster than this. */
const FREE_OF_NEW_PLACES = 30;
const MOST_WAIT_MS = 15 * 60_000;
/** Forgotten after a day, and when more than this many others have failed since. */
const KEPT_MS = 24 * 3_600_000;
const MOST_KEPT = 10_000;

interface Tried {
  count: number;
  until: number;
  /** A try that is being worked out. */
  underWay: boolean;
}

/** A try that was let in: what came of it is said afterwards. */
export interface Try {
  right(): void;
  wrong(): void;
  /** It came to nothing: nobody knows whether it was right. */
  dropped(): void;
}

/**
 * Who has tried how often, by a person together with where it was tried from, and by that place alone. Places that are new
 * count together as well; a device somebody has signed in on counts for itself, so that nobody can lock another out of the
 * one in his hands. A try counts before it is worked out, and one at a time.
 */
export class Tries {
  readonly #tried: LRUCache<string, Tried>;

  constructor(private readonly steady: () => number = steadyMs) {
    this.#tried = new LRUCache({ max: MOST_KEPT, ttl: KEPT_MS, perf: { now: steady } });
  }

  /** @returns the try, or how long to wait before another, ms */
  begin(personId: string, from: { device: string | null; address: string }): Try | number {
    const place = network(from.address);
    const freeBy: Record<string, number> = from.device
      ? { [`${personId} on ${from.device}`]: FREE }
      : {
          [`${personId} at ${place}`]: FREE,
          [`at ${place}`]: FREE_OF_ADDRESS,
          [`new places of ${personId}`]: FREE_OF_NEW_PLACES,
        };
    const keys = Object.keys(freeBy);
    const now = this.steady();
    const waits = keys.map((key) => {
      const tried = this.#tried.get(key);
      return tried
        ? Math.max(tried.until - now, tried.underWay && key.startsWith(personId) ? 1000 : 0)
        : 0;
    });
    const wait = Math.max(...waits);
    if (wait > 0) return wait;
    for (const key of keys) {
      const count = (this.#tried.get(key)?.count ?? 0) + 1;
      const free = freeBy[key] as number;
      this.#tried.set(key, {
        count,
        until: now + (count < free ? 0 : Math.min(MOST_WAIT_MS, 1000 * 2 ** (count - free))),
        underWay: true,
      });
    }
    const over = (change: (tried: Tried) => Tried | null): void => {
      for (const key of keys) {
        const tried = this.#tried.get(key);
        const next = tried && change({ ...tried, underWay: false });
        if (next) this.#tried.set(key, next);
        else this.#tried.delete(key);
      }
    };
    return {
      right: () => over(() => null),
      wrong: () => over((tried) => tried),
      dropped: () =>
        over((tried) => (tried.count > 1 ? { ...tried, count: tried.count - 1, until: 0 } : null)),
    };
  }
}

/** Where a request comes from: an address, or of the new ones the half that a house has for itself. */
function network(address: string): string {
  if (!isIPv6(address)) return address;
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return mapped;
  const [head = '', tail] = address.split('::');
  const first = head.split(':').filter(Boolean);
  const last = tail?.split(':').filter(Boolean) ?? [];
  const whole =
    tail === undefined
      ? first
      : [
          ...first,
          ...Array<string>(Math.max(0, 8 - first.length - last.length)).fill('0'),
          ...last,
        ];
  return whole.slice(0, 4).join(':');
}
