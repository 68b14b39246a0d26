import { expect } from 'chai';
import type { ShopCharger } from '../../src/core/chargers/charger.ts';
import {
  type ChargeNeed,
  chargerOptions,
  fits,
  hoursOn,
  wantedAmps,
  whatWouldDo,
} from '../../src/core/chargers/fit.ts';
import {
  chargerFaultWords,
  hoursWords,
  settingWords,
  wouldDoWords,
} from '../../src/core/chargers/fitWords.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { expectedChargeS, shareAtFirst } from '../../src/core/job/chargeExpected.ts';
import { chargeOf } from '../../src/core/job/verdict.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { chargerNeed } from '../../src/core/recovery/chargerNeed.ts';
import { wakeOffer } from '../../src/core/recovery/chargerOffer.ts';
import { wallNow } from '../../src/core/watch/chargersNow.ts';
import { BY_KIND, Driver, HOUR, PLAIN, START } from '../support/battery.ts';

const wall: ShopCharger[] = CHARGER_TEMPLATES.map(({ key, facts }) => ({
  ...facts,
  id: key,
  name: key,
  standingSince: 0,
}));
const charger = (key: string, over: Partial<ShopCharger> = {}): ShopCharger => ({
  ...wall.find((c) => c.id === key)!,
  ...over,
});

/** A battery that takes C/10, or 3 A where it is small, and an hour of proof beyond what is missing. */
const need = (c20Ah: number, over: Partial<ChargeNeed> = {}): ChargeNeed => ({
  nominalV: 12,
  cells: 6,
  chemistry: 'agm',
  c20Ah,
  plannedA: c20Ah / 10,
  mostA: c20Ah / 10,
  ceilingV: 14.7,
  readsV: 12.5,
  battery: { c20Ah, cells: 6, chemistry: 'agm' },
  share: 0.3,
  roomC: 20,
  sizeSpan: { low: 1, high: 1 },
  perhapsSulfated: false,
  supplyHours: (amps) => c20Ah / amps + 3,
  ...over,
});
const faultsOf = (c: ShopCharger, n: ChargeNeed) =>
  chargerOptions([c], n)[0]!.faults.map(chargerFaultWords);

describe('a charger for a battery', () => {
  it('is one whose current lies between C/20 and what the battery takes', () => {
    expect(wantedAmps(need(60))).to.deep.equal({ leastA: 3, mostA: 6 });
    expect(faultsOf(charger('automatic-4'), need(60))).to.deep.equal([]);
    expect(faultsOf(charger('automatic-10'), need(60))).to.deep.equal([
      '10 A is C/6 of this battery; at most 6 A.',
    ]);
    expect(faultsOf(charger('fixed-2-10'), need(4, { mostA: 0.4, plannedA: 0.4 }))).to.deep.equal([
      '2 A is C/2 of this battery; at most 0.4 A.',
    ]);
    expect(faultsOf(charger('maintainer'), need(60))).to.deep.equal([
      '0.8 A keeps a battery of 60 Ah, and does not charge it.',
    ]);
  });

  it('starts below what the battery reads, at half of it for 6 V', () => {
    const flat = need(80, { readsV: 6.2, chemistry: 'flooded', mostA: 16 });
    expect(faultsOf(charger('automatic-4'), flat)).to.deep.equal([
      'Starts at 10.50 V, the battery reads 6.20 V: wake it first.',
    ]);
    expect(faultsOf(charger('recovery-5'), flat)).to.deep.equal([]);
    const six = need(8, {
      nominalV: 6,
      cells: 3,
      readsV: 5.9,
      ceilingV: 7.35,
      plannedA: 0.8,
      mostA: 1.2,
    });
    expect(faultsOf(charger('automatic-1'), six)).to.deep.equal([]);
    expect(faultsOf(charger('automatic-4'), six)).to.include(
      'For 12 V batteries; this one is 6 V.',
    );
  });

  it('has a program for its kind, under its ceiling', () => {
    const gel = need(24, { chemistry: 'gel', ceilingV: 14.1, plannedA: 2.4, mostA: 3 });
    expect(
      faultsOf(charger('maintainer', { settings: [{ name: '2 A', amps: 2, boost: false }] }), gel),
    ).to.deep.equal(['No program for Gel.']);
    const [option] = chargerOptions([charger('automatic-1')], gel);
    expect(option!.program?.name).to.equal('Gel');
    expect(option!.volts).to.equal(14.1);
    // The maker of this battery allows less than the usual program gives.
    expect(faultsOf(charger('automatic-4'), need(60, { ceilingV: 14.2 }))).to.deep.equal([
      "Goes to 14.70 V; this battery's ceiling is 14.20 V.",
    ]);
  });

  it('is never boosted, and watched where nothing limits its voltage', () => {
    const big = need(400, { chemistry: 'flooded', mostA: 50, plannedA: 40, ceilingV: 14.4 });
    expect(chargerOptions([charger('fixed-boost')], big)[0]!.setting?.name).to.equal('10 A');
    const [option] = chargerOptions([charger('fixed-2-10')], need(18, { plannedA: 1.8, mostA: 2 }));
    expect(fits(option!)).to.equal(true);
    expect(option!.cautions.map((c) => c.kind)).to.include('no-ceiling');
  });

  it('is picked before others that fit less well', () => {
    const names = (n: ChargeNeed) =>
      chargerOptions(wall, n)
        .filter(fits)
        .map((o) => `${o.charger.id} ${settingWords(o)}`);
    expect(names(need(18, { plannedA: 1.8, mostA: 2 }))[0]).to.equal(
      'supply set to 1.8 A and 14.70 V',
    );
    expect(names(need(100, { plannedA: 10, mostA: 10, readsV: 12 }))).to.deep.equal([
      'supply set to 10 A and 14.70 V',
      'automatic-10 10 A, AGM',
      'recovery-5 5 A, AGM',
      'automatic-4 4 A, AGM',
      'fixed-2-10 10 A',
      'fixed-boost 10 A',
      'taper 4 A',
    ]);
  });

  it('on another battery is told, unless it has an output left', () => {
    const busy = new Map([['automatic-4', ['LK-0405']]]);
    const [one] = chargerOptions([charger('automatic-4')], need(60), busy);
    expect(one!.faults).to.deep.equal([{ kind: 'in-use', tags: ['LK-0405'] }]);
    const [two] = chargerOptions([charger('automatic-4', { outputs: 2 })], need(60), busy);
    expect(fits(two!)).to.equal(true);
    expect(faultsOf(charger('automatic-4', { standing: 'lent' }), need(60))).to.deep.equal([
      'Lent.',
    ]);
  });

  it('that is missing is described: wake it, wait for one, or what current it wants', () => {
    const sentence = (
      chargers: ShopCharger[],
      n: ChargeNeed,
      busy = new Map<string, string[]>(),
    ) => {
      const what = whatWouldDo(chargerOptions(chargers, n, busy), n);
      return what && wouldDoWords(what);
    };
    expect(sentence(wall, need(60))).to.equal(null);
    expect(sentence([charger('automatic-4')], need(60, { readsV: 6.2 }))).to.match(
      /^automatic-4 would do once the battery is awake/,
    );
    expect(
      sentence([charger('automatic-4')], need(60), new Map([['automatic-4', ['LK-0405']]])),
    ).to.equal('automatic-4 would do. It is on LK-0405.');
    expect(sentence([charger('fixed-2-10')], need(4))).to.equal(
      "None of the shop's chargers fits. What would: 0.2 A to 0.4 A, at most 14.70 V. A lower current only takes longer.",
    );
  });

  it('takes hours in a band as wide as what is printed on it is true', () => {
    const n = need(60);
    const [automatic] = chargerOptions([charger('automatic-4')], n);
    const band = hoursOn(automatic!, n);
    // A battery of 60 Ah that lacks 70 % takes 42 Ah and a half more: at 4 A, and the hours at the ceiling.
    expect(band.middle).to.be.within(11.5, 17);
    expect(band.high / band.low).to.be.closeTo(1.2 / 0.8, 1e-9);
    const [supply] = chargerOptions([charger('supply')], n);
    expect(hoursWords(hoursOn(supply!, n))).to.equal('13 h');
    // A taper charger gives less and less: to the ceiling it takes longer than its printed current says.
    const [taper] = chargerOptions([charger('taper')], n);
    expect(hoursOn(taper!, n).middle).to.be.within(12, 18);
    // A battery that may be sulfated reaches the ceiling sooner: the band opens downwards.
    const doubtful = hoursOn(automatic!, { ...n, share: 0.1, perhapsSulfated: true });
    const sure = hoursOn(automatic!, { ...n, share: 0.1 });
    expect(doubtful.low).to.be.below(sure.low);
    expect(doubtful.high).to.equal(sure.high);
  });
});

describe('what a battery asks of a charger', () => {
  it('is its plan’s current, at most a tenth of C20 when new, and hours by its twin', () => {
    const d = new Driver({ ...PLAIN, c20Ah: 18 }).to('charge');
    const n = chargerNeed(d.job);
    expect(n).to.include({ nominalV: 12, c20Ah: 18, plannedA: 1.8, mostA: 1.8, readsV: null });
    const planned = n.supplyHours(1.8, n.ceilingV);
    expect(planned * 3600).to.equal(d.job.plan.figures.chargeS.value);
    // Half the current takes longer, and less than twice as long: the hold at the ceiling is shorter.
    expect(n.supplyHours(0.9, n.ceilingV)).to.be.within(planned, 2 * planned);
    // Nothing holds a fixed current: up to the ceiling and no further, which is less than a full charge.
    const fixed = { ...charger('fixed-2-10'), settings: [{ name: '2 A', amps: 2, boost: false }] };
    const [option] = chargerOptions([fixed], n);
    expect(hoursOn(option!, n).middle).to.be.below(planned);
    expect(option!.cautions.map((c) => c.kind)).to.deep.equal(['no-ceiling', 'stops-short']);
  });

  it('of a small battery is at most 3 A, of a wet one what it was read at', () => {
    const d = new Driver({ ...BY_KIND['agm-sealed'], c20Ah: 30 }, DEFAULT_RULES, 'recharge');
    d.send({ type: 'read', role: 'arrival', values: { voltageV: 12.31 } });
    const n = chargerNeed(d.to('charge').job);
    expect(n).to.include({ readsV: 12.31, mostA: 3 });
  });
});

describe('a charger that wakes', () => {
  const parked = () => {
    const d = new Driver({ ...BY_KIND['agm-sealed'], c20Ah: 60 }, DEFAULT_RULES, 'recharge');
    d.send({ type: 'read', role: 'arrival', values: { voltageV: 4.1 }, sure: true });
    return d.to('charge').job;
  };
  const offered = (donorV: number | null, donorAh: number) =>
    wakeOffer(wall, parked(), donorV, donorAh, '2026-03-10');
  const ids = (options: ReturnType<typeof offered>) => options.map((o) => o.charger.id);

  it('alone starts at what the battery reads, and gives a tenth of C20 at most', () => {
    const alone = offered(null, 0);
    expect(ids(alone)).to.include.members(['supply', 'recovery-5']);
    expect(ids(alone)).to.not.include('automatic-4');
    for (const { charger: c, amps } of alone) {
      expect(c.startsV ?? 0, c.id).to.be.at.most(4.1);
      expect(amps, c.id).to.be.at.most(6);
    }
  });

  it('beside a donor sees the volts of both, and gives a fifth of both at most', () => {
    const beside = offered(11.6, 60);
    expect(ids(beside)).to.include('automatic-10');
    for (const { charger: c, amps } of beside) {
      expect(c.startsV ?? 0, c.id).to.be.at.most(11.6);
      expect(amps, c.id).to.be.at.most(24);
    }
    // A donor that is pulled down as far leaves it to those that start there.
    expect(ids(offered(6, 60))).to.not.include('automatic-10');
    expect(ids(offered(6, 60))).to.include('supply');
  });
});

describe('a second charge', () => {
  it('begins with what was measured after the first, and takes as long as that needs', () => {
    const again = (restV: number) => {
      const d = new Driver().to('ocv');
      d.send({ type: 'read', role: 'rest', values: { voltageV: restV } });
      d.send({ type: 'read', role: 'load', values: { voltageV: 9.2, temperatureC: 20 } });
      d.send({ type: 'giveVerdict', stepId: 'verdict' });
      expect(d.job.state.attempt).to.equal(2);
      return d.to('charge').job;
    };
    const [low, high] = [again(12.2), again(12.5)];
    expect(shareAtFirst(low)).to.be.below(shareAtFirst(high));
    expect(100 * shareAtFirst(high)).to.equal(chargeOf(high, 12.5).percent);
    expect(expectedChargeS(low)).to.be.above(expectedChargeS(high));
  });
});

describe('the wall', () => {
  it('tells what is on which charger, what wants a look first, and what is not in the shop', () => {
    const charging = (key: string, hoursAgo: number) => {
      const d = new Driver().to('charge');
      d.now = START + 24 * HOUR - hoursAgo * HOUR;
      const inUse = { id: key, name: key, showsAmps: true };
      d.record({ type: 'charge.started', place: 1, setA: 1.2, setV: 14.7, charger: inUse });
      return { job: d.job, key };
    };
    const lent = charger('taper', { standing: 'lent' });
    const items = [charging('automatic-4', 0.5), charging('fixed-2-10', 2), charging('gone', 1)];
    const wall = wallNow(
      [charger('automatic-4'), charger('fixed-2-10'), charger('automatic-1'), lent],
      [],
      items,
      START + 24 * HOUR,
    );
    expect(
      wall.chargers.map((c) => [c.of === 'charger' && c.charger.id, c.on.map((o) => o.item.key)]),
    ).to.deep.equal([
      ['fixed-2-10', ['fixed-2-10']],
      ['automatic-4', ['automatic-4']],
      ['automatic-1', []],
      ['taper', []],
    ]);
    const [late, soon] = wall.chargers.map((c) => c.on[0]!);
    expect(late!.nextLookAt).to.be.below(START + 24 * HOUR);
    expect(soon!.nextLookAt).to.be.above(START + 24 * HOUR);
    expect(wall.unsaid.map((c) => c.item.key)).to.deep.equal(['gone']);
  });
});

describe('the templates', () => {
  it('are each a charger that can be set: a switch or a range, a ceiling on whatever ends by itself', () => {
    for (const { key, title, facts } of CHARGER_TEMPLATES) {
      expect(facts.settings.length > 0 !== (facts.range !== null), key).to.equal(true);
      expect(facts.range !== null || facts.programs.length > 0, key).to.equal(true);
      for (const p of facts.programs)
        expect(p.ends === 'never', `${key} ${p.name}`).to.equal(p.ceilingV === null);
      expect(title).to.not.equal('');
    }
    expect(new Set(CHARGER_TEMPLATES.map((t) => t.facts.kind)).size).to.equal(6);
  });
});
