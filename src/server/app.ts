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
import type { AddModel, AddPerson, ChangeRules, Clock, SavePlan, SendCommand, Shop, SkipStage, StartLive, TakeIn } from '../contract/wire.ts';
import type { InstrumentSetting } from '../core/house/instruments.ts';
import { type Context, readRules } from './context.ts';
import { ownPagesOnly } from './http/doors.ts';
import { openApiDocument } from './http/openapi.ts';
import { pagesRouter } from './http/pages.ts';
import { checked, HttpProblem, problemHandler, unknownAddress } from './http/problem.ts';
import { findBatteries, nextTag, recordOf, takeIn } from './resources/batteries/batteries.ts';
import { sheetPdf, tagPdf, tagSvg } from './resources/documents/documents.ts';
import { benchText, jobWire, procedureOf, sendCommand } from './resources/jobs/jobs.ts';
import type { LiveBench } from './live/liveBench.ts';
import { measureWith } from './resources/instruments/measure.ts';
import { addModel } from './resources/models/models.ts';
import { plansOf, savePlan } from './resources/plans/plans.ts';
import { createSignIn } from './resources/people/signIn.ts';
import { addPerson, changeRules, peopleOf } from './resources/shop/shop.ts';
import { shopRoutes } from './shopRoutes.ts';

export interface AppOptions {
  log: Logger;
  version: string;
  /** Folder of the built pages; without it only the API answers. */
  pages?: string;
  /** Listening wider than this machine: nobody gets in without a PIN. */
  wide?: boolean;
  /** Charges on instruments; without it every place is run by hand. */
  live: LiveBench;
}

/** The stream of changes is written line by line; pressed, it would wait for more. */
const isStream = (response: Response): boolean => String(response.getHeader('Content-Type')).startsWith('text/event-stream');
/** Answers are pressed as they are made: quickly, not as small as can be. */
const BROTLI_QUICK = { [constants.BROTLI_PARAM_QUALITY]: 4 };
const BODY_LIMIT = '64kb';
const IMPORT_LIMIT = '2mb';

/** The HTTP face of a bench. Thin: it checks, hands on, and answers. */
export function createApp(context: Context, { log, version, pages, wide = false, live }: AppOptions): Express {
  const { store, clock, changes } = context;
  const { tables } = store;
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: { directives: { 'img-src': ["'self'", 'data:'], 'style-src': ["'self'", "'unsafe-inline'"], 'upgrade-insecure-requests': null } },
      strictTransportSecurity: false,
    }),
  );
  app.use(ownPagesOnly(!wide));
  app.use(
    '/api',
    compression({ filter: (request, response) => !isStream(response) && compression.filter(request, response), brotli: { params: BROTLI_QUICK } }),
  );
  app.use(['/api/import', '/api/batteries/:tag/logs'], express.json({ limit: IMPORT_LIMIT }));
  app.use(express.json({ limit: BODY_LIMIT }));
  const door = createSignIn(store, wide);
  app.use(door.guard);

  const clockNow = (): Clock => ({ now: clock.now(), rate: clock.rate, demo: clock.demo });
  const paramId = (request: Request) => checked<{ id: string }>(idParam, request.params).id;
  const paramTag = (request: Request) => checked<{ tag: string }>(tagParam, request.params).tag;

  app.get(ENDPOINTS.health.path, async (_request, response) => {
    // The whole file is checked when the server starts; here it is asked for its latest page.
    const answered = await store.sequelize.query('SELECT MAX(seq) AS seq FROM events', { type: QueryTypes.SELECT }).then(
      () => true,
      () => false,
    );
    response.json({ ok: answered, version });
  });
  app.get(ENDPOINTS.clock.path, (_request, response) => void response.json(clockNow()));
  app.put(ENDPOINTS.setRate.path, (request, response) => {
    const { rate } = checked<{ rate: number }>(setRateSchema, request.body);
    if (!clock.demo) throw new HttpProblem(403, { code: 'forbidden', message: "A shop's clock has one speed.", fields: {} });
    clock.setRate(rate);
    changes.announce({ topic: 'clock' });
    response.json(clockNow());
  });
  app.get(ENDPOINTS.stream.path, changes.stream);

  app.get(ENDPOINTS.shop.path, async (_request, response) => {
    const people = await peopleOf(store);
    response.json({ rules: await readRules(store), people, demo: clock.demo } satisfies Shop);
  });
  app.put(ENDPOINTS.changeRules.path, async (request, response) => {
    response.json(await changeRules(context, checked<ChangeRules>(changeRulesSchema, request.body)));
  });
  app.post(ENDPOINTS.addPerson.path, async (request, response) => {
    response.status(201).json(await addPerson(context, checked<AddPerson>(addPersonSchema, request.body)));
  });
  app.get(ENDPOINTS.models.path, async (_request, response) => {
    response.json(await tables.models.findAll({ order: [['code', 'ASC']], raw: true }));
  });
  app.post(ENDPOINTS.addModel.path, async (request, response) => {
    response.status(201).json(await addModel(context, checked<AddModel>(addModelSchema, request.body)));
  });

  app.get(ENDPOINTS.nextTag.path, async (_request, response) => void response.json({ tag: await nextTag(store) }));
  app.get(ENDPOINTS.bench.path, async (_request, response) => {
    response.type('json').send(await benchText(store, clock.now()));
  });
  app.post(ENDPOINTS.takeIn.path, async (request, response) => {
    response.status(201).json(await takeIn(context, checked<TakeIn>(takeInSchema, request.body)));
  });
  app.get(ENDPOINTS.findBatteries.path, async (request, response) => {
    const { q, limit } = checked<{ q: string; limit: number }>(findQuery, request.query);
    response.json(await findBatteries(store, q, limit));
  });
  app.get(ENDPOINTS.record.path, async (request, response) => void response.json(await recordOf(store, paramTag(request))));
  app.get(ENDPOINTS.tagSvg.path, async (request, response) => {
    const { battery } = await recordOf(store, paramTag(request));
    response.type('image/svg+xml').send(tagSvg(battery.tag));
  });
  app.get(ENDPOINTS.tagPdf.path, async (request, response) => {
    const { battery } = await recordOf(store, paramTag(request));
    response
      .type('application/pdf')
      .attachment(`${battery.tag}-tag.pdf`)
      .send(await tagPdf(battery, await readRules(store)));
  });

  app.get(ENDPOINTS.job.path, async (request, response) => {
    const job = await jobWire(store, paramId(request));
    response.json({ job, procedure: await procedureOf(store, job.procedureId) });
  });
  app.post(ENDPOINTS.sendCommand.path, async (request, response) => {
    const id = paramId(request);
    const body = checked<SendCommand>(sendCommandSchema, request.body);
    await sendCommand(context, id, checked<SendCommand>(commandSchemaFor(body.command.type), body));
    response.json({ job: await jobWire(store, id) });
  });
  app.get(ENDPOINTS.sheetPdf.path, async (request, response) => {
    const job = await jobWire(store, paramId(request));
    const people = await peopleOf(store);
    const pdf = await sheetPdf(job, await procedureOf(store, job.procedureId), await readRules(store), people, clock.now());
    response.type('application/pdf').attachment(`${job.battery.tag}-sheet.pdf`).send(pdf);
  });
  app.get(ENDPOINTS.plans.path, async (_request, response) => void response.json(await plansOf(store)));
  app.post(ENDPOINTS.savePlan.path, async (request, response) => {
    response.status(201).json(await savePlan(context, checked<SavePlan>(savePlanSchema, request.body)));
  });
  app.post(ENDPOINTS.tryInstrument.path, async (request, response) => {
    const { instrument } = checked<{ instrument: InstrumentSetting }>(tryInstrumentSchema, request.body);
    response.json(await live.instruments.tryOut(instrument));
  });
  app.post(ENDPOINTS.measure.path, async (request, response) => {
    response.json(await measureWith(context, live.instruments, checked(measureSchema, request.body)));
  });
  app.post(ENDPOINTS.startLive.path, async (request, response) => {
    response.status(201).json(await live.start(paramId(request), checked<StartLive>(startLiveSchema, request.body)));
  });
  app.get(ENDPOINTS.charge.path, async (request, response) => {
    const { points } = checked<{ points: number }>(chargeQuery, request.query);
    response.json(await live.wire(paramId(request), points));
  });
  app.post(ENDPOINTS.skipStage.path, async (request, response) => {
    response.json(await live.skipStage(paramId(request), checked<SkipStage>(skipStageSchema, request.body)));
  });
  shopRoutes(app, context, door, wide);
  const document = openApiDocument(version);
  app.get(ENDPOINTS.openapi.path, (_request, response) => void response.json(document));
  app.use('/api', unknownAddress);

  if (pages) app.use(pagesRouter(pages));
  app.use(problemHandler(log));
  return app;
}
