import { expect } from 'chai';
import type { FamilyKey, PictureKey } from '../../src/core/diagnosis/practice/families.ts';
import { type ChargeCheck, checkCharge, lookOf } from '../../src/core/recovery/chargeCheck.ts';
import { COARSE, restFor } from '../../src/core/rehearsal/hasten.ts';
import { type Condition, makeBattery } from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { Stepper } from '../../src/core/simulation/step.ts';
import { each } from '../support/simulatedRecovery.ts';

/**
 * Charges of simulated batteries of 60 Ah, watched by ranges of practice that know nothing of the simulator: a C/10 charge held at
 * 14.4 V, read each half hour.
 */
const C20 = 60;
const SET_A = 6;
const CEILING_V = 14.4;

interface Watched {
  hours: number;
  check: ChargeCheck;
}

function watched(
  condition: Omit<Condition, 'temperatureC'>,
  believed: readonly [FamilyKey, PictureKey],
  mostH = 20,
): Watched[] {
  const battery = makeBattery(
    DESIGNS.flooded,
    { cells: 6, c20Ah: C20 },
    { ...condition, temperatureC: 20 },
  );
  // A short has been at work before anybody looks.
  if (condition.cells?.some((c) => c.shortOhm !== undefined)) restFor(battery, 12 * 3600);
  const stepper = new Stepper(battery, COARSE);
  const trace = {
    of: 'charging' as const,
    hours: [] as number[],
    volts: [] as number[],
    amps: [] as number[],
  };
  const out: Watched[] = [];
  let ah = 0;
  for (let hours = 0.5; hours <= mostH; hours += 0.5) {
    const before = ah;
    while (stepper.elapsedS < hours * 3600 - 1) {
      const s = stepper.step(
        { currentA: SET_A, limitV: CEILING_V },
        Math.min(300, hours * 3600 - stepper.elapsedS),
      );
      ah += (stepper.currentA * s) / 3600;
    }
    trace.hours.push(hours);
    trace.volts.push(stepper.voltageV);
    trace.amps.push((ah - before) / 0.5);
    const look = lookOf(trace, {
      ceilingV: CEILING_V,
      cells: 6,
      c20Ah: C20,
      missingAh: (1 - condition.charge) * C20,
      warmerK: stepper.temperatureC - 20,
    });
    out.push({ hours, check: checkCharge(look!, ...believed) });
  }
  return out;
}

const firstOf = (looks: readonly Watched[], state: ChargeCheck['state']): number | null =>
  looks.find((w) => w.check.state === state)?.hours ?? null;

describe('a charge beside what its family does', () => {
  const SOUND: readonly [
    string,
    Omit<Condition, 'temperatureC'>,
    readonly [FamilyKey, PictureKey],
  ][] = [
    ['flat, 10 % left', { charge: 0.1 }, ['flat', 'flat']],
    ['flat, 30 % left', { charge: 0.3 }, ['flat', 'flat']],
    ['flat, taken for sulfated', { charge: 0.2 }, ['sulfated', 'light']],
    ['lightly sulfated', { charge: 0.3, cells: each({ hard: 0.1 }) }, ['sulfated', 'light']],
    ['hard', { charge: 0.2, cells: each({ hard: 0.3 }) }, ['sulfated', 'hard']],
    ['worn', { charge: 0.3, cells: each({ active: 0.5 }) }, ['worn', 'worn']],
  ];
  for (const [what, condition, believed] of SOUND)
    it(`goes on where it is what it is taken for: ${what}`, () => {
      const looks = watched(condition, believed);
      expect(firstOf(looks, 'not-working')).to.equal(null);
      const against = looks.filter((w) => w.check.state === 'look-closer').length;
      expect(against / looks.length).to.be.below(0.1);
    });

  it('that a short holds down is said within hours, and again when the others would be at their ceiling', () => {
    const cells = [{}, {}, { shortOhm: 0.05, behind: 0.6 }, {}, {}, {}];
    for (const believed of [
      ['flat', 'flat'],
      ['sulfated', 'light'],
    ] as const) {
      const looks = watched({ charge: 0.2, cells }, believed, 24);
      const hours = firstOf(looks, 'look-closer');
      expect(hours, believed[0]).to.be.at.most(2);
      expect(looks.find((w) => w.hours === hours)!.check.now).to.match(/every cell/);
      expect(looks.at(-1)!.check.says).to.match(/not at its ceiling: .* in 9 of 10/);
    }
  });

  it('that does not pass through an open link is looked at within the hour, and given up after a day', () => {
    const open = { charge: 0.5, cells: [{}, {}, { jointOhm: 40 }, {}, {}, {}] };
    const flat = watched(open, ['flat', 'flat'], 3);
    expect(firstOf(flat, 'look-closer')).to.be.at.most(1);
    const sulfated = watched(open, ['sulfated', 'hard'], 40);
    expect(firstOf(sulfated, 'not-working')).to.be.within(20, 28);
    expect(sulfated[0]!.check.says).to.match(/have turned by now/);
  });

  it('that comes to its ceiling early is no flat battery', () => {
    const worn = watched({ charge: 0.2, cells: each({ active: 0.35 }) }, ['flat', 'flat']);
    expect(firstOf(worn, 'look-closer')).to.be.below(8);
    expect(worn.find((w) => w.check.state === 'look-closer')!.check.says).to.match(/ceiling/);
  });
});
