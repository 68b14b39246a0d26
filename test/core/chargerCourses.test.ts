import { expect } from 'chai';
import { behaviourOf, lineA, sourceLine } from '../../src/core/chargers/behaviour.ts';
import type { ShopCharger } from '../../src/core/chargers/charger.ts';
import { chargerCourse, switchOff } from '../../src/core/chargers/course.ts';
import { type ChargeNeed, chargerOptions } from '../../src/core/chargers/fit.ts';
import { chargerCautionWords } from '../../src/core/chargers/fitWords.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import type { PlanBattery } from '../../src/core/charging/fitPlan.ts';
import { type Condition, makeBattery } from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';

const facts = (key: string) => CHARGER_TEMPLATES.find((t) => t.key === key)!.facts;

/** What a template does at a setting with a battery in a condition. */
function course(
  key: string,
  battery: PlanBattery,
  condition: Partial<Condition> = {},
  { setting = 0, program }: { setting?: number; program?: string } = {},
) {
  const f = facts(key);
  const chosen = program
    ? f.programs.find((p) => p.name === program)!
    : f.programs.find((p) => p.families.includes(battery.chemistry))!;
  const behaviour = behaviourOf(f.kind, f.settings[setting]!, chosen, battery)!;
  return chargerCourse(
    behaviour,
    makeBattery(DESIGNS[battery.chemistry], battery, {
      charge: 0.1,
      temperatureC: 20,
      ...condition,
    }),
    switchOff(battery, 14.4),
  );
}
const starter: PlanBattery = { c20Ah: 60, cells: 6, chemistry: 'flooded' };
const agm: PlanBattery = { c20Ah: 80, cells: 6, chemistry: 'agm' };
const stood = { hard: 0.5, film: 3 };

describe('an unregulated charger', () => {
  it('gives what is printed on a taper charger at 12.5 V, a quarter of it at 14.5 V, and nothing backwards', () => {
    const line = sourceLine('taper', 4, 6)!;
    expect(lineA(line, 12.5)).to.be.closeTo(4, 1e-9);
    expect(lineA(line, 14.5)).to.be.closeTo(1, 1e-9);
    expect(lineA(line, 16)).to.equal(0);
    // The same charger built for 6 V has half the volts.
    expect(lineA(sourceLine('taper', 4, 3)!, 7.25)).to.be.closeTo(1, 1e-9);
  });

  it('of a fixed current gives a fifth more at 11 V and a fifth less at 14 V', () => {
    const line = sourceLine('fixed', 10, 6)!;
    expect([11, 12.5, 14].map((v) => Number(lineA(line, v).toFixed(2)))).to.deep.equal([12, 10, 8]);
  });

  it('boils a flooded battery that is left on it until its voltage no longer rises', () => {
    const boiled = course('fixed-2-10', starter, {}, { setting: 1 });
    expect(boiled.end).to.equal('switched-off');
    expect(boiled.highestV).to.be.within(15.5, 17);
    expect(boiled.waterG).to.be.above(15);
    const gentle = course('automatic-10', starter);
    expect(gentle.waterG).to.be.below(5);
  });

  it('is switched off at the ceiling of a sealed battery, short of full the more the current is', () => {
    const [slow, fast] = [0, 1].map((setting) => course('fixed-2-10', agm, {}, { setting }));
    expect(slow!.chargeAtEnd).to.be.within(0.9, 1);
    expect(fast!.chargeAtEnd).to.be.within(0.7, 0.9);
    for (const c of [slow!, fast!]) expect(c.highestV).to.be.within(14.4, 14.55);
  });

  it('is not taken for done while a sulfated battery stands still far below full cells', () => {
    const sulfated = course('fixed-2-10', starter, {
      charge: 0,
      cells: Array.from({ length: 6 }, () => ({ hard: 0.25, film: 1 })),
    });
    expect(sulfated.hours).to.be.above(10);
  });
});

describe('an automatic charger', () => {
  it('holds its ceiling and says that a sound battery is full when it nearly is', () => {
    for (const battery of [starter, agm]) {
      const c = course('automatic-10', battery);
      expect(c.end).to.equal('says-full');
      expect(c.chargeAtEnd).to.be.within(0.94, 1);
      expect(c.highestV).to.be.closeTo(battery.chemistry === 'agm' ? 14.7 : 14.4, 0.02);
    }
  });

  it('gives up by its timer on a battery that is too large for it', () => {
    const c = course('automatic-4', { ...starter, c20Ah: 180 });
    expect(c.end).to.equal('timer');
    expect(c.hours).to.be.within(24, 26);
    expect(c.chargeAtEnd).to.be.below(0.75);
  });

  it('says that a hard sulfated battery is full after minutes, or hours, with little in it', () => {
    const cells = Array.from({ length: 6 }, () => stood);
    const small = course('automatic-10', { ...agm, c20Ah: 18 }, { charge: 0, cells });
    expect(small.end).to.equal('says-full');
    expect(small.hours).to.be.below(0.2);
    expect(small.chargeAtEnd).to.be.below(0.1);
    const large = course('automatic-4', agm, { charge: 0, cells });
    expect(large.end).to.equal('says-full');
    expect(large.chargeAtEnd).to.be.below(0.5);
  });

  it('with a recovery program puts more into it before it says so', () => {
    const cells = Array.from({ length: 6 }, () => stood);
    const plain = course('recovery-5', agm, { charge: 0, cells });
    const bursts = course('recovery-5', agm, { charge: 0, cells }, { program: 'Recovery' });
    expect(bursts.hours).to.be.above(8);
    expect(bursts.ahIn).to.be.above(plain.ahIn);
    expect(bursts.highestV).to.be.below(15.81);
  });

  it('puts in as much by its books as its trace shows', () => {
    for (const c of [
      course('automatic-4', starter),
      course('taper', starter),
      course('recovery-5', agm, {}, { program: 'Recovery' }),
    ]) {
      const { hours, currentA } = c.trace;
      const drawn = hours.reduce((sum, h, i) => sum + currentA[i]! * (h - (hours[i - 1] ?? 0)), 0);
      expect(drawn).to.be.closeTo(c.ahIn, 0.01 * c.ahIn);
    }
  });
});

describe('a maintainer', () => {
  it('never finishes a large battery, and a small one in days', () => {
    expect(course('maintainer', { ...starter, c20Ah: 180 }).end).to.equal('endless');
    const small = course('maintainer', { ...agm, c20Ah: 12 });
    expect(small.end).to.equal('says-full');
    expect(small.hours).to.be.within(12, 30);
  });
});

describe('what a charger is said to do', () => {
  const wall = (key: string): ShopCharger => ({
    ...facts(key),
    id: key,
    name: key,
    standingSince: 0,
  });
  const need = (battery: PlanBattery, over: Partial<ChargeNeed> = {}): ChargeNeed => ({
    nominalV: 12,
    cells: 6,
    chemistry: battery.chemistry,
    c20Ah: battery.c20Ah,
    plannedA: battery.c20Ah / 10,
    mostA: battery.c20Ah / 5,
    ceilingV: battery.chemistry === 'agm' ? 14.7 : 14.4,
    readsV: 11.9,
    battery,
    share: 0.1,
    roomC: 20,
    sizeSpan: { low: 1, high: 1 },
    perhapsSulfated: false,
    supplyHours: () => 10,
    ...over,
  });
  const said = (key: string, n: ChargeNeed) =>
    chargerOptions([wall(key)], n)[0]!.cautions.map(chargerCautionWords);

  it('tells the timer, the gassing, and how short of full it ends', () => {
    expect(said('automatic-4', need({ ...starter, c20Ah: 180 }))).to.satisfy((s: string[]) =>
      s.some((w) => /^Its timer stops it after about 24 h, at 6\d %/.test(w)),
    );
    expect(said('fixed-2-10', need(starter)).at(-1)).to.match(
      /^Rises to 16\.\d\d V and gases hard: about \d\d g of water/,
    );
    expect(said('fixed-2-10', need(agm)).at(-1)).to.match(
      /^About \d\d % charged when it is switched off there/,
    );
  });

  it('warns of a green light on sulfated plates where they may be', () => {
    const flat = need(agm, { share: 0, perhapsSulfated: true });
    expect(said('automatic-10', need(agm)).join()).to.not.match(/sulfated/);
    expect(said('automatic-10', flat).at(-1)).to.match(
      /^If the plates are sulfated, it says full after about \d+ h, and the battery is 7\d % charged then: rest it and measure\.$/,
    );
  });
});
