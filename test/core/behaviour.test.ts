import { expect } from 'chai';
import fc from 'fast-check';
import type { ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import { type Condition, copyBattery, makeBattery, type SimBattery, viewBattery, viewCell } from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { Pair } from '../../src/core/simulation/parallel.ts';
import { copettiCapacity } from '../../src/core/simulation/published.ts';
import { REST, Stepper } from '../../src/core/simulation/step.ts';

const HOUR = 3600;
const make = (kind: ChemistryKey, condition: Partial<Condition> = {}, c20Ah = 60, cells = 6, factors = {}): SimBattery =>
  makeBattery(DESIGNS[kind], { c20Ah, cells }, { charge: 1, temperatureC: 25, ...condition }, condition.temperatureC ?? 25, factors);

function run(battery: SimBattery, currentA: number, limitV: number, hours: number): Stepper {
  const stepper = new Stepper(battery);
  stepper.run({ currentA, limitV }, hours * HOUR);
  return stepper;
}

function ampereHours(battery: SimBattery, currentA: number, cutV: number): number {
  const stepper = new Stepper(battery);
  while (stepper.elapsedS < 60 * HOUR) {
    const before = { s: stepper.elapsedS, v: stepper.voltageV };
    stepper.step({ currentA: -currentA, limitV: Infinity }, 60);
    if (stepper.voltageV <= cutV) return (currentA * (before.s + (stepper.elapsedS - before.s) * ((before.v - cutV) / (before.v - stepper.voltageV)))) / HOUR;
  }
  return Infinity;
}

describe('simulated batteries: size and number of cells', () => {
  it('volts go with the number of cells, from 1 to 12', () => {
    const one = run(make('agm', { charge: 0.4 }, 20, 1, { cooling: 1000 }), 2, 99, 2).voltageV;
    for (const cells of [2, 3, 6, 12]) {
      expect(run(make('agm', { charge: 0.4 }, 20, cells, { cooling: 1000 }), 2, 99, 2).voltageV / cells, `${cells} cells`).to.be.closeTo(one, 0.002);
    }
    for (const cells of [0, 13, 2.5]) expect(() => make('agm', {}, 20, cells)).to.throw('1 to 12 cells');
  });

  it('at the same share of C20 a small and a large battery show the same volts, but for their warmth', () => {
    const volts = (ah: number) => run(make('flooded', { charge: 0.4 }, ah, 6, { cooling: 1000 }), ah * 0.1, 99, 2).voltageV;
    expect(volts(4)).to.be.closeTo(volts(200), 0.005);
    const warm = (ah: number) => run(make('flooded', { charge: 0.4 }, ah), ah * 0.15, 14.6, 3).temperatureC;
    expect(warm(200)).to.be.greaterThan(warm(4) + 1);
  });

  it('refuses what no battery can be', () => {
    expect(() => make('agm', { charge: 1.2 })).to.throw('between 0 and 1');
    expect(() => make('agm', {}, 0)).to.throw('more than 0 Ah');
  });
});

describe('simulated batteries: against published capacity', () => {
  it('flooded capacity falls with current: as Copetti says within 12 % to I10, and slower above, where the rating binds', () => {
    const ratios: number[] = [];
    const c10 = 60 * 0.5 ** (1 - 1 / 1.2);
    for (const times of [0.5, 1, 2, 3, 5]) {
      const amps = (times * c10) / 10;
      const cut = 10.5 - 0.2 * Math.max(0, times - 3);
      ratios.push(ampereHours(make('flooded'), amps, cut) / (copettiCapacity(amps, c10 / 10, 25) * c10));
    }
    expect(ratios[0]!).to.be.within(0.88, 1.12);
    expect(ratios[1]!).to.be.within(0.88, 1.12);
    // Above that the two published laws part: Peukert's exponent gives 1.7 times Copetti's capacity at 5 I10, and ratings follow Peukert.
    for (let i = 1; i < ratios.length; i++) expect(ratios[i]!).to.be.greaterThan(ratios[i - 1]!);
  });

  it('what goes in beyond what came out is near the usual recharge factor when it is full', () => {
    for (const kind of ['flooded', 'agm'] as const) {
      const battery = make(kind);
      const out = ampereHours(battery, 3, 10.5);
      const before = viewBattery(battery).chargeInAh;
      run(battery, 6, 14.4, 24);
      expect((viewBattery(battery).chargeInAh - before) / out, kind).to.be.within(0.97, 1.16);
    }
  });
});

describe('simulated batteries: what they do', () => {
  it('float holds a full battery for a week at next to no current and no heat', () => {
    const stepper = run(make('agm', { charge: 0.98 }), 3, 13.6, 7 * 24);
    expect(stepper.currentA).to.be.within(0, 0.06);
    expect(stepper.temperatureC).to.be.closeTo(25, 0.5);
    expect(viewBattery(stepper.battery).charge).to.be.greaterThan(0.97);
  });

  it('a cell that is behind catches up under a long gentle overcharge, and not at float', () => {
    const behind = () => make('flooded', { charge: 0.95, cells: [{}, {}, { behind: 0.2 }] });
    const lag = (battery: SimBattery) => viewCell(battery, 0).charge - viewCell(battery, 2).charge;
    const gentle = behind();
    run(gentle, 1.5, 15.6, 30);
    const floated = behind();
    run(floated, 1.5, 13.4, 30);
    expect(lag(gentle)).to.be.lessThan(0.03);
    expect(lag(floated)).to.be.greaterThan(lag(gentle) + 0.05);
  });

  it('a weak cell is driven through zero by its neighbours', () => {
    const battery = make('flooded', { cells: [{}, { active: 0.4 }] });
    run(battery, -6, Infinity, 7);
    expect(viewCell(battery, 1).voltageV).to.be.lessThan(0);
    expect(viewCell(battery, 0).voltageV).to.be.greaterThan(1.9);
  });

  it('an internal short empties its own cell and no other', () => {
    const battery = make('agm', { cells: [{}, { shortOhm: 20 }] });
    run(battery, 0, Infinity, 30 * 24);
    expect(viewCell(battery, 1).charge).to.be.lessThan(0.2);
    expect(viewCell(battery, 0).charge).to.be.greaterThan(0.93);
  });

  it('a warm battery cools to its room, a large one slower', () => {
    const after = (ah: number) => run(makeBattery(DESIGNS.agm, { c20Ah: ah, cells: 6 }, { charge: 1, temperatureC: 45 }, 20), 0, Infinity, 2).temperatureC;
    expect(after(12)).to.be.lessThan(after(120));
    expect(after(12)).to.be.within(20, 40);
    expect(run(makeBattery(DESIGNS.agm, { c20Ah: 12, cells: 6 }, { charge: 1, temperatureC: 45 }, 20), 0, Infinity, 48).temperatureC).to.be.closeTo(20, 0.5);
  });

  it('hard sulfate raises the volts on charge and lowers them under load', () => {
    const volts = (hard: number, amps: number) => {
      const battery = make('flooded', { charge: 0.5, cells: Array.from({ length: 6 }, () => ({ hard })) });
      return run(battery, amps, 99, 0.2).voltageV;
    };
    expect(volts(0.3, 6)).to.be.greaterThan(volts(0.1, 6) + 0.2);
    expect(volts(0.1, 6)).to.be.greaterThan(volts(0, 6));
    expect(volts(0.3, -30)).to.be.lessThan(volts(0, -30) - 0.1);
  });

  it('bursts and a steady current of the same mean put in the same charge', () => {
    const steady = make('flooded', { charge: 0.3 });
    run(steady, 3, 99, 4);
    const pulsed = make('flooded', { charge: 0.3 });
    const stepper = new Stepper(pulsed);
    for (let i = 0; i < 240; i++) {
      stepper.run({ currentA: 9, limitV: 99 }, 20);
      stepper.run(REST, 40);
    }
    expect(viewBattery(pulsed).chargeInAh).to.be.closeTo(viewBattery(steady).chargeInAh, 0.01);
    expect(viewBattery(pulsed).charge).to.be.closeTo(viewBattery(steady).charge, 0.01);
  });

  it('a copy lives its own life', () => {
    const battery = make('gel', { charge: 0.5 });
    const twin = copyBattery(battery);
    run(twin, 5, 14.1, 2);
    expect(viewBattery(battery).charge).to.be.closeTo(0.5, 1e-9);
    expect(viewBattery(twin).charge).to.be.greaterThan(0.6);
  });

  it('two equal batteries side by side pass nothing between them; a charger is shared', () => {
    const pair = new Pair(make('flooded', { charge: 0.6 }), make('flooded', { charge: 0.6 }), 0.004);
    expect(Math.abs(pair.inrushA())).to.be.lessThan(0.01);
    pair.run({ currentA: 10, limitV: 14.4 }, HOUR);
    expect(pair.firstA).to.be.closeTo(5, 0.6);
    expect(pair.firstA + pair.secondA).to.be.closeTo(10, 1e-6);
    expect(() => new Pair(make('flooded'), make('flooded'), 0)).to.throw('above 0 Ω');
  });

  it('the inrush into a flat battery follows Ohm: what is between them over all that is in the way', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.002, max: 0.1, noNaN: true }), fc.double({ min: 0.05, max: 0.5, noNaN: true }), (leadOhm, charge) => {
        const [donor, flat] = [make('flooded'), make('flooded', { charge })];
        const between = viewBattery(donor).openV - viewBattery(flat).openV;
        const inrush = new Pair(donor, flat, leadOhm).inrushA();
        expect(inrush).to.be.greaterThan(0);
        expect(inrush).to.be.lessThan(between / leadOhm);
        expect(new Pair(donor, flat, leadOhm * 2).inrushA()).to.be.lessThan(inrush);
      }),
      { numRuns: 30 },
    );
  });
});
