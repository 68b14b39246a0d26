import { join } from 'node:path';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { QueryTypes } from 'sequelize';
import { commandSchemaFor } from '../contract/commandSchemas.ts';
import type { Clock } from '../contract/wire.ts';
import { type Context, readRules, rulesVersion } from './context.ts';
import { dayPlanPdf } from './resources/documents/dayPlanPdf.ts';
import { pinJob } from './resources/dayplan/pins.ts';
import { DayPlanner, PLANNER } from './dayplan/dayPlanner.ts';
import { Door } from './door/door.ts';
import { Sessions } from './door/sessions.ts';
import type { Tries } from './door/tries.ts';
import { ownPagesOnly } from './http/doors.ts';
import { openApiDocument } from './http/openapi.ts';
import { pagesRouter } from './http/pages.ts';
import { PageDrawer, type Patience } from './http/pageDrawer.ts';
import { pressing } from './http/pressing.ts';
import { checked, HttpProblem, notFound, problemHandler, unknownAddress } from './http/problem.ts';
import { batteryByTag, findBatteries, nextTag, takeIn } from './resources/batteries/batteries.ts';
import { recordParts } from './resources/batteries/records.ts';
import { clocksAbout } from './resources/clock/clocksAbout.ts';
import { datedAhead } from './resources/clock/datedAhead.ts';
import { settle } from '../core/steps/settle.ts';
import { barsSvg, squareSvg } from './codes.ts';
import { sheetPdf, tagPdf } from './resources/documents/documents.ts';
import { sheetOf } from './resources/documents/sheets.ts';
import { benchText, jobWire } from './resources/jobs/jobWires.ts';
import { procedureOf, sendCommand } from './resources/jobs/jobs.ts';
import { chargeWire } from './live/chargeRows.ts';
import type { LiveDesk } from './live/liveDesk.ts';
import { addModel, modelNow } from './resources/models/models.ts';
import { plansOf, savePlan } from './resources/plans/plans.ts';
import { standingNotes } from './resources/notes/notes.ts';
import { addPerson, namesOf, peopleOf } from './resources/people/people.ts';
import { changeRules } from './resources/shop/shop.ts';
import { Routes } from './http/routes.ts';
import { sendParts, sendPdf } from './http/streaming.ts';
import { fileStanding } from './store/fileStanding.ts';
import { shopRoutes } from './shopRoutes.ts';
import { type Trust, answerTrust } from './door/trustPage.ts';

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
  /** What phones are led to trust. */
  trust?: Trust | null;
  /** Names it answers under, besides addresses in digits, where it listens wider. */
  names?: readonly string[];
  /** Counts wrong PINs; a test brings its own clock with it. */
  tries?: Tries;
  /** The day plan is made in a thread of its own. */
  plansInThread?: boolean;
  /** Pages of a first visit are drawn here, in a thread of its own; how long is waited for one. */
  drawsPages?: boolean | Patience;
  /** Charges on instruments; without it every place is run by hand. */
  live: LiveDesk;
}

/** A line that stays open asks this often whether its session still stands. */
const SESSION_LOOK_MS = 20_000;

/** What the build makes of the pages to draw them here, beside their folder. */
const DRAWN_WITH = 'drawn/drawPage.js';

/** The HTTP face of a bench. Thin: it checks, hands on, and answers. */
export function createApp(
  context: Context,
  {
    log,
    version,
    file,
    pages,
    wide = false,
    secure = false,
    trust = null,
    names = [],
    tries,
    live,
    plansInThread = true,
    drawsPages = true,
  }: AppOptions,
): Express {
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
          'img-src': ["'self'", 'data:', 'blob:'],
          'style-src': ["'self'", "'unsafe-inline'"],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(ownPagesOnly(wide ? names : null));
  app.use((request, response, next) => {
    if (!answerTrust(request, response, trust)) next();
  });
  app.use('/api', pressing(), changes.besideAnswers);
  const door = new Door(store, {
    required: wide,
    sessions: new Sessions(store, secure),
    ...(tries ? { tries } : {}),
  });
  const routes = new Routes(door);

  const clockNow = (): Clock => ({
    now: clock.now(),
    rate: clock.rate,
    demo: clock.demo,
    machine: context.machineClock?.() ?? null,
  });
  const standing = () => fileStanding(store, file, !clock.demo);
  routes.answer('health', async () => {
    // The whole file is checked when the server starts; here it is asked for its latest page, and its disk for room.
    const answered = await store.sequelize
      .query('SELECT MAX(seq) AS seq FROM events', { type: QueryTypes.SELECT })
      .then(
        () => true,
        () => false,
      );
    return { ok: answered && (await standing()).ok, version };
  });
  routes.answer('file', standing);
  routes.answer('clock', clockNow);
  routes.answer('setRate', async ({ body }) => {
    if (!clock.demo)
      throw new HttpProblem(403, {
        code: 'forbidden',
        message: "A shop's clock has one speed.",
        fields: {},
      });
    await live.setRate(body.rate);
    changes.announce({ topic: 'clock' });
    return clockNow();
  });
  routes.answer('datedAhead', () =>
    datedAhead(store, clock.now() + (context.machineClock?.()?.aheadMs ?? 0)),
  );
  routes.answer('answerClock', async ({ body }) => {
    await live.answerClock(body);
    return clockNow();
  });
  routes.send('stream', ({ query, request, response }) => {
    const session = door.sessionOf(request);
    changes.follow(request, response, query.since);
    // Whoever is signed out hears no more.
    const stop = session && door.sessions.whenOver(session, SESSION_LOOK_MS, () => response.end());
    response.on('close', () => stop?.());
  });

  routes.answer('shop', async () => {
    const rules = await readRules(store);
    return {
      rules,
      rulesVersion: rulesVersion(rules),
      people: await peopleOf(store),
      demo: clock.demo,
      clocks: clocksAbout(rules.timeZone, clock.now()),
    };
  });
  routes.answer('changeRules', ({ body }) => changeRules(context, body));
  routes.answer('addPerson', ({ body }) => addPerson(context, body));
  routes.answer('models', async () =>
    (await tables.models.findAll({ order: [['code', 'ASC']], raw: true })).map(modelNow),
  );
  routes.answer('addModel', ({ body }) => addModel(context, body));

  routes.answer('nextTag', async () => ({ tag: await nextTag(store) }));
  routes.send('bench', async ({ response }) => {
    response.type('json').send(await benchText(store, clock.now()));
  });
  routes.answer('takeIn', ({ body }) => takeIn(context, body));
  routes.answer('findBatteries', ({ query }) => findBatteries(store, query.q, query.limit));
  routes.send('record', async ({ params, response }) => {
    const battery = await batteryByTag(store, params.tag);
    await sendParts(response.type('json'), recordParts(store, battery));
  });
  routes.send('tagSvg', async ({ params, response }) => {
    const battery = await batteryByTag(store, params.tag);
    response.type('image/svg+xml').send(barsSvg(battery.tag));
  });
  routes.send('tagQr', async ({ params, response }) => {
    const battery = await batteryByTag(store, params.tag);
    response.type('image/svg+xml').send(squareSvg(battery.tag, 2));
  });
  routes.send('tagPdf', async ({ params, response }) => {
    const battery = await batteryByTag(store, params.tag);
    sendPdf(response, `${battery.tag}-tag.pdf`, await tagPdf(battery, await readRules(store)));
  });

  routes.answer('job', async ({ params }) => {
    const job = await jobWire(store, params.id);
    return { job, procedure: await procedureOf(store, job.procedureId) };
  });
  routes.answer('sendCommand', async ({ params: { id }, body }) => {
    await sendCommand(context, id, checked(commandSchemaFor(body.command.type), body));
    return { job: await jobWire(store, id) };
  });
  const sheetFor = async (id: string) => {
    const wire = await jobWire(store, id);
    const job = {
      procedure: await procedureOf(store, wire.procedureId),
      plan: wire.plan,
      state: wire.state,
    };
    return { wire, told: await sheetOf(store, id, settle(job, clock.now())) };
  };
  routes.answer('sheet', async ({ params }) => (await sheetFor(params.id)).told);
  routes.send('sheetPdf', async ({ params, response }) => {
    const { wire, told } = await sheetFor(params.id);
    sendPdf(
      response,
      `${wire.battery.tag}-sheet.pdf`,
      await sheetPdf(wire, told, await readRules(store), clock.now(), {
        notes: await standingNotes(store, { jobId: params.id }),
        file: store.file,
        nameOf: await namesOf(store),
      }),
    );
  });
  routes.answer('plans', () => plansOf(store));
  routes.answer('savePlan', ({ body }) => savePlan(context, body));
  routes.answer('tryInstrument', ({ body }) => live.tryOut(body.instrument));
  routes.answer('measure', ({ body }) => live.measure(body));
  routes.answer('startLive', ({ params, body }) => live.start(params.id, body));
  routes.answer('charge', ({ params, query }) => chargeWire(store, live, params.id, query.points));
  const planner = new DayPlanner(context, log, plansInThread ? PLANNER : null);
  context.dayPlan = () => planner.last();
  context.plannedReady = (jobId) => planner.readyAt(jobId);
  routes.answer('dayPlan', () => planner.plan());
  routes.send('dayPlanPdf', async ({ query, response }) => {
    const { plan } = await planner.plan();
    if (!plan) throw notFound('The day plan');
    const pdf = await dayPlanPdf(plan, await readRules(store), clock.now(), query.person ?? null);
    sendPdf(response, 'day-plan.pdf', pdf);
  });
  routes.answer('tryPin', async ({ body }) => ({ plan: await planner.tryOut(body.pin) }));
  routes.answer('supposePlan', async ({ body }) => ({
    plan: await planner.suppose(body.supposed),
  }));
  routes.answer('promiseHelps', async ({ params }) => ({ helps: await planner.helps(params.id) }));
  routes.answer('pinJob', ({ body }) => pinJob(context, body));
  routes.answer('askPromise', async ({ body }) => {
    const asked = await planner.ask(body);
    if (!asked) return { answer: null, from: clock.now() };
    const { from, ...answer } = asked;
    return { answer, from };
  });
  routes.answer('waveform', async ({ params }) => ({ record: await live.waveform(params.id) }));
  routes.answer('skipStage', ({ params, body }) => live.skipStage(params.id, body));
  shopRoutes(routes, context, door);
  routes.send('openapi', ({ response }) => response.json(openApiDocument(version)));
  app.use(routes.router);
  app.use('/api', unknownAddress);

  if (pages) {
    const patience = drawsPages === true ? undefined : drawsPages || null;
    const drawer =
      patience === null ? null : PageDrawer.of(join(pages, '..', DRAWN_WITH), app, log, patience);
    app.use(pagesRouter(pages, drawer, changes));
  }
  app.use(problemHandler(log));
  return app;
}
