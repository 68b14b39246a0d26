import { expect } from 'chai';
import fc from 'fast-check';
import type { ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import { capacityLawOf, expectedMinutes } from '../../src/core/capacity/capacityTest.ts';
import {
  type CellCondition,
  type Condition,
  copyBattery,
  makeBattery,
  type SimBattery,
} from '../../src/core/simulation/battery.ts';
import { viewBattery, viewCell } from '../../src/core/simulation/view.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { kernel } from '../../src/core/simulation/kernel.ts';
import { labelledSize } from '../../src/core/simulation/labelled.ts';
import { Pair } from '../../src/core/simulation/parallel.ts';
import { REST, Stepper } from '../../src/core/simulation/step.ts';
import { anyBattery, runOff } from '../support/anyBattery.ts';
import { BY_KIND } from '../support/battery.ts';
import {
  AGM_MILLIOHM,
  behaviourOf,
  hoursDown,
  type Measured,
  milliohmOf,
} from '../support/behaviour.ts';

const HOUR = 3600;
const { exp, log } = kernel;
const make = (
  kind: ChemistryKey,
  condition: Partial<Condition> = {},
  c20Ah = 60,
  cells = 6,
  factors = {},
): SimBattery =>
  makeBattery(
    DESIGNS[kind],
    { c20Ah, cells },
    { charge: 1, temperatureC: 25, ...condition },
    condition.temperatureC ?? 25,
    factors,
  );

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
    if (stepper.voltageV <= cutV)
      return (
        (currentA *
          (before.s +
            (stepper.elapsedS - before.s) * ((before.v - cutV) / (before.v - stepper.voltageV)))) /
        HOUR
      );
  }
  return Infinity;
}

describe('simulated batteries: size and number of cells', () => {
  it('volts go with the number of cells, from 1 to 12', () => {
    const one = run(make('agm', { charge: 0.4 }, 20, 1, { cooling: 1000 }), 2, 99, 2).voltageV;
    for (const cells of [2, 3, 6, 12]) {
      expect(
        run(make('agm', { charge: 0.4 }, 20, cells, { cooling: 1000 }), 2, 99, 2).voltageV / cells,
        `${cells} cells`,
      ).to.be.closeTo(one, 0.002);
    }
    for (const cells of [0, 13, 2.5])
      expect(() => make('agm', {}, 20, cells)).to.throw('1 to 12 cells');
  });

  it('at the same share of C20 a small and a large battery show the same volts, but for their warmth', () => {
    const volts = (ah: number) =>
      run(make('flooded', { charge: 0.4 }, ah, 6, { cooling: 1000 }), ah * 0.1, 99, 2).voltageV;
    expect(volts(4)).to.be.closeTo(volts(200), 0.005);
    const warm = (ah: number) =>
      run(make('flooded', { charge: 0.4 }, ah), ah * 0.15, 14.6, 3).temperatureC;
    expect(warm(200)).to.be.greaterThan(warm(4) + 1);
  });

  it('refuses what no battery can be', () => {
    expect(() => make('agm', { charge: 1.2 })).to.throw('between 0 and 1');
    expect(() => make('agm', {}, 0)).to.throw('more than 0 Ah');
  });
});

describe('simulated batteries: how a sound one behaves', () => {
  // Sizes of the table and between them, at 25 °C; behaviourOf has the rows that are measured colder.
  for (const kind of ['flooded', 'agm', 'gel'] as const)
    for (const c20Ah of [4, 60, 135])
      it(`${kind} of ${c20Ah} Ah: every row of the table lies within the range of published tests and data sheets`, () => {
        const rows = behaviourOf(kind, { c20Ah, cells: 6 });
        expect(rows.length).to.be.greaterThan(20);
        for (const { row, value, low, high } of rows) expect(value, row).to.be.within(low, high);
      });

  it('has the resistance of its size, or that of its label', () => {
    for (const [ah, [low, high]] of Object.entries(AGM_MILLIOHM))
      expect(milliohmOf(make('agm', {}, Number(ah))), `${ah} Ah`).to.be.within(low, high);
    const labelled = makeBattery(
      DESIGNS.flooded,
      { c20Ah: 60, cells: 6, milliohm: 4.2 },
      { charge: 1, temperatureC: 25 },
    );
    expect(milliohmOf(labelled)).to.be.closeTo(4.2, 0.15);
  });

  it('gives what its label prints at C/10 and for its reserve minutes, and at C/20 what it did', () => {
    const model: BatteryModel = {
      ...BY_KIND['flooded-sealed'],
      c20Ah: 75,
      c10Ah: null,
      reserveMin: null,
    };
    const hours = (more: Partial<BatteryModel>, amps: number) => {
      const label = { ...model, ...more };
      const law = capacityLawOf(label);
      const simulated = hoursDown(
        makeBattery(DESIGNS.flooded, labelledSize(label), { charge: 1, temperatureC: 25 }),
        amps,
        10.5,
      );
      // The law that turns tests into C20 goes through the printed points as the battery does.
      expect(
        (60 * simulated) / expectedMinutes(amps, law, 75),
        `${JSON.stringify(more)} at ${amps} A`,
      ).to.be.within(0.95, 1.05);
      return simulated;
    };
    const twentyHours = hours({}, 3.75);
    for (const reserveMin of [105, 120, 135]) {
      expect(60 * hours({ reserveMin }, 25), `${reserveMin} min`).to.be.closeTo(reserveMin, 2);
      expect(hours({ reserveMin }, 3.75)).to.be.closeTo(twentyHours, 0.15);
    }
    for (const c10Ah of [66, 69, 71])
      expect(hours({ c10Ah }, c10Ah / 10), `${c10Ah} Ah`).to.be.closeTo(10, 0.15);
  });

  it('antimony in the grids loses and floats as old-fashioned batteries do', () => {
    // 8 % a month at 20 °C; 1.5–5 mA/Ah on float after three days (IEEE class figures); calcium is in the table.
    const old = () =>
      makeBattery(DESIGNS.flooded, labelledSize({ ...BY_KIND['flooded-dry'], c20Ah: 60 }), {
        charge: 1,
        temperatureC: 20,
      });
    const shelf = old();
    new Stepper(shelf).run(REST, 30 * 24 * 3600);
    expect(1 - viewBattery(shelf).charge).to.be.within(0.06, 0.1);
    const floats = new Stepper(
      makeBattery(DESIGNS.flooded, labelledSize({ ...BY_KIND['flooded-dry'], c20Ah: 60 }), {
        charge: 1,
        temperatureC: 25,
      }),
    );
    floats.run({ currentA: 6, limitV: 13.6 }, 72 * 3600);
    expect((1000 * floats.currentA) / 60).to.be.within(1.5, 5);
  });

  it('a deep-cycle build sags more under 3 × C20 than a starter', () => {
    const loaded = (build: BatteryModel['build']) => {
      const size = labelledSize({ ...BY_KIND['flooded-sealed'], c20Ah: 80, build: build ?? null });
      const stepper = new Stepper(
        makeBattery(DESIGNS.flooded, size, { charge: 1, temperatureC: 25 }),
      );
      stepper.nextS = 0.05;
      stepper.run({ currentA: -240, limitV: Infinity }, 15);
      return stepper.voltageV;
    };
    expect(loaded('starter')).to.be.within(10.7, 11.5);
    expect(loaded('deep-cycle')).to.be.within(10, 11);
    expect(loaded('powersport')).to.be.above(loaded('starter'));
  });

  it('6 V shows half of what 12 V does', () => {
    const [six, twelve] = [3, 6].map((cells) => behaviourOf('agm', { c20Ah: 12, cells })) as [
      Measured[],
      Measured[],
    ];
    six.forEach(({ row, value }, i) => {
      // A smaller case is cooler, and what hangs on its warmth with it.
      if (!row.includes('K'))
        expect(value, row).to.be.closeTo(
          twelve[i]!.value,
          0.03 * Math.abs(twelve[i]!.value) + 0.02,
        );
    });
  });

  it('charges slower in the cold and faster in the warm, without a jump between', () => {
    const hours = (t: number): number => {
      const stepper = new Stepper(make('flooded', { charge: 0.1, temperatureC: t }));
      while (stepper.voltageV < 14.4 - 1e-6) stepper.step({ currentA: 6, limitV: 14.4 }, 120);
      return stepper.elapsedS / HOUR;
    };
    const course = [-10, 0, 10, 20, 30, 40].map(hours);
    for (let i = 1; i < course.length; i++)
      expect(course[i]! - course[i - 1]!).to.be.within(0, 2.2);
    expect(course[0]!).to.be.lessThan(6.5);
  });

  it('gives less at higher currents and in the cold, smoothly over the whole range', () => {
    const share = (rate: number, t: number): number =>
      ampereHours(make('agm', { temperatureC: t }), 60 * rate, 9.6) / 60;
    for (const t of [-18, 0, 25, 45]) {
      const course = [0.05, 0.1, 0.3, 1, 2, 3].map((rate) => share(rate, t));
      for (let i = 1; i < course.length; i++)
        expect(course[i]!, `${t} °C`).to.be.lessThan(course[i - 1]!);
    }
    for (const rate of [0.05, 0.3, 1])
      expect(share(rate, 0)).to.be.within(0.6 * share(rate, 25), 0.95 * share(rate, 25));
    // A burst of twelve times its C20 holds for a second or two, or not at all; it never makes volts.
    const burst = new Stepper(make('agm'));
    burst.run({ currentA: -5 * 60, limitV: Infinity }, 5);
    expect(burst.voltageV).to.be.within(8, 11);
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
    const after = (ah: number) =>
      run(
        makeBattery(DESIGNS.agm, { c20Ah: ah, cells: 6 }, { charge: 1, temperatureC: 45 }, 20),
        0,
        Infinity,
        2,
      ).temperatureC;
    expect(after(12)).to.be.lessThan(after(120));
    expect(after(12)).to.be.within(20, 40);
    expect(
      run(
        makeBattery(DESIGNS.agm, { c20Ah: 12, cells: 6 }, { charge: 1, temperatureC: 45 }, 20),
        0,
        Infinity,
        48,
      ).temperatureC,
    ).to.be.closeTo(20, 0.5);
  });

  it('sulfate raises the volts on charge, by its film, and lowers them under load', () => {
    const volts = (hard: number, amps: number) => {
      const battery = make('flooded', {
        charge: 0.5,
        cells: Array.from({ length: 6 }, () => ({ hard, film: 4 * hard })),
      });
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
    const pair = new Pair(
      make('flooded', { charge: 0.6 }),
      make('flooded', { charge: 0.6 }),
      0.004,
    );
    expect(Math.abs(pair.inrushA())).to.be.lessThan(0.01);
    pair.run({ currentA: 10, limitV: 14.4 }, HOUR);
    expect(pair.firstA).to.be.closeTo(5, 0.6);
    expect(pair.firstA + pair.secondA).to.be.closeTo(10, 1e-6);
    expect(() => new Pair(make('flooded'), make('flooded'), 0)).to.throw('above 0 Ω');
  });

  it('the inrush into a flat battery follows Ohm: what is between them over all that is in the way', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.002, max: 0.1, noNaN: true }),
        fc.double({ min: 0.05, max: 0.5, noNaN: true }),
        (leadOhm, charge) => {
          const [donor, flat] = [make('flooded'), make('flooded', { charge })];
          const between = viewBattery(donor).openV - viewBattery(flat).openV;
          const inrush = new Pair(donor, flat, leadOhm).inrushA();
          expect(inrush).to.be.greaterThan(0);
          expect(inrush).to.be.lessThan(between / leadOhm);
          expect(new Pair(donor, flat, leadOhm * 2).inrushA()).to.be.lessThan(inrush);
        },
      ),
      { numRuns: 30 },
    );
  });
});

describe('simulated batteries: what ails them', () => {
  const everyCell = (cell: CellCondition): Partial<Condition> => ({
    cells: Array.from({ length: 6 }, () => cell),
  });
  /** A charge as the bench would do it: C/10 to the ceiling, held for a night, a day's rest. */
  const charged = (battery: SimBattery): Stepper => {
    run(battery, 6, 14.4, 16);
    return run(battery, 0, Infinity, 24);
  };
  const loaded = (battery: SimBattery): number =>
    run(copyBattery(battery), -180, Infinity, 15 / 3600).voltageV;

  it('lightly sulfated: starts high, falls, rises; its ceiling comes early; it rests low and gives less', () => {
    const course = (battery: SimBattery): { volts: number[]; ah: number } => {
      const stepper = new Stepper(battery);
      const volts: number[] = [];
      while (stepper.voltageV < 14.4 - 1e-6) {
        stepper.run({ currentA: 3, limitV: 14.4 }, 300);
        volts.push(stepper.voltageV);
      }
      return { volts, ah: viewBattery(battery).chargeInAh };
    };
    const battery = make('flooded', { charge: 0.35, ...everyCell({ hard: 0.25, film: 1 }) });
    const [sulfated, sound] = [course(battery), course(make('flooded', { charge: 0.35 }))];
    const start = sulfated.volts[0]!;
    const lowest = Math.min(...sulfated.volts);
    expect(start - sound.volts[0]!).to.be.within(0.2, 1.5);
    expect(start - lowest).to.be.within(0.1, 0.6);
    expect(sulfated.volts.indexOf(lowest)).to.be.within(2, 30);
    expect(sulfated.ah / sound.ah).to.be.within(0.5, 0.9);
    const settled = charged(battery);
    expect(settled.voltageV).to.be.within(12.4, 12.62);
    expect(ampereHours(copyBattery(battery), 3, 10.5) / 60).to.be.within(0.55, 0.85);
    expect(milliohmOf(battery) / milliohmOf(make('flooded'))).to.be.within(1.1, 2.5);
  });

  it('hard: at its ceiling at once with next to no current, for an hour and more, and then it takes some', () => {
    const battery = make('flooded', { charge: 0.1, ...everyCell({ hard: 0.6, film: 3.6 }) });
    const stepper = new Stepper(battery);
    stepper.run({ currentA: 6, limitV: 14.4 }, 600);
    expect(stepper.voltageV).to.be.closeTo(14.4, 1e-6);
    expect(stepper.currentA / 60).to.be.lessThan(0.011);
    const atFirst = stepper.currentA;
    stepper.run({ currentA: 6, limitV: 14.4 }, 6 * HOUR);
    expect(stepper.currentA).to.be.greaterThan(2 * atFirst);
    expect(charged(battery).voltageV).to.be.within(12, 12.5);
    expect(ampereHours(copyBattery(battery), 3, 10.5) / 60).to.be.within(0.15, 0.55);
  });

  it('grows sulfate and its film while it stands at a low charge, and neither when full', () => {
    const low = make('flooded', { charge: 0.15 });
    run(low, 0, Infinity, 90 * 24);
    expect(viewCell(low, 0).hard).to.be.within(0.08, 0.35);
    expect(viewCell(low, 0).film).to.be.within(0.3, 1.2);
    const full = make('flooded', { charge: 1 });
    run(full, 0, Infinity, 90 * 24);
    expect(viewCell(full, 0).hard).to.be.lessThan(0.02);
  });

  it('shorted: two volts low on arrival and after charge, warm on charge', () => {
    const battery = make('flooded', {
      charge: 0.6,
      temperatureC: 20,
      cells: [{}, {}, { shortOhm: 0.05, behind: 0.6 }],
    });
    run(battery, 0, Infinity, 48);
    expect(run(copyBattery(battery), 0, Infinity, 0.1).voltageV).to.be.within(8, 10.8);
    const stepper = run(battery, 6, 14.4, 14);
    expect(stepper.voltageV).to.be.within(12.2, 14.3);
    expect(stepper.temperatureC - 20).to.be.within(4, 30);
    expect(run(battery, 0, Infinity, 24).voltageV).to.be.within(10.2, 10.8);
  });

  it('a weak cell passes at rest and drops out under load', () => {
    const battery = make('flooded', { cells: [{}, {}, {}, { active: 0.4, behind: 0.36 }] });
    expect(run(copyBattery(battery), 0, Infinity, 24).voltageV).to.be.within(12.2, 12.65);
    expect(loaded(battery)).to.be.within(8, 9.9);
    expect(ampereHours(copyBattery(battery), 3, 10.5) / 60).to.be.within(0.02, 0.65);
  });

  it('dry AGM: loses CCA and gains resistance long before it loses its capacity in proportion', () => {
    const sound = make('agm');
    const [r, c] = [milliohmOf(sound), ampereHours(copyBattery(sound), 3, 10.5)];
    const dry = make('agm', everyCell({ dry: 0.15 }));
    expect(milliohmOf(dry) / r).to.be.within(1.15, 1.4);
    expect(ampereHours(copyBattery(dry), 3, 10.5) / c).to.be.within(0.8, 0.95);
    const tail = (battery: SimBattery): number => run(battery, 6, 13.6, 72).currentA;
    expect(tail(dry) / tail(sound)).to.be.within(2, 10);
  });

  it('acid in layers: the top reads weak, the charge is there, and mixing brings the volts together', () => {
    const battery = make('flooded', { layeredSg: 0.08 });
    expect(viewCell(battery, 0).sgTop).to.be.within(1.2, 1.24);
    expect(viewBattery(battery).charge).to.be.closeTo(1, 1e-9);
    expect(loaded(battery)).to.be.within(10, 11.4);
  });

  it('an open joint holds its volts and gives no current; a reversed cell costs four volts', () => {
    expect(
      run(make('flooded', { cells: [{ jointOhm: 5 }] }), -20, Infinity, 0.001).voltageV,
    ).to.be.lessThan(0);
    expect(viewBattery(make('flooded', { cells: [{ reversed: true }] })).openV).to.be.within(
      8.2,
      8.6,
    );
  });

  it('a sound one rests above 10.8 V however long it stood empty', () => {
    for (const kind of ['flooded', 'agm', 'gel'] as const)
      for (const days of [30, 365, 2000]) {
        const battery = make(kind);
        run(battery, -3, Infinity, ampereHours(copyBattery(battery), 3, 10.5) / 3);
        expect(run(battery, 0, Infinity, days * 24).voltageV, `${kind}, ${days} days`).to.be.within(
          10.8,
          11.95,
        );
      }
  });
});

describe('simulated batteries: any there could be', () => {
  it('comes to an end within 20,000 steps, its books balanced, whatever it is and whatever is done to it', () => {
    let [chargeOff, energyOff] = [0, 0];
    for (let seed = 50_001; seed <= 50_040; seed++) {
      const { battery, driven } = anyBattery(seed);
      const off = runOff(battery, driven);
      chargeOff = Math.max(chargeOff, off.chargeOff);
      energyOff = Math.max(energyOff, off.energyOff);
    }
    expect(chargeOff).to.be.lessThan(1e-9);
    expect(energyOff).to.be.lessThan(1e-9);
  });

  it('is refused in words where it is none, and so is a current that is none', () => {
    for (const [condition, words] of [
      [{ temperatureC: NaN }, 'temperature of a battery'],
      [{ temperatureC: 400 }, 'temperature of a battery'],
      [{ charge: NaN }, 'State of charge'],
      [{ resistance: -1 }, 'resistance'],
      [{ cells: [{ dry: 1.2 }] }, 'water'],
      [{ cells: [{ hard: NaN }] }, 'Hard sulfate'],
      [{ cells: [{ shortOhm: 0 }] }, 'A short'],
    ] as const)
      expect(() => make('flooded', condition as Partial<Condition>), words).to.throw(
        RangeError,
        words,
      );
    const stepper = new Stepper(make('agm'));
    expect(() => stepper.step({ currentA: NaN, limitV: 14 }, 1)).to.throw('no current');
    expect(() => stepper.step({ currentA: 1e9, limitV: 14 }, 1)).to.throw('no current');
    expect(() => stepper.step({ currentA: 1, limitV: NaN }, 1)).to.throw('limit');
    expect(() => stepper.step({ currentA: 1, limitV: 14 }, NaN)).to.throw('takes time');
  });

  it('exponentials agree with the engine’s to 2e-12, logarithms to 2e-14', () => {
    fc.assert(
      fc.property(fc.double({ min: -700, max: 700, noNaN: true }), (x) => {
        expect(exp(x) / Math.exp(x)).to.be.closeTo(1, 2e-12);
        const y = Math.exp(x);
        expect(Math.abs(log(y) - Math.log(y))).to.be.at.most(2e-14 * Math.max(1, Math.abs(x)));
      }),
      { numRuns: 2000 },
    );
    expect([exp(0), exp(-1e4), exp(1e4)]).to.deep.equal([1, exp(-708), exp(709)]);
    expect(log(1)).to.be.closeTo(0, 1e-15);
  });
});
