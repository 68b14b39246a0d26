import { RouteTrial } from '../../src/core/diagnosis/findings.ts';
import { follow, routeFit, routeFits } from '../../src/core/diagnosis/outcome.ts';
import { Population, SETTLED_SIZE } from '../../src/core/diagnosis/population.ts';
import { type RouteKey, ROUTES } from '../../src/core/diagnosis/routes.ts';
import { DEFAULT_STAKES } from '../../src/core/diagnosis/stakes.ts';
import { traceEvidence } from '../../src/core/recovery/evidence.ts';
import type { Band } from '../../src/core/rehearsal/outlook.ts';
import { rehearse } from '../../src/core/rehearsal/rehearse.ts';
import { copyBattery } from '../../src/core/simulation/battery.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { hiddenBattery } from './hiddenBatteries.ts';

const AT_H = [0, 3, 10] as const;
const ROUTE: RouteKey = 'slow-restore';
/** Meters of the bench, V and A, one deviation. */
const NOISE = { volts: 0.02, amps: 0.02 };

/** Charges of hidden batteries, forecast by what they have shown so far, and held against what came. */
export function benchForecast(count = Number(process.env['HIDDEN'] ?? 100)): void {
  const random = seeded(31_415);
  const seen = AT_H.map((at) => ({
    at,
    n: 0,
    ms: 0,
    capacity: 0,
    restV: 0,
    hours: 0,
    width: 0,
    off: 0,
  }));
  for (let i = 0; i < count; i++) {
    const { subject, truth, evidence } = hiddenBattery(random);
    const open = subject.chemistry === 'flooded';
    const fit = routeFits(ROUTES[ROUTE], subject.chemistry, open)
      ? routeFit(ROUTES[ROUTE], subject)
      : null;
    if (!fit) continue;
    const came = follow(truth, ROUTES[ROUTE], fit, open);
    if (came.failed) continue;
    const { trace } = rehearse(copyBattery(truth.battery), fit);
    for (const s of seen) {
      const until = trace.hours.filter((h) => h <= s.at).length;
      const noisy = (values: readonly number[], off: number): number[] =>
        Array.from({ length: until }, (_, k) => (values[k] as number) + off * random.normal());
      const shown = traceEvidence(
        trace.hours.slice(0, until),
        noisy(trace.voltageV, NOISE.volts),
        noisy(trace.currentA, NOISE.amps),
      );
      if (s.at > 0 && !shown) continue;
      const began = performance.now();
      const trial = new RouteTrial(
        new Population(subject, shown ? [...evidence, shown] : evidence, SETTLED_SIZE).settle(),
        open,
        [ROUTE],
        72,
      );
      while (trial.next());
      const [odds] = trial.odds(DEFAULT_STAKES);
      s.ms += performance.now() - began;
      if (!odds) continue;
      const within = ({ low, high }: Band, value: number): number =>
        Number(value >= low && value <= high);
      s.n++;
      s.capacity += within(odds.capacity, came.capacity);
      s.restV += within(odds.restV, came.restV);
      s.hours += within(odds.hours, came.hours);
      s.width += odds.capacity.high - odds.capacity.low;
      s.off += Math.abs(odds.capacity.middle - came.capacity);
    }
  }
  console.log(
    `forecast of a slow restore, hidden batteries that take a charge; 8 of 10 should fall within`,
  );
  for (const { at, n, ms, capacity, restV, hours, width, off } of seen) {
    const share = (hits: number): string => `${((100 * hits) / n).toFixed(0)} %`;
    console.log(
      `  after ${at} h (${n}): capacity ${share(capacity)} (band ${(width / n).toFixed(2)} wide, off by ${(off / n).toFixed(3)}), volts a day later ${share(restV)}, hours ${share(hours)}; ${(ms / n).toFixed(0)} ms`,
    );
  }
}
