import type { CaseKey } from '../../../core/batteries/cases.ts';
import type { CarriedKey } from '../../../core/batteries/guessSize.ts';
import type { BuildKey, Caps, CcaStandard } from '../../../core/batteries/model.ts';
import type { UnlabelledBattery } from '../../../core/batteries/unlabelled.ts';
import { GRAMS_PER_POUND } from '../../../core/quantities/quantity.ts';
import type { Units } from '../../../core/quantities/shopUnits.ts';

/** What is typed of a battery without a label; empty where it cannot be read. */
export interface UnlabelledTexts {
  kind: string;
  cells: 3 | 6;
  caps: Caps;
  build: BuildKey | '';
  printedAh: string;
  cca: string;
  ccaStandard: CcaStandard;
  reserveMin: string;
  massKg: string;
  lengthCm: string;
  widthCm: string;
  heightCm: string;
  caseCode: CaseKey | '';
  carried: CarriedKey | '';
}

export const NO_LABEL: UnlabelledTexts = {
  kind: 'flooded-sealed',
  cells: 6,
  caps: 'screw',
  build: '',
  printedAh: '',
  cca: '',
  ccaStandard: 'EN',
  reserveMin: '',
  massKg: '',
  lengthCm: '',
  widthCm: '',
  heightCm: '',
  caseCode: '',
  carried: '',
};

export type UnlabelledField = keyof UnlabelledTexts;

/** Numbers that can be typed: their words, and between which values they are sensible. */
const NUMBERS = {
  printedAh: [0.5, 300],
  cca: [10, 2000],
  reserveMin: [5, 900],
  massKg: [0.2, 120],
  lengthCm: [2, 100],
  widthCm: [2, 100],
  heightCm: [2, 100],
} as const;

/** What was typed as a battery, and which fields cannot be read. A mass is typed in pounds where the shop weighs in them. */
export function batteryOf(
  texts: UnlabelledTexts,
  { volumeUnit }: Pick<Units, 'volumeUnit'>,
): {
  battery: UnlabelledBattery;
  faults: Partial<Record<UnlabelledField, string>>;
} {
  const faults: Partial<Record<UnlabelledField, string>> = {};
  const number = (field: keyof typeof NUMBERS): number | undefined => {
    const text = texts[field].trim().replace(',', '.');
    if (text === '') return undefined;
    const perUnit = field === 'massKg' && volumeUnit === 'oz' ? GRAMS_PER_POUND / 1000 : 1;
    const value = Number(text) * perUnit;
    const [low, high] = NUMBERS[field];
    if (Number.isFinite(value) && value >= low && value <= high) return value;
    const [least, most] = [low, high].map((n) => Number((n / perUnit).toPrecision(2)));
    faults[field] = `Between ${least} and ${most}.`;
    return undefined;
  };
  const [length, width, height] = [number('lengthCm'), number('widthCm'), number('heightCm')];
  const found = {
    build: texts.build || undefined,
    printedAh: number('printedAh'),
    cca: number('cca'),
    ccaStandard: texts.cca.trim() === '' ? undefined : texts.ccaStandard,
    reserveMin: number('reserveMin'),
    massKg: number('massKg'),
    caseCm: length && width && height ? ([length, width, height] as const) : undefined,
    caseCode: texts.caseCode || undefined,
    carried: texts.carried || undefined,
  };
  return {
    battery: {
      kind: texts.kind,
      cells: texts.cells,
      caps: texts.kind === 'flooded-dry' ? texts.caps : null,
      ...(Object.fromEntries(
        Object.entries(found).filter(([, value]) => value !== undefined),
      ) as typeof found),
    },
    faults,
  };
}
