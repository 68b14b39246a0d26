// Any battery there could be: does the model come to its end with it, and do its books balance?
import { performance } from 'node:perf_hooks';
import { anyBattery, runOff } from '../../test/support/anyBattery.ts';
import { say, title } from './figures.ts';

export function benchBatteries(count: number): void {
  title(
    `${count} random batteries: 0.5–3000 Ah, 1–12 cells, every fault, −30 to 60 °C, ±5 C, up to a year`,
  );
  const began = performance.now();
  let steps = 0;
  let chargeOff = 0;
  let energyOff = 0;
  const failed: string[] = [];
  for (let seed = 1; seed <= count; seed++) {
    try {
      const { battery, driven } = anyBattery(seed);
      const off = runOff(battery, driven);
      steps = Math.max(steps, off.steps);
      chargeOff = Math.max(chargeOff, off.chargeOff);
      energyOff = Math.max(energyOff, off.energyOff);
    } catch (error) {
      failed.push(`${seed}: ${(error as Error).message}`);
    }
  }
  say(
    'did not come to their end, or to numbers that are none',
    String(failed.length),
    failed.slice(0, 5).join(' · '),
  );
  say('most steps of one drive', String(steps), 'limit 20,000');
  say('charge off, worst', chargeOff.toExponential(1), 'aim 1e-9');
  say('energy off, worst', energyOff.toExponential(1));
  say('time', `${((performance.now() - began) / 1000).toFixed(0)} s`);
}
