import { leadAcidKind } from './kinds.ts';
import { CASES, type CaseKey } from './cases.ts';
import { overEn } from './labelResistance.ts';
import type { BuildKey, CcaStandard } from './model.ts';
import type { ChemistryKey } from './chemistry.ts';

/** What can be read of a battery, or measured on it, that has no readable label. */
export interface SizeClues {
  kind: string;
  cells: number;
  /** What it is built for; by its kind where nobody can tell. */
  build?: BuildKey | undefined;
  /** As printed, Ah: at 20 h unless it says otherwise. */
  printedAh?: number | undefined;
  cca?: number | undefined;
  ccaStandard?: CcaStandard | undefined;
  reserveMin?: number | undefined;
  massKg?: number | undefined;
  /** Length, width and height of the case, cm; without posts. */
  caseCm?: readonly [number, number, number] | undefined;
  caseCode?: CaseKey | undefined;
  /** How it is carried, where nothing else is known. */
  carried?: CarriedKey | undefined;
}

export const CARRIED_KEYS = ['one-hand', 'small', 'car', 'truck'] as const;
export type CarriedKey = (typeof CARRIED_KEYS)[number];

/** How it is carried, and the C20 that 12 V batteries carried so usually have, Ah. */
export const CARRIED: Readonly<
  Record<CarriedKey, { name: string; ah: readonly [number, number] }>
> = {
  'one-hand': { name: 'In one hand', ah: [4, 14] },
  small: { name: 'In one arm', ah: [14, 36] },
  car: { name: 'With both hands', ah: [40, 95] },
  truck: { name: 'By two people', ah: [100, 230] },
};

/** What one clue says of C20, Ah: where eight of ten such batteries lie. */
export interface SizeSaid {
  /** The clue, as it is read: `520 A (EN)`. */
  from: string;
  low: number;
  high: number;
}

/** C20 where no label tells it: most likely, and where eight of ten lie, Ah. */
export interface SizeGuess {
  c20Ah: number;
  low: number;
  high: number;
  said: SizeSaid[];
  /** Clues of which one must be misread: they leave nothing between them. */
  disagree: readonly [string, string] | null;
}

/** A of CCA (EN) per Ah of C20, low and high, by family and build. Usual catalogue ranges, 4–200 Ah. */
const CCA_PER_AH: Readonly<
  Record<BuildKey, Readonly<Record<ChemistryKey, readonly [number, number]>>>
> = {
  starter: { flooded: [8, 10.5], agm: [9.5, 12.5], gel: [7, 10] },
  // 12–18 A per Ah of C10, which is about 0.93 of C20.
  powersport: { flooded: [10, 15], agm: [11.2, 16.7], gel: [10, 15] },
  standby: { flooded: [4, 7], agm: [5, 9], gel: [4, 8] },
  'deep-cycle': { flooded: [4, 7], agm: [4, 7], gel: [4, 7] },
};

/** Ah of C20 per kg when filled, 12 V, low and high. Usual catalogue ranges. */
const AH_PER_KG = {
  floodedStarter: [3.6, 4.2],
  floodedDeep: [3.2, 4.1],
  floodedSmall: [2.6, 3.6],
  agmStarter: [3.3, 3.7],
  agmSmall: [2.8, 3.2],
  agmLarge: [3.2, 3.6],
  gel: [3, 3.4],
} as const;
/** A small battery weighs more for its Ah: case and lids do not shrink with it. */
const SMALL_KG = 12;

/** Ah of C20 per litre of case, 12 V, low and high. Usual catalogue ranges; posts left out. */
const AH_PER_LITRE: Readonly<Record<ChemistryKey, readonly [number, number]>> = {
  flooded: [6.2, 8.4],
  agm: [6.8, 9],
  gel: [6, 8.2],
};
const POWERSPORT_AH_PER_LITRE = [5.6, 8] as const;

/** A printed figure of Ah may be another rate's (C10, C5), and is rounded. */
const PRINTED = [0.95, 1.08] as const;
/** C20 ≈ RC ÷ 2 + 15.5 Ah, for 30 to 160 minutes at 25 A; good to so much there, and to more outside. */
const RESERVE_OFF = 0.1;
const RESERVE_FAR_OFF = 0.2;
const RESERVE_SPAN = [30, 160] as const;

/** Half of the width that holds eight of ten, in standard deviations. */
const EIGHT_OF_TEN = 1.2816;
/** Clues share what they get wrong: together they are never better than this, one deviation of the logarithm. */
const LEAST_OFF = 0.06;
/** Without any clue, 12 V. Widest of all. */
const NOTHING: Readonly<Record<ChemistryKey, readonly [number, number]>> = {
  flooded: [30, 110],
  agm: [7, 105],
  gel: [12, 110],
};
const SIX_VOLT: readonly [number, number] = [5, 180];

/**
 * C20 of a battery without a readable label, from whatever can be read or measured. Each clue is a range in which eight of
 * ten batteries lie; they are combined as errors of the logarithm, and a clue that disagrees is told and widens the band.
 *
 * @throws Error for a kind that this shop does not work on
 */
export function guessSize(clues: SizeClues): SizeGuess {
  const said = saidBy(clues);
  const { chemistry } = leadAcidKind(clues.kind);
  const used = said.length > 0 ? said : [nothingSaid(clues.cells, chemistry)];
  const logs = used.map(({ low, high }) => ({
    middle: (Math.log(low) + Math.log(high)) / 2,
    off: (Math.log(high) - Math.log(low)) / 2 / EIGHT_OF_TEN,
  }));
  const weights = logs.map(({ off }) => 1 / off ** 2);
  const weight = weights.reduce((a, b) => a + b, 0);
  const middle = logs.reduce((sum, l, i) => sum + l.middle * (weights[i] as number), 0) / weight;
  const disagree = apart(used);
  // What the clues differ by beyond their own widths belongs to the band.
  const scatter = Math.sqrt(
    logs.reduce((sum, l, i) => sum + (weights[i] as number) * (l.middle - middle) ** 2, 0) / weight,
  );
  const off = Math.max(LEAST_OFF, Math.sqrt(1 / weight), disagree ? scatter : 0);
  const at = (z: number) => round(Math.exp(middle + z * off));
  return {
    c20Ah: at(0),
    low: at(-EIGHT_OF_TEN),
    high: at(EIGHT_OF_TEN),
    said,
    disagree,
  };
}

/** Two clues whose ranges lie furthest apart, where nothing lies between them. */
function apart(said: readonly SizeSaid[]): readonly [string, string] | null {
  let worst: { gap: number; names: readonly [string, string] } | null = null;
  for (const a of said)
    for (const b of said) {
      const gap = Math.log(b.low / a.high);
      // A narrow miss is no contradiction: a range holds eight of ten.
      if (gap > 0.05 && gap > (worst?.gap ?? 0)) worst = { gap, names: [a.from, b.from] };
    }
  return worst?.names ?? null;
}

const nothingSaid = (cells: number, chemistry: ChemistryKey): SizeSaid => {
  const [low, high] = cells === 3 ? SIX_VOLT : NOTHING[chemistry];
  return { from: 'its kind', low, high };
};

function saidBy(clues: SizeClues): SizeSaid[] {
  const { kind, cells } = clues;
  const { chemistry } = leadAcidKind(kind);
  const build = clues.build ?? usualBuildOf(clues, chemistry);
  /** Of 12 V: a 6 V battery of the same Ah has half the plates. */
  const twelve = cells / 6;
  const out: SizeSaid[] = [];
  const tell = (from: string, low: number, high: number) => out.push({ from, low, high });
  if (clues.printedAh)
    tell(`${clues.printedAh} Ah`, clues.printedAh * PRINTED[0], clues.printedAh * PRINTED[1]);
  if (clues.cca) {
    const standard = clues.ccaStandard ?? 'EN';
    const en = clues.cca / overEn(standard);
    const [low, high] = CCA_PER_AH[build][chemistry];
    tell(`${clues.cca} A (${standard})`, en / high, en / low);
  }
  if (clues.reserveMin) {
    const ah = clues.reserveMin / 2 + 15.5;
    const inside = clues.reserveMin >= RESERVE_SPAN[0] && clues.reserveMin <= RESERVE_SPAN[1];
    const off = inside ? RESERVE_OFF : RESERVE_FAR_OFF;
    tell(`${clues.reserveMin} min`, ah * (1 - off), ah * (1 + off));
  }
  if (clues.massKg) {
    const [low, high] = ahPerKg(chemistry, build, clues.massKg / twelve);
    tell(
      `${Number(clues.massKg.toFixed(1))} kg`,
      (clues.massKg / twelve) * low,
      (clues.massKg / twelve) * high,
    );
  }
  if (clues.caseCm) {
    const litres = clues.caseCm.reduce((a, b) => a * b, 1) / 1000 / twelve;
    const [low, high] = build === 'powersport' ? POWERSPORT_AH_PER_LITRE : AH_PER_LITRE[chemistry];
    tell(
      `${clues.caseCm.map((cm) => Number(cm.toFixed(1))).join(' × ')} cm`,
      litres * low,
      litres * high,
    );
  }
  if (clues.caseCode) {
    const { name, ah } = CASES[clues.caseCode];
    tell(`case ${name}`, ah[0], ah[1]);
  }
  if (clues.carried) {
    const [low, high] = CARRIED[clues.carried].ah;
    tell(`carried ${CARRIED[clues.carried].name.toLowerCase()}`, low / twelve, high / twelve);
  }
  return out;
}

/** Below this mass, or this CCA, a starter is a machine's or a motorcycle's. */
const POWERSPORT_KG = 9;
const POWERSPORT_CCA = 300;

/** What it is most likely built for, where nobody can tell. */
function usualBuildOf(
  { cca, massKg, carried, kind }: SizeClues,
  chemistry: ChemistryKey,
): BuildKey {
  if (chemistry === 'gel') return 'standby';
  const small =
    (massKg !== undefined && massKg < POWERSPORT_KG) ||
    (cca !== undefined && cca < POWERSPORT_CCA) ||
    carried === 'one-hand';
  if (kind === 'agm-sealed' && cca === undefined) return 'standby';
  return small ? 'powersport' : 'starter';
}

function ahPerKg(chemistry: ChemistryKey, build: BuildKey, kg: number): readonly [number, number] {
  if (chemistry === 'gel') return AH_PER_KG.gel;
  if (chemistry === 'flooded')
    return kg < SMALL_KG / 2
      ? AH_PER_KG.floodedSmall
      : build === 'deep-cycle'
        ? AH_PER_KG.floodedDeep
        : AH_PER_KG.floodedStarter;
  if (kg < SMALL_KG) return AH_PER_KG.agmSmall;
  return build === 'starter' ? AH_PER_KG.agmStarter : AH_PER_KG.agmLarge;
}

/** To a digit that is still told: half an Ah below 20, else whole ones. */
const round = (ah: number): number => (ah < 20 ? Math.round(2 * ah) / 2 : Math.round(ah));
