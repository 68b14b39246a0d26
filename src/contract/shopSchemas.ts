import Joi from 'joi';
import type {
  AddLot,
  AskedIn,
  CalendarAddress,
  EndSet,
  ImportBatteries,
  ImportLog,
  ImportModels,
  MakeSet,
  PickFromShelf,
  ReadOnShelf,
  SetActive,
  SetPin,
  SignIn,
  UseLot,
  SaveCharger,
  Write,
} from './asks.ts';
import { daysAway, id, moment, name, number, prose, tag, words, write } from './schemaParts.ts';
import { modelSchema } from './schemas.ts';
import { SHOWN, CHARGER_KINDS } from '../core/chargers/charger.ts';

/** What the shelf, the wet room, the people and the papers of a shop take. */

export const readOnShelfSchema = Joi.object<ReadOnShelf>({
  ...write,
  voltageV: number().min(-20).max(20).required(),
  temperatureC: number().min(-40).max(60),
  takenAt: moment.required(),
  sure: Joi.boolean().strict(),
  supersedes: id,
}).messages(words);

export const pickFromShelfSchema = Joi.object<PickFromShelf>({
  ...write,
  owner: name().required(),
  reason: prose,
}).messages(words);

const family = Joi.string().valid('flooded', 'agm', 'gel');
const chargerSetting = Joi.object({
  name: name(40).required(),
  amps: number().min(0.05).max(600).required(),
  boost: Joi.boolean().required(),
});
const chargerProgram = Joi.object({
  name: name(40).required(),
  families: Joi.array().items(family).min(1).max(3).unique().required(),
  ceilingV: number().min(12).max(17).allow(null).required(),
  compensated: Joi.boolean().required(),
  ends: Joi.string().valid('stops', 'floats', 'never').required(),
  bursts: Joi.object({
    hours: number().min(0.5).max(72).required(),
    perSecond: number().min(1).max(200).required(),
    peakOverMean: number().min(1.5).max(20).required(),
  }),
});
export const saveChargerSchema = Joi.object<SaveCharger>({
  ...write,
  charger: Joi.object({
    name: name(40).required(),
    kind: Joi.string()
      .valid(...CHARGER_KINDS)
      .required(),
    where: Joi.string().trim().max(40).allow('').required(),
    volts: Joi.array().items(Joi.valid(6, 12)).min(1).max(2).unique().required(),
    settings: Joi.when('range', {
      is: null,
      then: Joi.array().items(chargerSetting).min(1).max(8).unique('name').required(),
      otherwise: Joi.array().items(chargerSetting).max(0).required(),
    }),
    range: Joi.object({
      leastA: number().min(0.01).max(50).required(),
      mostA: number().min(Joi.ref('leastA')).max(200).required(),
      mostV: number().min(6).max(36).required(),
    })
      .allow(null)
      .required(),
    programs: Joi.when('range', {
      is: null,
      then: Joi.array().items(chargerProgram).min(1).max(8).unique('name').required(),
      otherwise: Joi.array().items(chargerProgram).max(8).unique('name').required(),
    }),
    startsV: number().min(0).max(12.5).required(),
    shows: Joi.array()
      .items(Joi.string().valid(...SHOWN))
      .max(4)
      .unique()
      .required(),
    lights: Joi.array()
      .items(
        Joi.object({
          light: name(40).required(),
          means: Joi.string().valid('charging', 'full', 'error', 'waiting').required(),
        }),
      )
      .max(8)
      .required(),
    outputs: number().integer().min(1).max(16).required(),
    standing: Joi.string().valid('ready', 'out-of-order', 'lent').required(),
    outages: Joi.array()
      .items(daysAway({ why: Joi.string().trim().max(60).allow('').required() }))
      .max(60)
      .required(),
  }).required(),
}).messages(words);
/** As it was known at a moment, ms since the epoch; now, where none is named. */
export const asOfQuery = Joi.object<{ asOf?: number }>({
  asOf: Joi.number().integer().min(0),
}).messages(words);
export const askedInSchema = Joi.object<AskedIn>({
  ...write,
  tags: Joi.array().items(tag.required()).max(500).unique().required(),
}).messages(words);
export const removeChargerSchema = Joi.object<Write>(write).messages(words);

const lotCode = name(24);
export const lotParam = Joi.object<{ code: string }>({ code: lotCode.required() }).messages(words);
export const addLotSchema = Joi.object<AddLot>({
  ...write,
  lot: Joi.object({
    code: lotCode.required(),
    kind: Joi.string().valid('pack', 'acid', 'water').required(),
    packCode: Joi.when('kind', {
      is: 'pack',
      then: name(24).required(),
      otherwise: Joi.valid(null).required(),
    }),
    sg: Joi.when('kind', {
      is: 'acid',
      then: number().min(1.05).max(1.5).required(),
      otherwise: Joi.valid(null).required(),
    }),
    supplier: name().allow(''),
    quantityMl: number().min(1).max(1_000_000).required(),
    expiresAt: moment.allow(null).required(),
  }).required(),
}).messages(words);
export const makeSetSchema = Joi.object<MakeSet>({
  ...write,
  tags: Joi.array().items(tag).min(2).max(12).unique().required(),
}).messages(words);
export const endSetSchema = Joi.object<EndSet>({ ...write, reason: prose.required() }).messages(
  words,
);
export const useLotSchema = Joi.object<UseLot>({
  ...write,
  ml: number().min(1).max(1_000_000).required(),
  why: prose.required(),
}).messages(words);

const pinPattern = /^\d{4,10}$/;
const EASY = 'Too easy to guess: not one digit over and over, nor digits in their order.';
const pin = Joi.string()
  .pattern(pinPattern)
  .custom((value: string, helpers) => (easyPin(value) ? helpers.error('pin.easy') : value))
  .messages({ 'string.pattern.base': 'Four to ten digits.', 'pin.easy': EASY });

/** One step from digit to digit throughout (0000, 1234, 9876, 2468), or a short piece said again (1212). */
export function easyPin(digits: string): boolean {
  const steps = [...digits].slice(1).map((d, i) => (Number(d) - Number(digits[i]) + 10) % 10);
  return new Set(steps).size === 1 || /^(\d{1,3})\1+$/.test(digits);
}
export const signInSchema = Joi.object<SignIn>({
  personId: Joi.string().max(40).required(),
  pin: Joi.string().max(64).required(),
}).messages(words);
export const setActiveSchema = Joi.object<SetActive>({
  ...write,
  active: Joi.boolean().strict().required(),
}).messages(words);
export const calendarAddressSchema = Joi.object<CalendarAddress>({
  ...write,
  renew: Joi.boolean().strict().required(),
}).messages(words);
export const setPinSchema = Joi.object<SetPin>({ ...write, pin: pin.required() }).messages(words);
export const personParam = Joi.object<{ id: string }>({
  id: Joi.string().max(40).required(),
}).messages(words);

/** Rows that one import may bring. */
export const MOST_IMPORTED = 2000;
export const importModelsSchema = Joi.object<ImportModels>({
  ...write,
  models: Joi.array().items(modelSchema).min(1).max(MOST_IMPORTED).required(),
}).messages(words);
export const importBatteriesSchema = Joi.object<ImportBatteries>({
  ...write,
  batteries: Joi.array()
    .items(
      Joi.object({
        tag: tag.required(),
        modelCode: name(24).required(),
        dateCode: name(20).required(),
        owner: name().required(),
        restV: number().min(0).max(20).allow(null).required(),
        readAt: moment.allow(null).required(),
        chargedAt: moment.allow(null).required(),
      }),
    )
    .min(1)
    .max(MOST_IMPORTED)
    .unique('tag')
    .required(),
}).messages({ ...words, 'array.unique': 'This tag stands twice.' });

const column = Joi.array().items(number()).max(2000).required();
export const importLogSchema = Joi.object<ImportLog>({
  ...write,
  name: name(80).required(),
  log: Joi.object({
    seconds: column,
    voltageV: column,
    currentA: column,
    temperatureC: Joi.array().items(number()).max(2000).allow(null).required(),
    rows: number().integer().min(2).required(),
    leftOut: Joi.array()
      .items(
        Joi.object({ row: number().integer().required(), why: Joi.string().max(200).required() }),
      )
      .max(20)
      .required(),
    leftOutCount: number().integer().min(0).required(),
    gaps: Joi.array()
      .items(Joi.object({ atS: number().required(), lengthS: number().required() }))
      .max(20)
      .required(),
    startedAt: moment.allow(null).required(),
    ahIn: number().min(0).required(),
    ahOut: number().min(0).required(),
    notices: Joi.array().items(Joi.string().max(200)).max(20).required(),
  }).required(),
}).messages(words);

export const tagsQuery = Joi.object<{ tags: string; code: 'code128' | 'qr' }>({
  tags: Joi.string().max(4000).required(),
  code: Joi.string().valid('code128', 'qr').default('code128'),
}).messages(words);
export const trayParam = Joi.object<{ id: string }>({ id: id.required() }).messages(words);
export const calendarQuery = Joi.object<{ token?: string }>({
  token: Joi.string().max(80),
}).messages(words);
