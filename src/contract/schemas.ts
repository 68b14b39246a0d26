import Joi from 'joi';
import type { Supposed } from '../core/dayplan/suppose.ts';
import type { Pin } from '../core/dayplan/pins.ts';
import type {
  AddModel,
  AddPerson,
  AnswerClock,
  AskPromise,
  PinJob,
  ChangeRules,
  OpenJob,
  PlaceBattery,
  TakeIn,
} from './asks.ts';
import { BUILD_KEYS, CAPS, CCA_STANDARDS } from '../core/batteries/model.ts';
import { CLOCKS, DATE_ORDERS } from '../core/quantities/format.ts';
import { CASE_KEYS } from '../core/batteries/cases.ts';
import { CARRIED_KEYS } from '../core/batteries/guessSize.ts';
import { KINDS } from '../core/batteries/kinds.ts';
import { QUESTION_KEYS, SCHOOLS } from '../core/house/schools.ts';
import { PAPERS, SG_REFERENCES, SET_UP_STEPS } from '../core/house/rules.ts';
import { PURPOSE_WORDS } from '../core/plan/procedure.ts';
import { instrumentSchema } from './chargeSchemas.ts';
import { day, daysAway, id, moment, name, number, tag, words, write } from './schemaParts.ts';
import { CLOCK_RATES } from './wire.ts';

/** Joi at every edge. Unknown keys are refused, sizes bounded, messages written for the person at the bench. */

export const modelSchema = Joi.object({
  code: name(24).required(),
  kind: Joi.string()
    .valid(...KINDS.map((k) => k.key))
    .required(),
  name: name().required(),
  nominalV: number().valid(6, 12).required(),
  cells: number().integer().min(1).max(12).required(),
  c20Ah: number().min(0.5).max(300).required(),
  cca: number().min(10).max(2000).allow(null).required(),
  ccaStandard: Joi.string()
    .valid(...CCA_STANDARDS)
    .allow(null)
    .required(),
  electrolyteCode: name(24).allow(null).required(),
  electrolyteMl: number().min(10).max(20_000).allow(null).required(),
  caps: Joi.string()
    .valid(...CAPS)
    .allow(null)
    .default(null),
  fillSg: number().min(1.2).max(1.35).allow(null).required(),
  chargeA: number().min(0.05).max(60).allow(null).required(),
  ceilingV: number().min(2).max(33).allow(null).required(),
  dwellS: number()
    .min(300)
    .max(6 * 3600)
    .allow(null)
    .required(),
  soakS: number()
    .min(300)
    .max(24 * 3600)
    .allow(null)
    .required(),
  passV: number().min(2).max(27).allow(null).required(),
  build: Joi.string()
    .valid(...BUILD_KEYS)
    .allow(null)
    .default(null),
  reserveMin: number().min(5).max(900).allow(null).default(null),
  c10Ah: number().min(0.4).max(300).allow(null).default(null),
  milliohm: number().min(0.3).max(500).allow(null).default(null),
});

const purpose = Joi.string().valid(...Object.keys(PURPOSE_WORDS));
/** A tray holds at most this many. */
const MOST_AT_ONCE = 48;

/** What can be read of a battery without a label. Nothing but its kind and its cells is demanded. */
const unlabelledSchema = Joi.object({
  kind: Joi.string()
    .valid(...KINDS.map((k) => k.key))
    .required(),
  cells: number().integer().valid(3, 6).required(),
  caps: Joi.string()
    .valid(...CAPS)
    .allow(null)
    .required(),
  build: Joi.string().valid(...BUILD_KEYS),
  printedAh: number().min(0.5).max(300),
  cca: number().min(10).max(2000),
  ccaStandard: Joi.string().valid(...CCA_STANDARDS),
  reserveMin: number().min(5).max(900),
  massKg: number().min(0.2).max(120),
  caseCm: Joi.array().items(number().min(2).max(100)).length(3),
  caseCode: Joi.string().valid(...CASE_KEYS),
  carried: Joi.string().valid(...CARRIED_KEYS),
});

export const takeInSchema = Joi.object<TakeIn>({
  ...write,
  tag: tag.required(),
  modelId: id,
  unlabelled: unlabelledSchema,
  dateCode: name(20).required(),
  owner: name().required(),
  supplier: name().allow(''),
  promisedAt: moment.allow(null).required(),
  purpose: purpose.default('commission'),
  count: number().integer().min(1).max(MOST_AT_ONCE).default(1),
})
  .xor('modelId', 'unlabelled')
  .messages(words);

export const placeBatterySchema = Joi.object<PlaceBattery>({
  ...write,
  place: Joi.string().trim().max(24).allow('').required(),
}).messages(words);

export const openJobSchema = Joi.object<OpenJob>({
  ...write,
  purpose: purpose.required(),
  promisedAt: moment.allow(null).required(),
}).messages(words);

export const addModelSchema = Joi.object<AddModel>({
  ...write,
  model: modelSchema.required(),
}).messages(words);

/** A battery that is not there yet, as its counter asks about it. */
export const askPromiseSchema = Joi.object<AskPromise>({
  model: modelSchema
    .keys({
      estimate: Joi.object({
        low: number().min(0.1).max(400).required(),
        high: number().min(0.1).max(400).required(),
        from: Joi.array().items(Joi.string().max(200)).max(20).required(),
      }).allow(null),
    })
    .required(),
  purpose: purpose.required(),
  count: number().integer().min(1).max(MOST_AT_ONCE).required(),
  wantedAt: moment.allow(null).required(),
}).messages(words);

/** Whose day; everybody's where nobody is named. */
export const dayPlanQuery = Joi.object<{ person?: string }>({
  person: Joi.string().max(40),
}).messages(words);

const pinSchema = Joi.object({
  jobId: id.required(),
  postId: Joi.string().max(80).allow(null).required(),
  notBefore: moment.allow(null).required(),
  forbidden: Joi.array().items(Joi.string().max(80)).max(200).unique().required(),
  rush: Joi.boolean().strict().default(false),
});
const postId = Joi.string().max(80).required();
const supposing = <K extends Supposed['kind']>(kind: K, facts: Joi.PartialSchemaMap) =>
  Joi.object({ kind: Joi.valid(kind).required(), ...facts });
export const supposePlanSchema = Joi.object<{ supposed: Supposed }>({
  supposed: Joi.alternatives(
    supposing('another', { like: postId }),
    supposing('out', { postId, day: day.required() }),
    supposing('closed', { day: day.required() }),
    supposing('away', { personId: Joi.string().max(40).required(), day: day.required() }),
    supposing('longer', { day: day.required() }),
    supposing('rush', { workId: Joi.string().max(80).required() }),
  ).required(),
}).messages(words);
export const tryPinSchema = Joi.object<{ pin: Pin }>({ pin: pinSchema.required() }).messages(words);
export const pinJobSchema = Joi.object<PinJob>({ ...write, pin: pinSchema.required() }).messages(
  words,
);

const workingHours = {
  from: number().integer().min(0).max(1440).required(),
  to: number().integer().min(0).max(1440).greater(Joi.ref('from')).required(),
  days: Joi.array().items(Joi.boolean().strict()).length(7).required(),
};
const rulesSchema = Joi.object({
  shopName: name().required(),
  timeZone: Joi.string()
    .max(60)
    .custom(timeZone)
    .messages({ 'any.invalid': 'No such time zone.' })
    .required(),
  clock: Joi.string()
    .valid(...CLOCKS)
    .default('24h'),
  dateOrder: Joi.string()
    .valid(...DATE_ORDERS)
    .default('day-first'),
  setUp: Joi.string()
    .valid(...SET_UP_STEPS)
    .default('done'),
  temperatureUnit: Joi.string().valid('C', 'F').required(),
  roomC: number().min(-10).max(45).required(),
  places: number().integer().min(1).max(64).required(),
  roomAirM3h: number().min(0).max(100_000).required(),
  roomM3: number().min(1).max(100_000).required(),
  shelfC: number().min(-20).max(50).required(),
  sgReferenceC: number()
    .valid(...SG_REFERENCES)
    .required(),
  volumeUnit: Joi.string().valid('mL', 'oz').required(),
  paper: Joi.string()
    .valid(...PAPERS)
    .required(),
  hours: Joi.object(workingHours).required(),
  mainsA: number().min(1).max(400).required(),
  mainsV: number().min(90).max(260).required(),
  loadTesters: number().integer().min(0).max(20).required(),
  dischargeLoads: number().integer().min(0).max(20).required(),
  hydrometers: number().integer().min(0).max(20).required(),
  serviceMonths: Joi.array().items(number().integer().min(1).max(12)).max(12).unique().required(),
  learnSince: moment.allow(null).required(),
  closedOn: Joi.array().items(day).max(400).unique().required(),
  personHours: Joi.array()
    .items(
      Joi.object({
        personId: Joi.string().max(40).required(),
        ...workingHours,
        breakFrom: number().integer().min(0).max(1439).required(),
        breakMinutes: number().integer().min(0).max(240).required(),
      }),
    )
    .max(60)
    .unique('personId')
    .required(),
  absences: Joi.array()
    .items(daysAway({ personId: Joi.string().max(40).required() }))
    .max(400)
    .required(),
  schools: Joi.object(
    Object.fromEntries(
      QUESTION_KEYS.map((key) => [
        key,
        Joi.string()
          .valid(...SCHOOLS[key].schools.map((s) => s.id))
          .required(),
      ]),
    ),
  ).required(),
  sets: Joi.object({
    ageYears: number().min(0.1).max(20).required(),
    capacity: number().min(0.01).max(1).required(),
    resistance: number().min(0.01).max(2).required(),
    restV: number().min(0.01).max(1).required(),
    limit: number().min(0.1).max(5).required(),
  }).required(),
  stakes: Joi.object({
    currency: Joi.string().trim().min(1).max(4).required(),
    pricePerAh: number().min(0.05).max(100).required(),
    handsPerHour: number().min(0).max(1000).required(),
    placePerDay: number().min(0).max(1000).required(),
  }).required(),
  samplesYears: number().integer().min(1).max(50).required(),
  picturesGb: number().min(0.1).max(2000).required(),
  instruments: Joi.array().items(instrumentSchema).max(32).unique('id').required(),
});

export const changeRulesSchema = Joi.object<ChangeRules>({
  ...write,
  version: Joi.string().max(64).required(),
  rules: rulesSchema.required(),
}).messages(words);

export const addPersonSchema = Joi.object<AddPerson>({
  commandId: id.required(),
  /** Null only for the first person of a new shop. */
  by: Joi.string().max(40).allow(null).required(),
  person: Joi.object({
    name: name(40).required(),
    initials: Joi.string()
      .pattern(/^\p{L}{1,3}$/u)
      .messages({ 'string.pattern.base': 'One to three letters.' })
      .required(),
    role: Joi.string().valid('technician', 'lead').required(),
  }).required(),
}).messages(words);

export const answerClockSchema = Joi.object<AnswerClock>({
  ...write,
  answer: Joi.string().valid('passed', 'put-right', 'wrong').required(),
  aheadMs: number().integer().required(),
}).messages(words);

export const setRateSchema = Joi.object<{ rate: number }>({
  rate: number()
    .valid(...CLOCK_RATES)
    .required(),
}).messages(words);

export const idParam = Joi.object<{ id: string }>({ id: id.required() }).messages(words);
export const tagParam = Joi.object<{ tag: string }>({ tag: tag.required() }).messages(words);
/** A change as answers and notices name it. */
export const streamQuery = Joi.object<{ since?: string }>({
  since: Joi.string().max(60),
}).messages(words);

export const findQuery = Joi.object<{ q: string; limit: number }>({
  q: Joi.string().trim().max(60).allow('').default(''),
  limit: Joi.number().integer().min(1).max(200).default(50),
}).messages(words);

function timeZone(value: string, helpers: Joi.CustomHelpers<string>): string | Joi.ErrorReport {
  try {
    new Intl.DateTimeFormat('en-GB', { timeZone: value });
    return value;
  } catch {
    return helpers.error('any.invalid');
  }
}
