import { expect } from 'chai';
import type { Phase } from '../../src/core/chargers/behaviour.ts';
import { ChargerRun } from '../../src/core/chargers/chargerRun.ts';
import { makeBattery } from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { labelledSize } from '../../src/core/simulation/labelled.ts';
import { Stepper } from '../../src/core/simulation/step.ts';
import { MODELS } from '../../src/core/drill/cases/shop.ts';

const HOUR_S = 3600;
type Bulk = Extract<Phase, { does: 'bulk' }>;

/** An open 60 Ah battery, half flat, on a charger that does these things. */
function on(phases: readonly Phase[], charge = 0.5) {
  const battery = makeBattery(
    DESIGNS.flooded,
    labelledSize(MODELS.fell60),
    { charge, temperatureC: 20 },
    20,
  );
  const stepper = new Stepper(battery);
  return { stepper, run: new ChargerRun({ phases, endsItself: true }, stepper, battery) };
}

const bulk = (more: Partial<Bulk> = {}): Phase => ({
  does: 'bulk',
  amps: 6,
  ceilingV: 14.4,
  compensated: false,
  timerS: null,
  ...more,
});
const held: Phase = {
  does: 'hold',
  amps: 6,
  ceilingV: 14.4,
  compensated: false,
  tailA: 0.6,
  mostS: 4 * HOUR_S,
};

/** Moves it on until something else is believed, or so long. */
function follow(run: ChargerRun, mostS: number): void {
  const { stepper } = run;
  const untilS = stepper.elapsedS + mostS;
  while (run.believes === 'charging' && stepper.elapsedS < untilS)
    run.step(untilS - stepper.elapsedS);
}

describe('a charger on a battery, moved on bit by bit', () => {
  it('gives its current up to its ceiling, then holds that until the tail, and then believes it is full', () => {
    const { run, stepper } = on([bulk(), held]);
    let firstHeldH: number | null = null;
    for (let i = 0; i < 10_000 && run.believes === 'charging'; i++) {
      const before = run.phase;
      run.step(300);
      expect(stepper.voltageV).to.be.at.most(14.4 + 0.005);
      expect(stepper.currentA).to.be.at.most(6 + 1e-6);
      if (before?.does === 'bulk' && run.phase !== before) firstHeldH = stepper.elapsedS / HOUR_S;
    }
    // Half of 60 Ah at 6 A: five hours would fill it, the ceiling comes before.
    expect(firstHeldH).to.be.within(2.5, 5);
    expect(run.believes).to.equal('full');
    expect(run.phase).to.equal(null);
  });

  it('stands still once it has come to its end', () => {
    const { run, stepper } = on([bulk(), held], 0.95);
    follow(run, 24 * HOUR_S);
    expect(run.believes).to.equal('full');
    const { elapsedS } = stepper;
    run.step(HOUR_S);
    expect(stepper.elapsedS).to.equal(elapsedS);
  });

  it('a first stage that takes longer than its timer is given up, and named', () => {
    const { run, stepper } = on([bulk({ amps: 0.5, timerS: 6 * HOUR_S }), held]);
    follow(run, 48 * HOUR_S);
    expect(run.believes).to.equal('timer');
    expect(stepper.elapsedS / HOUR_S).to.be.within(6, 6.6);
  });

  it('a ceiling that follows the temperature lies higher on a cold battery', () => {
    const peak = (compensated: boolean): number => {
      const { run, stepper } = on([bulk({ compensated })], 0.9);
      let most = 0;
      for (let i = 0; i < 2000 && run.believes === 'charging'; i++) {
        run.step(60);
        most = Math.max(most, stepper.voltageV);
      }
      return most;
    };
    // 5 K under 25 °C, 3 to 5 mV a cell and K.
    expect(peak(true) - peak(false)).to.be.within(6 * 5 * 0.003 - 0.01, 6 * 5 * 0.005 + 0.01);
  });

  it('takes no longer a step than it is given', () => {
    const { run, stepper } = on([bulk(), held]);
    for (const mostS of [1, 7, 60, 600]) {
      const before = stepper.elapsedS;
      run.step(mostS);
      expect(stepper.elapsedS - before).to.be.within(0, mostS + 1e-9);
    }
  });
});
