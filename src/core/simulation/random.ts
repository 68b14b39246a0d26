/** A stream of chance that is the same for the same seed, so that a rehearsal can be repeated. */
export interface Random {
  /** Evenly between 0 and 1. */
  even: () => number;
  /** Normal, mean 0 and deviation 1. */
  normal: () => number;
}

/**
 * Mulberry32 (a 32-bit counter through a mixing function; public domain) with the polar method for
 * normal numbers. Good enough for drawing twins; not for secrets.
 */
export function seeded(seed: number): Random {
  let counter = seed >>> 0;
  const uniform = (): number => {
    counter = (counter + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(counter ^ (counter >>> 15), counter | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  let spare: number | null = null;
  const normal = (): number => {
    if (spare !== null) {
      const kept = spare;
      spare = null;
      return kept;
    }
    for (;;) {
      const x = 2 * uniform() - 1;
      const y = 2 * uniform() - 1;
      const r = x * x + y * y;
      if (r === 0 || r >= 1) continue;
      const scale = Math.sqrt((-2 * Math.log(r)) / r);
      spare = y * scale;
      return x * scale;
    }
  };
  return { even: uniform, normal };
}
