import { expect } from 'chai';
import fc from 'fast-check';
import { CHEMISTRIES, type ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import { capacityLaw, expectedMinutes } from '../../src/core/capacity/capacityTest.ts';
import {
  copyBattery,
  makeBattery,
  mixLayers,
  type SimBattery,
  topUp,
} from '../../src/core/simulation/battery.ts';
import { isFrozen, viewBattery, viewCell } from '../../src/core/simulation/view.ts';
import { DESIGN_KEYS, DESIGNS } from '../../src/core/simulation/design.ts';
import { CONSTANTS } from '../../src/core/simulation/constants.ts';
import { CELL, CELL_SIZE } from '../../src/core/simulation/layout.ts';
import { Pair } from '../../src/core/simulation/parallel.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { type Drive, FINE, REST, Stepper } from '../../src/core/simulation/step.ts';
import { makeTwins } from '../../src/core/simulation/twins.ts';

const HOUR = 3600;
const KINDS: ChemistryKey[] = ['flooded', 'agm', 'gel'];
const battery = (
  kind: ChemistryKey,
  condition: Partial<Parameters<typeof makeBattery>[2]> = {},
  c20Ah = 60,
  cells = 6,
): SimBattery =>
  makeBattery(DESIGNS[kind], { c20Ah, cells }, { charge: 1, temperatureC: 25, ...condition });

function afterDrive(b: SimBattery, drive: Drive, seconds: number): Stepper {
  const stepper = new Stepper(b);
  stepper.run(drive, seconds);
  return stepper;
}

/** Hours a constant current lasts to a cut-off. */
function hoursTo(b: SimBattery, currentA: number, cutV: number): number {
  const stepper = new Stepper(b);
  let before = { s: 0, v: stepper.probe(-currentA) };
  while (stepper.elapsedS < 60 * HOUR) {
    stepper.step({ currentA: -currentA, limitV: Infinity }, 60);
    if (stepper.voltageV <= cutV) {
      const share = (before.v - cutV) / (before.v - stepper.voltageV);
      return (before.s + share * (stepper.elapsedS - before.s)) / HOUR;
    }
    before = { s: stepper.elapsedS, v: stepper.voltageV };
  }
  return Infinity;
}

const stored = (b: SimBattery, k: number): number =>
  -(b.state[k * CELL_SIZE + CELL.soft]! + b.state[k * CELL_SIZE + CELL.hard]!) +
  b.design.doubleLayer * b.state[k * CELL_SIZE + CELL.plates]! +
  b.design.surface * b.state[k * CELL_SIZE + CELL.surface]!;

describe('simulation: what is conserved', () => {
  for (const kind of KINDS) {
    it(`${kind}: charge in is stored, gassed or leaked, to 1e-9, in every cell`, () => {
      const b = battery(kind, {
        charge: 0.2,
        cells: [{}, { shortOhm: 2 }, { active: 0.6 }, { hard: 0.2 }, { dry: 0.3 }, {}],
      });
      const before = [0, 1, 2, 3, 4, 5].map((k) => stored(b, k));
      const stepper = new Stepper(b);
      stepper.run({ currentA: 6, limitV: 14.7 }, 14 * HOUR);
      stepper.run({ currentA: -8, limitV: Infinity }, 3 * HOUR);
      stepper.run(REST, 10 * HOUR);
      const inC = viewBattery(b).chargeInAh / b.c20Ah;
      for (let k = 0; k < 6; k++) {
        const s = k * CELL_SIZE;
        const out = b.state[s + CELL.gassed]! + b.state[s + CELL.leaked]!;
        expect(Math.abs(inC - (stored(b, k) - before[k]! + out)), `cell ${k + 1}`).to.be.lessThan(
          1e-9,
        );
      }
    });

    it(`${kind}: energy in is chemistry plus heat, kept or given to the room`, () => {
      const b = battery(kind, { charge: 0.3, temperatureC: 18 });
      const stepper = new Stepper(b);
      stepper.run({ currentA: 9, limitV: 14.6 }, 10 * HOUR);
      stepper.run({ currentA: -15, limitV: Infinity }, HOUR);
      const view = viewBattery(b);
      const kept = b.design.heatCapacity * b.cells * b.c20Ah * (view.temperatureC - 18);
      expect(view.energyInWh).to.be.closeTo(
        view.chemistryWh + kept + view.heatOutWh,
        1e-9 * Math.abs(view.energyInWh),
      );
    });
  }

  it('loses water as Faraday says, 0.336 g per vented Ah and cell', () => {
    const b = battery('flooded', { charge: 0.9 });
    const water = (): number =>
      [0, 1, 2, 3, 4, 5].reduce(
        (sum, k) =>
          sum +
          (b.state[k * CELL_SIZE + CELL.water]! -
            0.672 * (b.state[k * CELL_SIZE]! + b.state[k * CELL_SIZE + 1]!)),
        0,
      ) * b.c20Ah;
    const before = water();
    afterDrive(b, { currentA: 3, limitV: 16.2 }, 10 * HOUR);
    const view = viewBattery(b);
    expect(view.waterLostG).to.be.greaterThan(20);
    expect(before - water()).to.be.closeTo(view.waterLostG, 1e-6);
    expect(view.waterLostG).to.be.closeTo(view.gassedAh * 6 * CONSTANTS.GASSING_WATER_G, 1e-6);
    expect(view.hydrogenL / view.waterLostG).to.be.closeTo(0.418 / 0.336, 1e-6);
  });

  it('an absorbed mat gives most of its gas back as water', () => {
    const b = battery('agm', { charge: 0.95 });
    afterDrive(b, { currentA: 1, limitV: 14.4 }, 24 * HOUR);
    const view = viewBattery(b);
    expect(view.waterLostG).to.be.lessThan(0.25 * view.gassedAh * 6 * CONSTANTS.GASSING_WATER_G);
  });
});

describe('simulation: against published values', () => {
  for (const kind of KINDS) {
    it(`${kind}: rests on the family's table within 10 mV per cell`, () => {
      for (const [percent, volts] of CHEMISTRIES[kind].stateOfCharge) {
        const b = battery(kind, { charge: percent / 100 });
        expect(Math.abs(viewBattery(b).openV - volts) / 6, `${percent} %`).to.be.lessThan(0.01);
      }
    });

    it(`${kind}: gives what the trade’s exponent of Peukert says it gives, from C/20 to 1 C`, () => {
      const law = capacityLaw(kind);
      for (const [rate, cut] of [
        [0.05, 10.5],
        [0.1, 10.5],
        [0.2, 10.5],
        [0.4, 10.3],
        [1, 9.6],
      ] as const) {
        const given = hoursTo(battery(kind), rate * 60, cut) * 60;
        expect(given / expectedMinutes(rate * 60, law, 60), `${rate} C`).to.be.within(0.93, 1.07);
      }
    });
  }

  it('gives less in the cold: about 0.6 % per °C', () => {
    const at = (t: number): number => hoursTo(battery('flooded', { temperatureC: t }), 5.3, 10.5);
    expect(at(0) / at(25)).to.be.within(0.8, 0.92);
    expect(at(40) / at(25)).to.be.within(1.02, 1.15);
  });
});

describe('simulation: what goes wrong with batteries', () => {
  it('parked at a quarter for 90 days comes back with less, and a slow restore brings back part', () => {
    const b = battery('agm', { charge: 0.25 });
    afterDrive(b, REST, 90 * 24 * HOUR);
    const hard = viewCell(b, 0).hard;
    expect(hard).to.be.within(0.08, 0.35);
    const quick = copyBattery(b);
    afterDrive(quick, { currentA: 6, limitV: 14.4 }, 16 * HOUR);
    const slow = copyBattery(quick);
    afterDrive(slow, { currentA: 1, limitV: 15 }, 48 * HOUR);
    const [a, z] = [quick, slow].map((x) => hoursTo(x, 3, 10.5) * 3) as [number, number];
    expect(a).to.be.lessThan(54);
    expect(z).to.be.greaterThan(a + 2);
    expect(z).to.be.lessThan(59);
  });

  it('shelf loss is that of the family and doubles in 10 °C', () => {
    const month = (kind: ChemistryKey, t: number): number => {
      const b = battery(kind, { temperatureC: t, charge: 0.99 });
      afterDrive(b, REST, 30 * 24 * HOUR);
      return 0.99 - viewBattery(b).charge;
    };
    // Calcium; antimony loses twice that and more.
    expect(month('flooded', 20)).to.be.closeTo(0.04, 0.006);
    expect(month('agm', 20)).to.be.closeTo(0.03, 0.006);
    expect(month('gel', 20)).to.be.closeTo(0.02, 0.005);
    expect(month('agm', 30) / month('agm', 20)).to.be.within(1.7, 2.2);
  });

  it('a shorted cell stays low and warm and pulls the plateau down by about one cell', () => {
    const [sound, shorted] = [[], [{ shortOhm: 0.05 }]].map((cells) => {
      const b = battery('flooded', { charge: 0.4, cells });
      return { b, v: afterDrive(b, { currentA: 6, limitV: 14.4 }, 2 * HOUR).voltageV };
    }) as [{ b: SimBattery; v: number }, { b: SimBattery; v: number }];
    expect(sound.v - shorted.v).to.be.within(1, 2.6);
    expect(viewCell(shorted.b, 0).charge).to.be.lessThan(viewCell(sound.b, 0).charge - 0.1);
  });

  it('a weak cell ends the discharge, an open joint passes hardly any current, a reversed cell costs about four volts', () => {
    expect(
      hoursTo(battery('flooded', { cells: [{}, {}, { active: 0.5 }] }), 3, 10.5),
    ).to.be.lessThan(0.75 * hoursTo(battery('flooded'), 3, 10.5));
    const open = new Stepper(battery('flooded', { charge: 0.5, cells: [{ jointOhm: 500 }] }));
    open.run({ currentA: 6, limitV: 14.4 }, HOUR);
    expect(open.currentA).to.be.lessThan(0.02);
    const reversed = viewBattery(battery('flooded', { cells: [{ reversed: true }] })).openV;
    expect(viewBattery(battery('flooded')).openV - reversed).to.be.closeTo(2 * 2.108, 0.05);
  });

  it('strong acid sinks while charging, and gassing mixes it again', () => {
    const b = battery('flooded', { charge: 0.1 });
    const stepper = new Stepper(b);
    stepper.run({ currentA: 6, limitV: 13.8 }, 9 * HOUR);
    const layered = viewCell(b, 0).sgMixed - viewCell(b, 0).sgTop;
    expect(layered).to.be.greaterThan(0.01);
    stepper.run({ currentA: 3, limitV: 16.2 }, 8 * HOUR);
    expect(viewCell(b, 0).sgMixed - viewCell(b, 0).sgTop).to.be.lessThan(layered / 2);
    mixLayers(b);
    expect(Math.abs(viewCell(b, 0).sgMixed - viewCell(b, 0).sgTop)).to.be.lessThan(0.012);
  });

  it('a dry mat gives little and has a high resistance; water brings it back', () => {
    const dry = battery('agm', { cells: Array.from({ length: 6 }, () => ({ dry: 0.4 })) });
    const wet = copyBattery(dry);
    expect(topUp(wet)).to.be.greaterThan(500);
    const drop = (b: SimBattery): number => viewBattery(b).openV - new Stepper(b).probe(-30);
    expect(drop(dry)).to.be.greaterThan(1.7 * drop(wet));
    expect(hoursTo(dry, 3, 10.5)).to.be.lessThan(0.75 * hoursTo(wet, 3, 10.5));
  });

  it('flat acid freezes where full acid does not', () => {
    expect(isFrozen(battery('flooded', { charge: 0, temperatureC: -15 }))).to.equal(true);
    expect(isFrozen(battery('flooded', { charge: 1, temperatureC: -40 }))).to.equal(false);
  });

  it('surface charge fades over the first hour of rest', () => {
    const b = battery('agm', { charge: 0.6 });
    const stepper = new Stepper(b);
    stepper.run({ currentA: 6, limitV: 14.4 }, 3 * HOUR);
    stepper.run(REST, 60);
    const soon = stepper.voltageV;
    stepper.run(REST, HOUR);
    const later = stepper.voltageV;
    stepper.run(REST, 12 * HOUR);
    expect(soon - later).to.be.greaterThan(0.1);
    expect(later - stepper.voltageV).to.be.within(-0.01, 0.15);
  });

  it('a donor feeds a flat battery through leads: less through thinner ones, and volts meet at the clips', () => {
    const pair = (ohm: number): Pair =>
      new Pair(battery('flooded'), battery('flooded', { charge: 0.02, resistance: 2 }), ohm);
    expect(pair(0.005).inrushA()).to.be.greaterThan(pair(0.05).inrushA() * 1.5);
    const p = pair(0.01);
    p.run(REST, HOUR);
    expect(p.firstA + p.secondA).to.be.closeTo(0, 1e-9);
    expect(p.secondA).to.be.greaterThan(0);
    p.run({ currentA: 10, limitV: 14.4 }, HOUR);
    expect(p.firstA + p.secondA).to.be.closeTo(10, 1e-6);
    expect(() => new Pair(battery('agm'), battery('agm', {}, 60, 3), 0.01)).to.throw(
      /different voltage/,
    );
  });
});

describe('simulation: steps', () => {
  it('holds volts within 5 mV, and Ah within 0.5 %, of steps of one second', () => {
    for (const kind of KINDS) {
      const make = (): SimBattery =>
        battery(kind, {
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
        });
      const drive = { currentA: 6, limitV: 14.4 };
      const second = new Stepper(make(), {
        voltsPerCell: 1e9,
        charge: 1e9,
        longestS: 1,
        longestRestS: 1,
        transient: 1,
      });
      const bySecond = [second.voltageV];
      while (bySecond.length <= 10 * HOUR) {
        second.nextS = 1;
        second.step(drive, 1);
        bySecond.push(second.voltageV);
      }
      const free = new Stepper(make(), FINE);
      let compared = 0;
      while (free.elapsedS < 10 * HOUR - 1e-6) {
        free.step(drive, 10 * HOUR - free.elapsedS);
        const s = Math.min(Math.floor(free.elapsedS), 10 * HOUR - 1);
        const theirs = bySecond[s]! + (free.elapsedS - s) * (bySecond[s + 1]! - bySecond[s]!);
        compared += 1;
        // Steps of one second are no yardstick for the first of them.
        if (free.elapsedS < 4) continue;
        expect(Math.abs(theirs - free.voltageV), `${kind} at ${free.elapsedS} s`).to.be.lessThan(
          0.005,
        );
      }
      expect(compared).to.be.greaterThan(30);
      const ah = viewBattery(free.battery).chargeInAh;
      expect(ah / viewBattery(second.battery).chargeInAh).to.be.closeTo(1, 0.005);
      expect(free.steps).to.be.lessThan(400);
    }
  });

  it('never reaches an impossible state, whatever is done to whatever battery', () => {
    const cell = fc.record({
      active: fc.double({ min: 0.2, max: 1, noNaN: true }),
      hard: fc.double({ min: 0, max: 0.15, noNaN: true }),
      dry: fc.double({ min: 0, max: 0.5, noNaN: true }),
      behind: fc.double({ min: 0, max: 0.5, noNaN: true }),
    });
    const drive = fc.record({
      currentC: fc.double({ min: -0.5, max: 0.3, noNaN: true }),
      limit: fc.double({ min: 2.2, max: 2.8, noNaN: true }),
      hours: fc.double({ min: 0.01, max: 12, noNaN: true }),
    });
    fc.assert(
      fc.property(
        fc.constantFrom(...KINDS),
        fc.integer({ min: 1, max: 12 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: -20, max: 45 }),
        fc.array(cell, { maxLength: 12 }),
        fc.array(drive, { minLength: 1, maxLength: 5 }),
        (kind, cells, charge, t, conditions, drives) => {
          const b = battery(
            kind,
            { charge, temperatureC: t, cells: conditions.slice(0, cells) },
            40,
            cells,
          );
          const stepper = new Stepper(b);
          for (const d of drives) {
            stepper.run({ currentA: d.currentC * 40, limitV: d.limit * cells }, d.hours * HOUR);
            expect(Number.isFinite(stepper.voltageV)).to.equal(true);
            if (d.currentC > 0) expect(stepper.currentA).to.be.within(0, d.currentC * 40 + 1e-9);
            for (let k = 0; k < cells; k++) {
              const view = viewCell(b, k);
              const at = (o: number): number => b.state[k * CELL_SIZE + o]!;
              expect(at(CELL.soft)).to.be.greaterThan(-1e-3);
              expect(at(CELL.hard)).to.be.greaterThan(-1e-9);
              expect(at(CELL.pore)).to.be.greaterThan(0);
              expect(at(CELL.upper)).to.be.greaterThan(-1e-9);
              expect(at(CELL.water)).to.be.greaterThan(0);
              expect(view.voltageV).to.be.within(-4, 4);
            }
          }
        },
      ),
      { numRuns: 60, seed: 20_261_124 },
    );
  });
});

describe('simulation: twins', () => {
  it('the same seed draws the same twins; the first is the best guess; the others lie around it', () => {
    const draw = (seed: number): SimBattery[] =>
      makeTwins(
        DESIGNS.agm,
        { c20Ah: 12, cells: 6 },
        { charge: 0.4, temperatureC: 20, spread: { charge: 0.05, hard: 0.05 } },
        20,
        200,
        seed,
      );
    const [a, b] = [draw(3), draw(3)];
    expect(a.map((t) => viewBattery(t).charge)).to.deep.equal(b.map((t) => viewBattery(t).charge));
    expect(viewBattery(a[0]!).charge).to.be.closeTo(0.4, 1e-9);
    const charges = a.slice(1).map((t) => viewBattery(t).charge);
    expect(Math.min(...charges)).to.be.lessThan(0.35);
    expect(Math.max(...charges)).to.be.within(0.4, 0.6);
    expect(new Set(a.map((t) => t.design.resistance)).size).to.be.greaterThan(150);
  });

  it('chance is even and normal as it says', () => {
    const random = seeded(7);
    const evens = Array.from({ length: 20_000 }, () => random.even());
    const normals = Array.from({ length: 20_000 }, () => random.normal());
    const mean = (list: number[]): number => list.reduce((sum, x) => sum + x, 0) / list.length;
    expect(mean(evens)).to.be.closeTo(0.5, 0.01);
    expect(mean(normals)).to.be.closeTo(0, 0.03);
    expect(mean(normals.map((x) => x * x))).to.be.closeTo(1, 0.04);
  });

  it('every parameter has a unit, a source and a spread of at least 1', () => {
    for (const kind of KINDS) {
      for (const key of DESIGN_KEYS) {
        const p = DESIGNS[kind].parameters[key];
        expect(p.unit, key).to.not.equal('');
        expect(p.source.length, key).to.be.greaterThan(5);
        expect(p.spread, key).to.be.at.least(1);
        if (p.standing === 'assumed') expect(p.spread, `${kind} ${key}`).to.be.greaterThan(1);
      }
    }
  });
});
