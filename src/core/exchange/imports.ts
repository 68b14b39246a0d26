import { type BatteryModel, BUILD_KEYS, CCA_STANDARDS } from '../batteries/model.ts';
import { KINDS } from '../batteries/kinds.ts';
import { normaliseTag } from '../batteries/tag.ts';
import { type Field, readAmount, readMoment, readOneOf, readText } from './table.ts';

const plainWord = (word: string) => word.toLowerCase().replaceAll(/[^a-z0-9]/g, '');
const words = (list: readonly (readonly [string, string])[]) =>
  Object.fromEntries(list.map(([said, value]) => [plainWord(said), value]));

const KIND_WORDS = {
  ...words(KINDS.map((k) => [k.key, k.key] as const)),
  ...words(KINDS.map((k) => [k.name, k.key] as const)),
  ...words([
    ['conventional', 'flooded-dry'],
    ['agm', 'agm-sealed'],
    ['efb', 'flooded-sealed'],
    ['maintenance free', 'flooded-sealed'],
  ]),
};

const BUILD_WORDS = words([
  ...BUILD_KEYS.map((key) => [key, key] as const),
  ['deep cycle', 'deep-cycle'],
  ['traction', 'deep-cycle'],
  ['motorcycle', 'powersport'],
  ['cranking', 'starter'],
]);

const optional = <K extends string>(
  key: K,
  label: string,
  known: readonly string[],
  read: Field['read'],
): Field<K> => ({
  key,
  label,
  must: false,
  known,
  read,
});
const needed = <K extends string>(
  key: K,
  label: string,
  known: readonly string[],
  read: Field['read'],
): Field<K> => ({ key, label, must: true, known, read });

/** Columns of a table of models. Times in minutes in the table, seconds inside. */
export const MODEL_FIELDS: readonly Field<keyof BatteryModel>[] = [
  needed('code', 'Model code', ['code', 'model', 'modelcode', 'type'], readText(24)),
  needed('name', 'Name', ['name', 'description', 'modelname'], readText(60)),
  needed('kind', 'Kind', ['kind', 'technology', 'family'], readOneOf(KIND_WORDS)),
  needed('nominalV', 'Volts', ['nominalv', 'volts', 'voltage', 'v'], readAmount(6, 12)),
  needed(
    'c20Ah',
    'Ah (C20)',
    ['c20ah', 'c20', 'ah', 'capacity', 'capacityah'],
    readAmount(0.5, 300),
  ),
  optional('cca', 'CCA, A', ['cca', 'ccaa', 'crankingcurrent'], readAmount(10, 2000)),
  optional(
    'ccaStandard',
    'CCA standard',
    ['ccastandard', 'standard'],
    readOneOf(words(CCA_STANDARDS.map((s) => [s, s] as const))),
  ),
  optional(
    'electrolyteCode',
    'Electrolyte pack',
    ['electrolytecode', 'electrolytepack', 'pack', 'packcode'],
    readText(24),
  ),
  optional(
    'electrolyteMl',
    'Electrolyte, mL',
    ['electrolyteml', 'acidml', 'ml', 'electrolytevolume'],
    readAmount(10, 20_000),
  ),
  optional(
    'caps',
    'Caps',
    ['caps'],
    readOneOf(
      words([
        ['screw', 'screw'],
        ['pull', 'pull'],
        ['push', 'pull'],
      ]),
    ),
  ),
  optional('fillSg', 'Fill SG', ['fillsg', 'sg', 'acidsg'], readAmount(1.2, 1.35)),
  optional(
    'chargeA',
    'First charge, A',
    ['chargea', 'chargecurrent', 'firstchargea'],
    readAmount(0.05, 60),
  ),
  optional(
    'ceilingV',
    'Charge ceiling, V',
    ['ceilingv', 'chargeceiling', 'ceiling'],
    readAmount(2, 33),
  ),
  optional('dwellS', 'Pack stays on, min', ['dwellmin', 'dwell', 'packstayson'], minutes(5, 360)),
  optional('soakS', 'Soak, min', ['soakmin', 'soak'], minutes(5, 1440)),
  optional(
    'build',
    'Built for',
    ['build', 'builtfor', 'application', 'use'],
    readOneOf(BUILD_WORDS),
  ),
  optional('c10Ah', 'Ah (C10)', ['c10ah', 'c10', 'tenhour', '10hr'], readAmount(0.4, 300)),
  optional(
    'reserveMin',
    'Reserve capacity, min',
    ['reservemin', 'reserve', 'reservecapacity', 'rc', 'rcmin'],
    readAmount(5, 900),
  ),
  optional(
    'milliohm',
    'Resistance when full, mΩ',
    ['milliohm', 'mohm', 'resistance', 'internalresistance'],
    readAmount(0.3, 500),
  ),
  optional('passV', 'Pass voltage, V', ['passv', 'passvoltage', 'pass'], readAmount(2, 27)),
];

/** Columns of a table of batteries; with a rest voltage it is wet stock and goes onto the shelf. */
export const BATTERY_FIELDS: readonly Field<
  'tag' | 'modelCode' | 'dateCode' | 'owner' | 'restV' | 'readAt' | 'chargedAt'
>[] = [
  needed('tag', 'Tag', ['tag', 'shoptag', 'serial', 'number'], (text) => {
    const tag = normaliseTag(text);
    return tag === null ? `“${text.slice(0, 20)}” is not a tag like LK-0412.` : { value: tag };
  }),
  needed('modelCode', 'Model code', ['modelcode', 'model', 'type'], readText(24)),
  needed('dateCode', 'Date code', ['datecode', 'date', 'made'], readText(20)),
  needed('owner', 'For', ['owner', 'for', 'customer', 'place'], readText(60)),
  optional(
    'restV',
    'Rest voltage, V',
    ['restv', 'restvoltage', 'volts', 'voltage', 'ocv'],
    readAmount(0, 20),
  ),
  optional('readAt', 'Read on', ['readat', 'readon', 'measured', 'measuredat'], readMoment),
  optional('chargedAt', 'Last charged', ['chargedat', 'lastcharged', 'charged'], readMoment),
];

function minutes(low: number, high: number): Field['read'] {
  const read = readAmount(low, high);
  return (text, timeZone) => {
    const answer = read(text, timeZone);
    return typeof answer === 'string' ? answer : { value: (answer.value as number) * 60 };
  };
}

/** A row of a table of models as a model; two volts a cell. */
export function modelOfRow(values: Record<string, unknown>): BatteryModel {
  return { ...(values as unknown as BatteryModel), cells: (values['nominalV'] as number) / 2 };
}
