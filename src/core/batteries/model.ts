import { kindOf } from './kinds.ts';

/** CCA tests that are not interchangeable; a rating is printed with its standard, never converted. */
export const CCA_STANDARDS = ['EN', 'SAE', 'DIN', 'IEC', 'JIS'] as const;
export type CcaStandard = (typeof CCA_STANDARDS)[number];

/** What a battery may be built for; see builds.ts. */
export const BUILD_KEYS = ['starter', 'powersport', 'standby', 'deep-cycle'] as const;
export type BuildKey = (typeof BUILD_KEYS)[number];

export const CAPS = ['screw', 'pull'] as const;
export type Caps = (typeof CAPS)[number];

/** What the maker prints for one model. `null` where the maker prints nothing. Per battery unless said. */
export interface BatteryModel {
  code: string;
  kind: string;
  name: string;
  nominalV: number;
  cells: number;
  c20Ah: number;
  cca: number | null;
  ccaStandard: CcaStandard | null;
  /** Code of the only electrolyte pack that may be used; null where no pack of tubes fills it. */
  electrolyteCode: string | null;
  /** Acid it takes in all, mL: the pack's for a tube fill, the maker's figure for a bulk fill. */
  electrolyteMl: number | null;
  /** How the caps of a serviceable battery come off; null where nobody takes them off. */
  caps: Caps | null;
  fillSg: number | null;
  chargeA: number | null;
  ceilingV: number | null;
  dwellS: number | null;
  soakS: number | null;
  passV: number | null;
  /** What it is built for, where somebody said; by its kind, size and label where nobody did. */
  build?: BuildKey | null;
  /** Minutes at 25 A to 10.5 V (1.75 V a cell), Ah at C/10, and resistance when full, mΩ: where they are printed. */
  reserveMin?: number | null;
  c10Ah?: number | null;
  milliohm?: number | null;
  /** Its label cannot be read: C20 is an estimate, and eight of ten such batteries lie between these, Ah. */
  estimate?: SizeEstimate | null;
}

/** Between which values a C20 lies that nobody could read, Ah, and from what it was estimated. */
export interface SizeEstimate {
  low: number;
  high: number;
  from: readonly string[];
}

/** C20 as it is said of a model: `60 Ah (C20)`, or `about 60 Ah (50 to 72, estimated)`. */
export const sizeWords = ({ c20Ah, estimate }: Pick<BatteryModel, 'c20Ah' | 'estimate'>): string =>
  estimate
    ? `about ${c20Ah} Ah (${estimate.low} to ${estimate.high}, estimated)`
    : `${c20Ah} Ah (C20)`;

/** Nominal volts per lead-acid cell. */
const CELL_NOMINAL_V = 2;

/** Sentences for a model whose printed values contradict each other or the battery's own chemistry; empty when sound. */
export function modelFaults(model: BatteryModel): { field: keyof BatteryModel; message: string }[] {
  const faults: { field: keyof BatteryModel; message: string }[] = [];
  if (model.nominalV !== model.cells * CELL_NOMINAL_V) {
    faults.push({
      field: 'cells',
      message: `${model.nominalV} V takes ${model.nominalV / CELL_NOMINAL_V} cells.`,
    });
  }
  if ((model.cca === null) !== (model.ccaStandard === null)) {
    faults.push({ field: 'ccaStandard', message: 'A CCA rating and its standard go together.' });
  }
  const outside = (value: number | null, low: number, high: number) =>
    value !== null && (value / model.cells < low || value / model.cells > high);
  if (outside(model.passV, 2.0, 2.2))
    faults.push({
      field: 'passV',
      message: `A pass voltage for ${model.cells} cells lies between ${2 * model.cells} and ${(2.2 * model.cells).toFixed(1)} V.`,
    });
  if (outside(model.ceilingV, 2.25, 2.6))
    faults.push({
      field: 'ceilingV',
      message: `A charge ceiling for ${model.cells} cells lies between ${(2.25 * model.cells).toFixed(1)} and ${(2.6 * model.cells).toFixed(1)} V.`,
    });
  if (model.chargeA !== null && model.chargeA > model.c20Ah * 0.4)
    faults.push({
      field: 'chargeA',
      message: `More than ${(model.c20Ah * 0.4).toFixed(1)} A is not a first charge for ${model.c20Ah} Ah.`,
    });
  faults.push(...ratingFaults(model));
  const perCellPerAh = (model.electrolyteMl ?? 0) / model.cells / model.c20Ah;
  if (model.electrolyteMl !== null && (perCellPerAh < 3 || perCellPerAh > 30))
    faults.push({
      field: 'electrolyteMl',
      message: `${model.electrolyteMl} mL is not a fill for ${model.cells} cells of ${model.c20Ah} Ah; expect 3–30 mL per cell and Ah.`,
    });
  return [...faults, ...kindFaults(model)];
}

/** Amperes of a reserve capacity. */
export const RESERVE_A = 25;
/** Two ratings of one battery lie on a law of Peukert with an exponent between these; a printed pair outside has a slip in it. */
const LEAST_EXPONENT = 1.005;
const MOST_EXPONENT = 1.5;

/** Other ratings that cannot belong to the same battery as its C20. */
function ratingFaults({
  c20Ah,
  c10Ah,
  reserveMin,
}: BatteryModel): { field: keyof BatteryModel; message: string }[] {
  const faults: { field: keyof BatteryModel; message: string }[] = [];
  const outside = (ampere: number, hours: number): boolean => {
    const k = ratedExponent(c20Ah, ampere, hours);
    return !(k >= LEAST_EXPONENT && k <= MOST_EXPONENT);
  };
  if (typeof c10Ah === 'number' && outside(c10Ah / 10, 10))
    faults.push({
      field: 'c10Ah',
      message: `${c10Ah} Ah at C/10 does not go with ${c20Ah} Ah at C/20; expect ${(0.9 * c20Ah).toFixed(1)} to ${(0.97 * c20Ah).toFixed(1)}.`,
    });
  if (typeof reserveMin === 'number' && (c20Ah < RESERVE_A || outside(RESERVE_A, reserveMin / 60)))
    faults.push({
      field: 'reserveMin',
      message:
        c20Ah < RESERVE_A
          ? `A reserve capacity is measured at ${RESERVE_A} A, which a battery of ${c20Ah} Ah is not rated at.`
          : `${reserveMin} minutes at ${RESERVE_A} A do not go with ${c20Ah} Ah at C/20; expect about ${Math.max(20, Math.round(2 * (c20Ah - 15.5)))}.`,
    });
  return faults;
}

/** Peukert's exponent of two rated points: C20, and so many hours at so many amperes. */
export const ratedExponent = (c20Ah: number, ampere: number, hours: number): number =>
  Math.log(20 / hours) / Math.log(ampere / (c20Ah / 20));

/** What a kind must have printed for it, and what does not belong to it. */
function kindFaults(model: BatteryModel): { field: keyof BatteryModel; message: string }[] {
  const kind = kindOf(model.kind);
  if ('refusal' in kind) return [];
  const faults: { field: keyof BatteryModel; message: string }[] = [];
  if (kind.fill === 'tubes') {
    if (model.electrolyteCode === null)
      faults.push({
        field: 'electrolyteCode',
        message: 'Type the code of its electrolyte pack; no other pack may be used.',
      });
    if (model.electrolyteMl === null)
      faults.push({ field: 'electrolyteMl', message: 'Type what its pack holds, mL.' });
  } else if (model.electrolyteCode !== null) {
    faults.push({
      field: 'electrolyteCode',
      message: `${kind.name} is not filled from a pack of tubes.`,
    });
  }
  if (kind.fill === null && model.electrolyteMl !== null)
    faults.push({ field: 'electrolyteMl', message: `${kind.name} is not filled in the shop.` });
  if (kind.fill !== 'tubes' && (model.dwellS !== null || model.soakS !== null))
    faults.push({
      field: 'dwellS',
      message: 'A time for the pack belongs to a battery filled from one.',
    });
  if (kind.ports === 'serviceable' && model.caps === null)
    faults.push({ field: 'caps', message: 'Say whether its caps pull or unscrew.' });
  if (kind.ports !== 'serviceable' && model.caps !== null)
    faults.push({ field: 'caps', message: `${kind.name} has no caps to take off.` });
  return faults;
}
