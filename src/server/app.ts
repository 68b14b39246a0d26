import { constants } from 'node:zlib';
import compression from 'compression';
import express, { type Express, type Request, type Response } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { QueryTypes } from 'sequelize';
import { ENDPOINTS } from '../contract/endpoints.ts';
import {
  addModelSchema,
  addPersonSchema,
  answerClockSchema,
  changeRulesSchema,
  commandSchemaFor,
  findQuery,
  idParam,
  sendCommandSchema,
  setRateSchema,
  tagParam,
  takeInSchema,
} from '../contract/schemas.ts';
import { chargeQuery, measureSchema, savePlanSchema, skipStageSchema, startLiveSchema, tryInstrumentSchema } from '../contract/chargeSchemas.ts';
import type {
  AnswerClock,
  AddModel,
  AddPerson,
  ChangeRules,
  Clock,
  MeasureWith,
  SavePlan,
  SendCommand,
  Shop,
  SkipStage,
  StartLive,
  TakeIn,
} from '../contract/wire.ts';
import type { InstrumentSetting } from '../core/house/instruments.ts';
import { type Context, readRules, rulesVersion } from './context.ts';
import { Door } from './door/door.ts';
import { Sessions } from './door/sessions.ts';
import type { Tries } from './door/tries.ts';
import { ownPagesOnly } from './http/doors.ts';
import { openApiDocument } from './http/openapi.ts';
import { pagesRouter } from './http/pages.ts';
import { checked, HttpProblem, problemHandler, unknownAddress } from './http/problem.ts';
import { batteryByTag, findBatteries, nextTag, recordParts, takeIn } from './resources/batteries/batteries.ts';
import { datedAhead } from './resources/clock/datedAhead.ts';
import { settle } from '../core/steps/settle.ts';
import { sheetPdf, tagPdf, tagSvg } from './resources/documents/documents.ts';
import { sheetOf } from './resources/documents/sheets.ts';
import { benchText, jobWire, procedureOf, sendCommand } from './resources/jobs/jobs.ts';
import { chargeWire } from './live/chargeRows.ts';
import type { LiveDesk } from './live/liveDesk.ts';
import { addModel } from './resources/models/models.ts';
import { plansOf, savePlan } from './resources/plans/plans.ts';
import { addPerson, peopleOf } from './resources/people/people.ts';
import { changeRules } from './resources/shop/shop.ts';
import { Routes } from './http/routes.ts';
import { sendParts } from './http/streaming.ts';
import { fileStanding } from './store/fileStanding.ts';
import { shopRoutes } from './shopRoutes.ts';

export interface AppOptions {
  log: Logger;
  version: string;
  /** The data file, to tell how it stands on its disk. */
  file: string;
  /** Folder of the built pages; without it only the API answers. */
  pages?: string;
  /** Listening wider than this machine: nobody gets in without a PIN. */
  wide?: boolean;
  /** Reached over TLS. */
  secure?: boolean;
  /** Names it answers under, besides addresses in digits, where it listens wider. */
  names?: readonly string[];
  /** Counts wrong PINs; a test brings its own clock with it. */
  tries?: Tries;
  /** Charges on instruments; without it every place is run by hand. */
  live: LiveDesk;
}

/** The stream of changes is written line by line; pressed, it would wait for more. */
const isStream = (response: Response): boolean => String(response.getHeader('Content-Type')).startsWith('text/event-stream');
/** Answers are pressed as they are made: quickly, not as small as can be. */
/** A line that stays open asks this often whether its session still stands. */
const SESSION_LOOK_MS = 20_000;
const BROTLI_QUICK = { [constants.BROTLI_PARAM_QUALITY]: 4 };

/** The HTTP face of a bench. Thin: it checks, hands on, and answers. */
export function createApp(context: Context, { log, version, file, pages, wide = false, secure = false, names = [], tries, live }: AppOptions): Express {
  const { store, clock, changes } = context;
  const { tables } = store;
  const app = express();
  app.disable('x-powered-by');
  app.enable('case sensitive routing');
  app.enable('strict routing');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'script-src': ["'self'", "'wasm-unsafe-eval'"],
          'img-src': ["'self'", 'data:'],
          'style-src': ["'self'", "'unsafe-inline'"],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(ownPagesOnly(wide ? names : null));
  app.use(
    '/api',
    compression({ filter: (request, response) => !isStream(response) && compression.filter(request, response), brotli: { params: BROTLI_QUICK } }),
  );
  const door = new Door(store, { required: wide, sessions: new Sessions(store, secure), ...(tries ? { tries } : {}) });
  const routes = new Routes(door);

  const clockNow = (): Clock => ({ now: clock.now(), rate: clock.rate, demo: clock.demo, machine: context.machineClock?.() ?? null });
  const paramId = (request: Request) => checked<{ id: string }>(idParam, request.params).id;
  const paramTag = (request: Request) => checked<{ tag: string }>(tagParam, request.params).tag;

  const standing = () => fileStanding(store, file, !clock.demo);
  routes.serve(ENDPOINTS.health, async (_request, response) => {
    // The whole file is checked when the server starts; here it is asked for its latest page, and its disk for room.
    const answered = await store.sequelize.query('SELECT MAX(seq) AS seq FROM events', { type: QueryTypes.SELECT }).then(
      () => true,
      () => false,
    );
    response.json({ ok: answered && (await standing()).ok, version });
  });
  routes.serve(ENDPOINTS.file, async (_request, response) => void response.json(await standing()));
  routes.serve(ENDPOINTS.clock, (_request, response) => void response.json(clockNow()));
  routes.serve(ENDPOINTS.setRate, async (request, response) => {
    const { rate } = checked<{ rate: number }>(setRateSchema, request.body);
    if (!clock.demo) throw new HttpProblem(403, { code: 'forbidden', message: "A shop's clock has one speed.", fields: {} });
    await live.setRate(rate);
    changes.announce({ topic: 'clock' });
    response.json(clockNow());
  });
  routes.serve(ENDPOINTS.datedAhead, async (_request, response) => {
    response.json(await datedAhead(store, clock.now() + (context.machineClock?.()?.aheadMs ?? 0)));
  });
  routes.serve(ENDPOINTS.answerClock, async (request, response) => {
    await live.answerClock(checked<AnswerClock>(answerClockSchema, request.body));
    response.json(clockNow());
  });
  routes.serve(ENDPOINTS.stream, (request, response) => {
    const session = door.sessionOf(request);
    changes.stream(request, response);
    // Whoever is signed out hears no more.
    const stop = session && door.sessions.whenOver(session, SESSION_LOOK_MS, () => response.end());
    response.on('close', () => stop?.());
  });

  routes.serve(ENDPOINTS.shop, async (_request, response) => {
    const people = await peopleOf(store);
    const rules = await readRules(store);
    response.json({ rules, rulesVersion: rulesVersion(rules), people, demo: clock.demo } satisfies Shop);
  });
  routes.serve(ENDPOINTS.changeRules, async (request, response) => {
    response.json(await changeRules(context, checked<ChangeRules>(changeRulesSchema, request.body)));
  });
  routes.serve(ENDPOINTS.addPerson, async (request, response) => {
    response.status(201).json(await addPerson(context, checked<AddPerson>(addPersonSchema, request.body)));
  });
  routes.serve(ENDPOINTS.models, async (_request, response) => {
    response.json(await tables.models.findAll({ order: [['code', 'ASC']], raw: true }));
  });
  routes.serve(ENDPOINTS.addModel, async (request, response) => {
    response.status(201).json(await addModel(context, checked<AddModel>(addModelSchema, request.body)));
  });

  routes.serve(ENDPOINTS.nextTag, async (_request, response) => void response.json({ tag: await nextTag(store) }));
  routes.serve(ENDPOINTS.bench, async (_request, response) => {
    response.type('json').send(await benchText(store, clock.now()));
  });
  routes.serve(ENDPOINTS.takeIn, async (request, response) => {
    response.status(201).json(await takeIn(context, checked<TakeIn>(takeInSchema, request.body)));
  });
  routes.serve(ENDPOINTS.findBatteries, async (request, response) => {
    const { q, limit } = checked<{ q: string; limit: number }>(findQuery, request.query);
    response.json(await findBatteries(store, q, limit));
  });
  routes.serve(ENDPOINTS.record, async (request, response) => {
    const battery = await batteryByTag(store, paramTag(request));
    await sendParts(response.type('json'), recordParts(store, battery));
  });
  routes.serve(ENDPOINTS.tagSvg, async (request, response) => {
    const battery = await batteryByTag(store, paramTag(request));
    response.type('image/svg+xml').send(tagSvg(battery.tag));
  });
  routes.serve(ENDPOINTS.tagPdf, async (request, response) => {
    const battery = await batteryByTag(store, paramTag(request));
    response
      .type('application/pdf')
      .attachment(`${battery.tag}-tag.pdf`)
      .send(await tagPdf(battery, await readRules(store)));
  });

  routes.serve(ENDPOINTS.job, async (request, response) => {
    const job = await jobWire(store, paramId(request));
    response.json({ job, procedure: await procedureOf(store, job.procedureId) });
  });
  routes.serve(ENDPOINTS.sendCommand, async (request, response) => {
    const id = paramId(request);
    const body = checked<SendCommand>(sendCommandSchema, request.body);
    await sendCommand(context, id, checked<SendCommand>(commandSchemaFor(body.command.type), body));
    response.json({ job: await jobWire(store, id) });
  });
  const sheetFor = async (id: string) => {
    const wire = await jobWire(store, id);
    const job = { procedure: await procedureOf(store, wire.procedureId), plan: wire.plan, state: wire.state };
    return { wire, told: await sheetOf(store, id, settle(job, clock.now())) };
  };
  routes.serve(ENDPOINTS.sheet, async (request, response) => void response.json((await sheetFor(paramId(request))).told));
  routes.serve(ENDPOINTS.sheetPdf, async (request, response) => {
    const { wire, told } = await sheetFor(paramId(request));
    const pdf = await sheetPdf(wire, told, await readRules(store), clock.now());
    response.type('application/pdf').attachment(`${wire.battery.tag}-sheet.pdf`).send(pdf);
  });
  routes.serve(ENDPOINTS.plans, async (_request, response) => void response.json(await plansOf(store)));
  routes.serve(ENDPOINTS.savePlan, async (request, response) => {
    response.status(201).json(await savePlan(context, checked<SavePlan>(savePlanSchema, request.body)));
  });
  routes.serve(ENDPOINTS.tryInstrument, async (request, response) => {
    const { instrument } = checked<{ instrument: InstrumentSetting }>(tryInstrumentSchema, request.body);
    response.json(await live.tryOut(instrument));
  });
  routes.serve(ENDPOINTS.measure, async (request, response) => {
    response.json(await live.measure(checked<MeasureWith>(measureSchema, request.body)));
  });
  routes.serve(ENDPOINTS.startLive, async (request, response) => {
    response.status(201).json(await live.start(paramId(request), checked<StartLive>(startLiveSchema, request.body)));
  });
  routes.serve(ENDPOINTS.charge, async (request, response) => {
    const { points } = checked<{ points: number }>(chargeQuery, request.query);
    response.json(await chargeWire(store, live, paramId(request), points));
  });
  routes.serve(ENDPOINTS.skipStage, async (request, response) => {
    response.json(await live.skipStage(paramId(request), checked<SkipStage>(skipStageSchema, request.body)));
  });
  shopRoutes(routes, context, door);
  const document = openApiDocument(version);
  routes.serve(ENDPOINTS.openapi, (_request, response) => void response.json(document));
  app.use(routes.router);
  app.use('/api', unknownAddress);

  if (pages) app.use(pagesRouter(pages));
  app.use(problemHandler(log));
  return app;
}
