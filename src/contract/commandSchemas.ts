import Joi from 'joi';
import type { SendCommand } from './asks.ts';
import { CCA_STANDARDS } from '../core/batteries/model.ts';
import { CAUSE_KEYS } from '../core/diagnosis/causes.ts';
import { ROUTE_KEYS } from '../core/diagnosis/routes.ts';
import { STORY_KEYS } from '../core/diagnosis/stories.ts';
import { OUTCOMES } from '../core/job/recoveryState.ts';
import { WAKE_KEYS } from '../core/diagnosis/wakes.ts';
import { CELL_LEVELS } from '../core/batteries/cellLevel.ts';
import { FAMILY_KEYS } from '../core/diagnosis/practice/families.ts';
import { SHOWING_MEANINGS } from '../core/chargers/showing.ts';
import { SEDIMENTS } from '../core/job/sediment.ts';
import type { JobCommandType } from '../core/job/commands.ts';
import { planSchema } from './chargeSchemas.ts';
import { id, moment, name, number, prose, words, write } from './schemaParts.ts';

const values = Joi.object({
  voltageV: number(),
  currentA: number(),
  temperatureC: number(),
  specificGravity: number(),
  resistanceMilliohm: number(),
  ccaA: number(),
  massG: number(),
  pulseHz: number(),
  peakA: number(),
  meanA: number(),
  beforeV: number(),
  afterV: number(),
}).required();
const cells = Joi.array()
  .items(
    Joi.object({
      specificGravity: number(),
      voltageV: number(),
      level: Joi.string().valid(...CELL_LEVELS),
      bubbling: Joi.boolean().strict(),
    }),
  )
  .max(12);
const standard = Joi.string().valid(...CCA_STANDARDS);
const showing = Joi.object({
  light: name(40).required(),
  means: Joi.string()
    .valid(...SHOWING_MEANINGS)
    .required(),
  percent: number().min(0).max(100),
});
const share = number().min(0).max(1);
const family = Joi.string().valid(...FAMILY_KEYS);
const familyOdds = Joi.array()
  .items(Joi.object({ family: family.required(), chance: share.required() }))
  .max(FAMILY_KEYS.length)
  .unique('family');
const band = Joi.object({
  low: number().required(),
  middle: number().required(),
  high: number().required(),
});
const stepId = Joi.string().max(40).required();
const command = (type: JobCommandType, keys: Joi.SchemaMap) =>
  Joi.object({ type: Joi.string().valid(type).required(), ...keys });

/** An unusual value, asked about and confirmed. */
const sure = Joi.boolean().strict();

export const commandSchemas: Record<JobCommandType, Joi.ObjectSchema> = {
  acknowledge: command('acknowledge', { stepId }),
  answerChecks: command('answerChecks', {
    stepId,
    answers: Joi.object().pattern(Joi.string().max(40), Joi.boolean().strict()).max(20).required(),
  }),
  matchPack: command('matchPack', {
    sure,
    stepId,
    code: name(24).required(),
    lot: name(24).required(),
  }),
  confirmDone: command('confirmDone', {
    sure,
    stepId,
    temperatureC: number().min(-40).max(90),
    amountMl: number().min(1).max(50_000),
    reason: prose,
  }),
  matchAcid: command('matchAcid', {
    sure,
    stepId,
    lot: name(24).required(),
    specificGravity: number().min(1).max(1.5).required(),
    temperatureC: number().min(-40).max(90).required(),
    batteryC: number().min(-40).max(90),
    reason: prose,
  }),
  topUp: command('topUp', {
    sure,
    liquid: Joi.string().valid('acid', 'water').required(),
    cells: Joi.array().items(number().integer().min(1).max(12)).min(1).max(12).unique().required(),
    ml: number().min(1).max(20_000),
    lot: name(24),
  }),
  answerPorts: command('answerPorts', {
    stepId,
    ports: Joi.array().items(Joi.string().max(20)).max(12).required(),
    reason: prose,
  }),
  cutWait: command('cutWait', { stepId, reason: prose.required() }),
  skip: command('skip', { stepId, reason: prose.required() }),
  reopen: command('reopen', { stepId, reason: prose.required() }),
  startCharge: command('startCharge', {
    stepId,
    place: number().integer().min(1).max(64).required(),
    setA: number().min(0.05).max(60).required(),
    setV: number().min(2).max(33).required(),
    charger: Joi.object({
      id: Joi.string().max(40).required(),
      setting: name(40),
      program: name(40),
    }),
    sure,
    reason: prose,
  }),
  planCharge: command('planCharge', { stepId, plan: planSchema.required() }),
  pauseCharge: command('pauseCharge', { stepId, reason: prose.required() }),
  resumeCharge: command('resumeCharge', {
    stepId,
    temperatureC: number().min(-40).max(90).required(),
  }),
  tellSize: command('tellSize', { c20Ah: number().min(0.5).max(300).required() }),
  reconnect: command('reconnect', { stepId }),
  foundOff: command('foundOff', { stepId, sinceAt: moment.required() }),
  endCharge: command('endCharge', { sure, stepId, reason: prose }),
  read: command('read', {
    role: Joi.string()
      .valid('arrival', 'charge', 'light', 'rest', 'load', 'analyser', 'cells', 'hold', 'spot')
      .required(),
    values,
    cells,
    standard,
    showing,
    fresh: Joi.boolean().strict(),
    takenAt: moment,
    sure: Joi.boolean().strict(),
  }),
  correct: command('correct', {
    readingId: id.required(),
    values,
    cells,
    standard,
    showing,
    sure: Joi.boolean().strict(),
    reason: prose,
  }),
  tellStory: command('tellStory', {
    stepId,
    story: Joi.object({
      story: Joi.string()
        .valid(...STORY_KEYS)
        .required(),
      standingDays: number().min(0).max(10_000).allow(null).required(),
      ageYears: number().min(0).max(60).allow(null).required(),
      coldestC: number().min(-60).max(60).allow(null).required(),
      whitePost: Joi.boolean().strict().required(),
      wetMassG: number().min(50).max(200_000).allow(null).required(),
      eye: Joi.string().valid('full', 'low', 'no-acid').allow(null),
      crankV: number().min(0).max(16).allow(null),
    }).required(),
  }),
  chooseRoute: command('chooseRoute', {
    stepId,
    route: Joi.string()
      .valid(...ROUTE_KEYS)
      .required(),
    wake: Joi.string()
      .valid(...WAKE_KEYS)
      .required(),
    forecast: Joi.object({
      cause: Joi.string()
        .valid(...CAUSE_KEYS)
        .required(),
      causeOdds: share.required(),
      returns: share.required(),
      light: share.required(),
      capacity: band.required(),
      hours: band.required(),
      proposed: Joi.string()
        .valid(...ROUTE_KEYS)
        .allow(null)
        .required(),
      families: familyOdds,
      learnt: Joi.object({
        of: number().integer().min(0).max(1_000_000).required(),
        gain: number().min(-1).max(1).required(),
      }),
    })
      .allow(null)
      .required(),
    reason: prose,
  }),
  wake: command('wake', {
    stepId,
    donorV: number().min(0).max(40),
    donorAh: number().min(1).max(1000),
    leadM: number().min(0.2).max(20),
    leadMm2: number().min(0.5).max(120),
    chargerA: number().min(0.1).max(40).required(),
    charger: name(90),
    donorTag: name(24),
    reason: prose,
  }),
  checkWake: command('checkWake', {
    stepId,
    voltageV: number().min(-16).max(20).required(),
    feel: Joi.array()
      .items(Joi.string().valid('cool', 'warm', 'hot'))
      .max(12)
      .required(),
  }),
  startDischarge: command('startDischarge', {
    stepId,
    currentA: number().min(0.05).max(300).required(),
    cutoffV: number().min(1).max(30).required(),
    temperatureC: number().min(-20).max(60).required(),
  }),
  endDischarge: command('endDischarge', {
    stepId,
    minutes: number().min(0.1).max(6000).required(),
    endV: number().min(0).max(30).required(),
  }),
  testByInstrument: command('testByInstrument', { stepId }),
  dropDischarge: command('dropDischarge', { stepId, reason: prose.required() }),
  rinse: command('rinse', {
    stepId,
    sediment: Joi.string()
      .valid(...SEDIMENTS)
      .required(),
    drainedMl: number().min(1).max(200_000).required(),
    sure: Joi.boolean(),
  }),
  giveOutcome: command('giveOutcome', {
    stepId,
    outcome: Joi.string()
      .valid(...Object.keys(OUTCOMES))
      .required(),
    found: family.allow(null),
    said: familyOdds,
    reason: prose,
  }),
  giveVerdict: command('giveVerdict', { stepId }),
  handOver: command('handOver', {
    stepId,
    destination: Joi.string().valid('customer', 'shelf').required(),
  }),
  pause: command('pause', { reason: prose.required() }),
  resume: command('resume', {}),
  note: command('note', { text: prose.required() }),
  takeBackRefusal: command('takeBackRefusal', { reason: prose.required() }),
  escalate: command('escalate', { reason: prose.required() }),
  leadDecide: command('leadDecide', {
    decision: Joi.string().valid('go-on', 'charge-again', 'claim', 'recover', 'recycle').required(),
    reason: prose.required(),
  }),
};

/** The envelope alone; the command inside is checked by its own schema, so that its messages name its fields. */
export const sendCommandSchema = Joi.object<SendCommand>({
  ...write,
  seenRun: moment,
  command: Joi.object({
    type: Joi.string()
      .valid(...Object.keys(commandSchemas))
      .required(),
  })
    .unknown()
    .required(),
}).messages(words);

/** Checks the command inside an envelope that has already passed. */
export function commandSchemaFor(type: JobCommandType): Joi.ObjectSchema {
  return Joi.object({ command: commandSchemas[type].required() }).unknown().messages(words);
}
