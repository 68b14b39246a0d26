// How fast the battery model runs, beside the same equations as a plain C loop, and how far its free steps are off.
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { copyBattery, makeBattery, type SimBattery } from '../../src/core/simulation/battery.ts';
import { viewBattery } from '../../src/core/simulation/view.ts';
import { DESIGN_KEYS, DESIGNS } from '../../src/core/simulation/design.ts';
import { FINE, Stepper } from '../../src/core/simulation/step.ts';
import { ROOT } from '../setup.mjs';
import { say, title } from './figures.ts';

const HOURS = 16;
const AMPS = 6;
const LIMIT = 14.4;
const SECONDS = 3;

const begin = (): SimBattery =>
  makeBattery(
    DESIGNS.agm,
    { c20Ah: 60, cells: 6 },
    {
      charge: 0.3,
      temperatureC: 20,
      cells: [
        {},
        { behind: 0.02 },
        { active: 0.97 },
        { behind: 0.05 },
        { active: 0.95 },
        { hard: 0.03 },
      ],
    },
  );

const origin = begin();

/** One charge from the same beginning; the C loop copies its state just so. */
function charge(): Stepper {
  const stepper = new Stepper(copyBattery(origin));
  stepper.run({ currentA: AMPS, limitV: LIMIT }, HOURS * 3600);
  return stepper;
}

/** The C loop of the same equations, from the same numbers, compiled with -O2. */
function inC(runs: number): { seconds: number; volts: number; ah: number } | null {
  const folder = mkdtempSync(join(tmpdir(), 'cork-ember-c-'));
  try {
    const battery = begin();
    const list = (values: Iterable<number>) => [...values].join(', ');
    const lines = [
      ...DESIGN_KEYS.map((key) => `#define P_${key} ${battery.design[key]}`),
      `#define CELLS ${battery.cells}`,
      `#define C20 ${battery.c20Ah}.0`,
      `#define AMBIENT ${battery.ambientC}.0`,
      `#define HOURS ${HOURS}`,
      `#define AMPS ${AMPS}.0`,
      `#define LIMIT ${LIMIT}`,
      `#define RUNS ${runs}`,
      `#define VOLTS_PER_CELL ${FINE.voltsPerCell}`,
      `#define CHARGE ${FINE.charge}`,
      `#define TRANSIENT ${FINE.transient}`,
      `#define LONGEST_S ${FINE.longestS}.0`,
      `static const double MAKES[] = { ${list(battery.make)} };`,
      `static const double BEGIN[] = { ${list(battery.state)} };`,
    ];
    writeFileSync(join(folder, 'numbers.h'), `${lines.join('\n')}\n`);
    copyFileSync(join(ROOT, 'scripts/bench/battery.c'), join(folder, 'battery.c'));
    const built = spawnSync(
      'cc',
      ['-O2', '-o', join(folder, 'battery'), join(folder, 'battery.c'), '-lm'],
      { encoding: 'utf8' },
    );
    if (built.status !== 0) throw new Error(built.stderr);
    const [seconds = 0, volts = 0, ah = 0] = spawnSync(join(folder, 'battery'), {
      encoding: 'utf8',
    })
      .stdout.trim()
      .split(' ')
      .map(Number);
    return { seconds, volts, ah };
  } catch (error) {
    console.log(`No C yardstick: ${(error as Error).message.split('\n')[0]}`);
    return null;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

export function benchSimulation(): void {
  title(`Battery model: 6 cells, ${HOURS} h of constant current, then held volts`);
  for (let i = 0; i < 200; i++) charge();
  const began = performance.now();
  let runs = 0;
  let last = charge();
  while (performance.now() - began < SECONDS * 1000) {
    last = charge();
    runs += 1;
  }
  const seconds = (performance.now() - began) / 1000;
  const rate = (runs * HOURS) / seconds;
  const c = inC(runs);
  const cRate = c ? (runs * HOURS) / c.seconds : 0;
  say(
    'simulated battery-hours a second, one core',
    rate.toFixed(0),
    c
      ? `C with -O2 in the same run: ${cRate.toFixed(0)}, ${(cRate / rate).toFixed(2)} × as many; aim ≥ 20,000, C at most 1.5 × as many`
      : 'aim ≥ 20,000',
  );
  say('steps for the charge', String(last.steps));
  if (c) {
    say(
      'against the C loop at the end',
      `${(1000 * Math.abs(last.voltageV - c.volts)).toFixed(4)} mV`,
      `${(1e6 * Math.abs(viewBattery(last.battery).chargeInAh - c.ah)).toFixed(3)} µAh apart`,
    );
  }
  const drive = { currentA: AMPS, limitV: LIMIT };
  const second = new Stepper(begin(), {
    voltsPerCell: 1e9,
    charge: 1e9,
    longestS: 1,
    longestRestS: 1,
    transient: 1,
  });
  const bySecond = [second.voltageV];
  while (bySecond.length <= HOURS * 3600) {
    second.nextS = 1;
    second.step(drive, 1);
    bySecond.push(second.voltageV);
  }
  const free = new Stepper(begin());
  let worst = 0;
  while (free.elapsedS < HOURS * 3600 - 1e-6) {
    free.step(drive, HOURS * 3600 - free.elapsedS);
    const s = Math.min(Math.floor(free.elapsedS), HOURS * 3600 - 1);
    const [before, after] = [bySecond[s] as number, bySecond[s + 1] as number];
    if (free.elapsedS > 1)
      worst = Math.max(
        worst,
        Math.abs(before + (free.elapsedS - s) * (after - before) - free.voltageV),
      );
  }
  const ah = viewBattery(free.battery).chargeInAh / viewBattery(second.battery).chargeInAh - 1;
  say('worst volts against steps of one second', `${(1000 * worst).toFixed(2)} mV`, 'aim ≤ 5 mV');
  say(
    'charge put in against steps of one second',
    `${(100 * Math.abs(ah)).toFixed(3)} %`,
    'aim ≤ 0.5 %',
  );
}
