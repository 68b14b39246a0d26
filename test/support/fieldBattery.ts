import type { ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import type { DiagnosisQuestion } from '../../src/core/diagnosis/diagnose.ts';
import type { RouteKey } from '../../src/core/diagnosis/routes.ts';
import { DEFAULT_STAKES } from '../../src/core/diagnosis/stakes.ts';
import type { Evidence } from '../../src/core/diagnosis/evidence.ts';
import type { AfterCharge } from '../../src/core/diagnosis/plainRules.ts';
import type { StoryKey } from '../../src/core/diagnosis/stories.ts';
import type { FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import type { Random } from '../../src/core/simulation/random.ts';

/**
 * Batteries as a shop meets them, drawn from ranges of practice and from nothing that is simulated: what is the matter, what its
 * meters then show with their habits (a meter off by a share, a digit typed wrong, the wrong kind noted, a reading taken too
 * early), and what routes bring. It shares no equation and no number's place with what judges it.
 */
export interface FieldBattery {
  family: FamilyKey;
  what: What;
  story: StoryKey;
  standingDays: number | null;
  ageYears: number | null;
  chemistry: ChemistryKey;
  c20Ah: number;
  ratedCca: number;
  /** What a sound one of the model has, mΩ. */
  soundMilliohm: number;
  evidence: Evidence[];
  after: AfterCharge | null;
  /** What it holds after its best route, and after a usual charge alone; share of C20. */
  recovers: number;
  charged: number;
  /** It does not hold its charge for a week. */
  leaks: boolean;
}

const WHATS = [
  'flat',
  'light',
  'hard',
  'shorted',
  'leaking',
  'weak',
  'open',
  'reversed',
  'dry',
  'worn',
  'layered',
  'nothing',
] as const;
type What = (typeof WHATS)[number];

const FAMILY: Readonly<Record<What, FamilyKey>> = {
  flat: 'flat',
  light: 'sulfated',
  hard: 'sulfated',
  shorted: 'bad-cell',
  leaking: 'bad-cell',
  weak: 'bad-cell',
  open: 'bad-cell',
  reversed: 'bad-cell',
  dry: 'dry',
  worn: 'worn',
  layered: 'layered',
  nothing: 'nothing',
};

/** Per cent by story: flat, light, hard, bad cell, dry, worn, layered, nothing. */
const STORIES: readonly {
  story: StoryKey;
  days: readonly [number, number] | null;
  years: readonly [number, number] | null;
  shares: readonly number[];
}[] = [
  { story: 'left-on', days: [1, 10], years: null, shares: [72, 8, 2, 5, 2, 6, 2, 3] },
  { story: 'parked', days: [30, 95], years: null, shares: [38, 34, 6, 6, 3, 7, 2, 4] },
  { story: 'parked', days: [120, 700], years: null, shares: [8, 26, 42, 10, 4, 8, 0, 2] },
  { story: 'weak', days: null, years: [0.5, 2.9], shares: [14, 16, 4, 22, 6, 10, 16, 12] },
  { story: 'weak', days: null, years: [4.1, 9], shares: [6, 12, 6, 18, 10, 42, 3, 3] },
  { story: 'shelf', days: [180, 540], years: null, shares: [22, 46, 20, 5, 2, 1, 2, 2] },
  { story: 'unknown', days: null, years: null, shares: [22, 20, 16, 14, 6, 14, 3, 5] },
];

/** Which readings are taken: everybody reads volts; what else depends on the shop's tools and hurry. */
export interface Habits {
  /** As it came, or after a full charge and a rest too. */
  charged: boolean;
  /** Chance of each further reading. */
  takes: number;
}

export function fieldBattery({ even, normal }: Random, { charged, takes }: Habits): FieldBattery {
  const between = (a: number, b: number): number => a + (b - a) * even();
  const chance = (share: number): boolean => even() < share;
  const told = STORIES[Math.floor(even() * STORIES.length)] as (typeof STORIES)[number];
  const chemistry: ChemistryKey = chance(0.6) ? 'flooded' : chance(0.85) ? 'agm' : 'gel';
  const sealed = chemistry !== 'flooded';
  const what = whatBy(told.shares, sealed, even);
  const c20Ah = Math.round(between(8, 110));
  const ratedCca = Math.round(c20Ah * (sealed ? between(9.5, 12) : between(8, 10.5)));
  const soundMilliohm = (300 / c20Ah) * (sealed ? 0.8 : 1);
  // How bad this one is; its readings go along with that, each with some of its own.
  const bad = even();
  const along = (mild: number, worst: number, share = 0.6): number => {
    const u = Math.min(1, Math.max(0, share * bad + (1 - share) * even() + 0.08 * normal()));
    return mild + (worst - mild) * u;
  };
  const truth = shown(what, sealed, along, between, chance);

  // Habits of the hands and the meters of this shop.
  const gain = 1 + (chance(0.3) ? between(-0.01, 0.01) : 0.002 * normal());
  const typed = (value: number): number =>
    chance(0.01) ? value * (chance(0.5) ? 10 : 0.1) : value;
  const volts = (v: number): number => Number(typed(v * gain + 0.01 * normal()).toFixed(2));
  const sgOf = (sg: number): number => Number((sg + 0.005 * normal()).toFixed(3));
  const cells = (top: number, low: number): number[] => {
    const odd = Math.floor(even() * 6);
    return Array.from({ length: 6 }, (_, k) => sgOf(k === odd ? low : top + 0.002 * normal()));
  };
  const evidence: Evidence[] = [{ of: 'rest-volts', voltageV: volts(truth.volts) }];
  const loadA = 3 * c20Ah;
  if (chance(takes))
    evidence.push({
      of: 'load',
      underV: Math.max(0, volts(truth.load)),
      currentA: loadA,
      seconds: 15,
    });
  if (chance(takes))
    evidence.push({
      of: 'cca',
      ccaA: Math.round(ratedCca * Math.max(0, truth.cca * (1 + 0.05 * normal()))),
      ratedA: ratedCca,
    });
  if (chance(takes))
    evidence.push({
      of: 'resistance',
      milliohm: soundMilliohm * truth.ohms * (1 + 0.08 * normal()),
    });
  if (!sealed && chance(takes)) {
    evidence.push({ of: 'cell-sg', sg: cells(truth.sg, truth.sg - truth.spread) });
    evidence.push({
      of: 'levels',
      levels: Array.from({ length: 6 }, () => (truth.bare ? 'dry' : 'mark')),
    });
  }
  if (sealed && chance(0.5 * takes)) {
    const wetMassG = 300 * c20Ah;
    evidence.push({ of: 'mass', wetMassG, massG: wetMassG * (1 - truth.lost + 0.004 * normal()) });
  }
  const early = chance(1 / 8);
  const after: AfterCharge | null = charged
    ? {
        voltageV: volts(truth.after.volts + (early ? between(0.1, 0.4) : 0)),
        restedH: early ? 1 : 24,
        ...(chance(takes) ? { ccaShare: truth.after.cca * (1 + 0.05 * normal()) } : {}),
        ...(chance(takes)
          ? { load: { underV: Math.max(0, volts(truth.after.load)), currentA: loadA, seconds: 15 } }
          : {}),
        ...(chance(takes)
          ? { milliohm: soundMilliohm * truth.after.ohms * (1 + 0.08 * normal()) }
          : {}),
        ...(!sealed && chance(takes)
          ? { sg: cells(truth.after.sg, truth.after.sg - truth.after.spread) }
          : {}),
        ...(chance(0.3 * takes)
          ? { capacity: Math.max(0, truth.after.capacity + 0.02 * normal()) }
          : {}),
      }
    : null;
  return {
    family: FAMILY[what],
    what,
    // One story in twenty is told wrong.
    story: chance(0.05) ? 'unknown' : told.story,
    standingDays: told.days && chance(0.7) ? Math.round(between(...told.days)) : null,
    ageYears: told.years && chance(0.8) ? between(...told.years) : null,
    // The wrong kind noted.
    chemistry: chance(0.02) ? (sealed ? 'flooded' : 'agm') : chemistry,
    c20Ah,
    ratedCca,
    soundMilliohm,
    evidence,
    after,
    recovers: truth.recovers,
    charged: truth.after.capacity,
    leaks: what === 'leaking' || what === 'shorted',
  };
}

function whatBy(shares: readonly number[], sealed: boolean, even: () => number): What {
  const [flat = 0, light = 0, hard = 0, badCell = 0, dry = 0, worn = 0, layered = 0, nothing = 0] =
    shares;
  const shareOf: readonly (readonly [What, number])[] = [
    ['flat', flat],
    ['light', light],
    ['hard', hard],
    ['shorted', badCell * 0.4],
    ['leaking', badCell * 0.12],
    ['weak', badCell * 0.33],
    ['open', badCell * 0.1],
    ['reversed', badCell * 0.05],
    ['dry', dry * (sealed ? 2 : 1)],
    ['worn', worn],
    ['layered', sealed ? 0 : layered],
    ['nothing', nothing],
  ];
  let at = even() * shareOf.reduce((sum, [, share]) => sum + share, 0);
  return (shareOf.find(([, share]) => (at -= share) < 0) ?? shareOf[0] ?? ['flat', 1])[0];
}

interface Shown {
  volts: number;
  load: number;
  cca: number;
  ohms: number;
  /** Of most cells, and how far the odd one lies below. */
  sg: number;
  spread: number;
  bare: boolean;
  lost: number;
  after: {
    volts: number;
    load: number;
    cca: number;
    ohms: number;
    sg: number;
    spread: number;
    capacity: number;
  };
  recovers: number;
}

/** What it shows, in truth; 12 V, 25 °C. */
function shown(
  what: What,
  sealed: boolean,
  along: (mild: number, worst: number, share?: number) => number,
  between: (a: number, b: number) => number,
  chance: (share: number) => boolean,
): Shown {
  const full = sealed ? between(12.82, 12.98) : between(12.62, 12.74);
  const fullSg = sealed ? 1.3 : between(1.27, 1.285);
  const sound = {
    volts: full,
    load: between(10.6, 11.3),
    cca: along(1.05, 0.88),
    ohms: between(0.92, 1.12),
    sg: fullSg,
    spread: between(0, 0.012),
    capacity: along(1, 0.88),
  };
  const evenSpread = between(0, 0.012);
  const empty = {
    volts: along(12.1, 10.5),
    load: along(9, 1),
    cca: along(0.7, 0.08),
    ohms: along(1.3, 4),
    sg: along(1.18, 1.08),
    spread: evenSpread,
    bare: false,
    lost: between(0, 0.004),
  };
  switch (what) {
    case 'flat':
      return {
        ...empty,
        volts: chance(0.2) ? along(10.4, 2) : empty.volts,
        after: sound,
        recovers: along(1, 0.88),
      };
    case 'nothing':
      return {
        volts: full - between(0, 0.2),
        load: between(10.7, 11.5),
        cca: along(1.05, 0.88),
        ohms: between(0.92, 1.12),
        sg: fullSg - between(0, 0.03),
        spread: evenSpread,
        bare: false,
        lost: 0,
        after: sound,
        recovers: along(1, 0.88),
      };
    case 'light': {
      const capacity = along(0.85, 0.55);
      return {
        ...empty,
        volts: along(12.3, 11),
        ohms: along(1.3, 2.5),
        load: along(10, 7),
        sg: along(1.22, 1.12),
        after: {
          volts: full - along(0.08, 0.25),
          load: along(10.4, 9),
          cca: along(0.88, 0.6),
          ohms: along(1.15, 1.7),
          sg: fullSg - along(0.015, 0.045),
          spread: evenSpread,
          capacity,
        },
        recovers: Math.min(0.95, capacity + between(0.1, 0.3)),
      };
    }
    case 'hard': {
      const capacity = along(0.55, 0.15);
      return {
        ...empty,
        volts: along(11.8, 3),
        ohms: along(3, 30),
        load: along(5, 0),
        cca: along(0.3, 0.02),
        sg: along(1.17, 1.06),
        after: {
          volts: full - along(0.2, 0.5),
          load: along(8.5, 3),
          cca: along(0.65, 0.2),
          ohms: along(1.6, 5),
          sg: along(1.22, 1.15),
          spread: evenSpread,
          capacity,
        },
        recovers: chance(0.25) ? along(0.4, 0.2) : Math.min(0.8, capacity + between(0.05, 0.3)),
      };
    }
    case 'shorted': {
      const low = between(1, 1.12);
      const sg = along(1.25, 1.15);
      return {
        ...empty,
        volts: chance(0.55) ? between(10.2, 10.7) : between(8, 10.5),
        load: along(8.8, 4),
        cca: along(0.7, 0.25),
        ohms: along(1.1, 2.2),
        sg,
        spread: sg - low,
        after: {
          volts: between(10.3, 10.7),
          load: along(8.8, 5),
          cca: along(0.75, 0.35),
          ohms: along(1.05, 1.6),
          sg: fullSg - 0.02,
          spread: fullSg - 0.02 - low,
          capacity: along(0.1, 0),
        },
        recovers: along(0.1, 0),
      };
    }
    case 'leaking': {
      const spread = along(0.03, 0.1);
      return {
        ...empty,
        volts: along(12.3, 11.5),
        load: along(10.8, 9),
        cca: along(0.95, 0.7),
        ohms: along(1, 1.3),
        sg: along(1.26, 1.2),
        spread,
        after: {
          volts: along(12.35, 12.1) + (sealed ? 0.2 : 0),
          load: along(10.9, 9.6),
          cca: along(0.95, 0.75),
          ohms: along(1, 1.2),
          sg: fullSg - 0.005,
          spread,
          capacity: along(0.9, 0.5),
        },
        recovers: along(0.9, 0.5),
      };
    }
    case 'weak': {
      const spread = along(0.03, 0.08);
      const capacity = along(0.65, 0.3);
      const v = along(12.6, 12.2) + (sealed ? 0.2 : 0);
      return {
        volts: v,
        load: along(9.8, 8.3),
        cca: along(0.8, 0.5),
        ohms: along(1.1, 1.6),
        sg: along(1.265, 1.23),
        spread,
        bare: false,
        lost: 0,
        after: {
          volts: along(12.6, 12.3) + (sealed ? 0.2 : 0),
          load: along(9.8, 8.3),
          cca: along(0.8, 0.5),
          ohms: along(1.1, 1.6),
          sg: fullSg - 0.01,
          spread,
          capacity,
        },
        recovers: capacity + between(0, 0.1),
      };
    }
    case 'open':
      return {
        ...empty,
        volts: chance(0.6) ? between(12, 12.7) : between(0, 12),
        load: between(0, 2),
        cca: between(0, 0.05),
        ohms: between(15, 200),
        sg: between(1.2, fullSg),
        after: {
          volts: full - between(0, 0.3),
          load: between(0, 2),
          cca: between(0, 0.05),
          ohms: between(15, 200),
          sg: fullSg,
          spread: evenSpread,
          capacity: 0,
        },
        recovers: 0,
      };
    case 'reversed': {
      const wholly = chance(0.5);
      return {
        ...empty,
        volts: wholly ? between(-13, -1) : between(8, 10.6),
        load: between(0, 7),
        after: {
          volts: between(8.4, 10.6),
          load: between(3, 7),
          cca: along(0.5, 0.2),
          ohms: along(1.3, 3),
          sg: fullSg - 0.02,
          spread: between(0.06, 0.2),
          capacity: 0,
        },
        recovers: 0,
      };
    }
    case 'dry': {
      const capacity = sealed ? along(0.85, 0.5) : along(0.8, 0.4);
      const ohms = sealed ? along(1.2, 3) : along(1.1, 2);
      const load = sealed ? along(11.2, 8.5) : along(10.5, 8.5);
      const cca = along(0.8, 0.42);
      const v = sealed ? along(13.1, 12.7) : along(12.8, 12.45);
      return {
        volts: chance(0.75) ? v : along(12.2, 11.2),
        load,
        cca,
        ohms,
        sg: fullSg - between(-0.02, 0.04),
        spread: between(0, 0.03),
        bare: !sealed,
        lost: along(0.01, 0.06),
        after: {
          volts: sealed ? along(13.1, 12.75) : along(12.8, 12.5),
          load,
          cca,
          ohms,
          sg: fullSg + between(-0.02, 0.02),
          spread: between(0, 0.025),
          capacity,
        },
        recovers: Math.min(0.95, capacity + between(0.02, 0.25)),
      };
    }
    case 'worn': {
      const capacity = along(0.6, 0.2);
      const cca = along(0.85, 0.5);
      const ohms = along(1.3, 2);
      const load = along(10.9, 8.5);
      return {
        volts: (chance(0.75) ? along(12.6, 12.2) : along(12.1, 11.3)) + (sealed ? 0.15 : 0),
        load,
        cca,
        ohms,
        sg: fullSg - between(0, 0.05),
        spread: evenSpread,
        bare: false,
        lost: between(0, 0.006),
        after: {
          volts: along(12.75, 12.5) + (sealed ? 0.2 : 0),
          load,
          cca,
          ohms,
          sg: fullSg - between(0, 0.01),
          spread: evenSpread,
          capacity,
        },
        recovers: capacity + between(0, 0.05),
      };
    }
    case 'layered': {
      const capacity = along(0.85, 0.6);
      return {
        volts: between(12.5, 12.9),
        load: along(11.2, 10),
        cca: along(0.95, 0.7),
        ohms: along(1, 1.3),
        sg: along(1.22, 1.15),
        spread: evenSpread,
        bare: false,
        lost: 0,
        after: {
          volts: full + between(-0.05, 0.1),
          load: along(11.2, 10),
          cca: along(0.95, 0.7),
          ohms: along(1, 1.25),
          sg: fullSg - along(0.03, 0.08),
          spread: evenSpread,
          capacity,
        },
        recovers: along(1, 0.85),
      };
    }
  }
}

/** What a diagnosis is asked of it. */
export const fieldQuestion = (b: FieldBattery): DiagnosisQuestion => ({
  subject: {
    chemistry: b.chemistry,
    cells: 6,
    c20Ah: b.c20Ah,
    milliohm: b.soundMilliohm,
    story: b.story,
    standingDays: b.standingDays,
    ageYears: b.ageYears,
    temperatureC: 25,
    coldestC: null,
  },
  evidence: b.evidence,
  after: b.after,
  open: b.chemistry === 'flooded',
  routes:
    b.chemistry === 'flooded'
      ? ['recharge', 'slow-restore', 'mix', 'pulse', 'cycle']
      : b.chemistry === 'agm'
        ? ['recharge', 'slow-restore', 'held', 'pulse', 'cycle']
        : ['recharge', 'cycle'],
  prefer: 'slow-restore',
  stakes: DEFAULT_STAKES,
  ratings: { ratedCca: b.ratedCca, wetMassG: 300 * b.c20Ah },
});

/** Which way brings it to what it can hold; any other leaves what a usual charge leaves. */
export function helpsInTheField({ what }: FieldBattery, route: RouteKey): boolean {
  switch (what) {
    case 'light':
    case 'hard':
      return route !== 'recharge' && route !== 'mix';
    case 'layered':
      return route === 'mix' || route === 'slow-restore';
    case 'dry':
      return route === 'slow-restore' || route === 'water-agm';
    default:
      return true;
  }
}
