import type { Request } from 'express';
import { ENDPOINTS } from '../contract/endpoints.ts';
import { idParam, openJobSchema, tagParam } from '../contract/schemas.ts';
import {
  addLotSchema,
  calendarAddressSchema,
  calendarQuery,
  endSetSchema,
  makeSetSchema,
  importBatteriesSchema,
  importLogSchema,
  importModelsSchema,
  lotParam,
  personParam,
  pickFromShelfSchema,
  readOnShelfSchema,
  setActiveSchema,
  setPinSchema,
  signInSchema,
  tagsQuery,
  trayParam,
  useLotSchema,
} from '../contract/shopSchemas.ts';
import type {
  AddLot,
  CalendarAddress,
  EndSet,
  MakeSet,
  ImportBatteries,
  ImportLog,
  ImportModels,
  OpenJob,
  PickFromShelf,
  ReadOnShelf,
  SetActive,
  SetPin,
  UseLot,
} from '../contract/wire.ts';
import { csvText } from '../core/exchange/csv.ts';
import { archiveSchema } from './archive/archive.ts';
import { type Context, readRules } from './context.ts';
import type { Door } from './door/door.ts';
import { checked } from './http/problem.ts';
import type { Routes } from './http/routes.ts';
import { sendParts } from './http/streaming.ts';
import { batteryByTag, openJobFor } from './resources/batteries/batteries.ts';
import { calendarFeed, calendarToken } from './resources/calendar/calendar.ts';
import { shelfListPdf, tagSheetPdf, trayPdf } from './resources/documents/lists.ts';
import { exportJsonSchema, exportParts, logCsv, readingsCsv, samplesCsv } from './resources/exchange/exportBattery.ts';
import { importBatteries, importLog, importModels } from './resources/exchange/imports.ts';
import { setActive, setPin } from './resources/people/people.ts';
import { endSet, makeSet, setPdf, setsAndCandidates } from './resources/sets/sets.ts';
import { recoveryResults } from './resources/recoveries/recoveries.ts';
import { pickFromShelf, readOnShelf, shelfItems, shelfLines } from './resources/shelf/shelf.ts';
import { addLot, lotsInStock, useLot } from './resources/wetroom/lots.ts';

const CSV = 'text/csv; charset=utf-8';

/** The addresses around the bench: shelf, wet room, papers, what comes in and goes out, who may. */
export function shopRoutes(routes: Routes, context: Context, door: Door): void {
  const { store, clock } = context;
  const tagOf = (request: Request) => checked<{ tag: string }>(tagParam, request.params).tag;
  const iso = (at: number) => new Date(at).toISOString();

  routes.serve(ENDPOINTS.signInState, async (request, response) => void response.json(await door.state(request)));
  routes.serve(ENDPOINTS.signIn, async (request, response) => {
    response.json(await door.signIn(request, response, checked<{ personId: string; pin: string }>(signInSchema, request.body)));
  });
  routes.serve(ENDPOINTS.signOut, async (request, response) => {
    await door.sessions.close(request, response);
    response.json({ ok: true });
  });
  routes.serve(ENDPOINTS.setPin, async (request, response) => {
    const { id } = checked<{ id: string }>(personParam, request.params);
    response.json(await setPin(context, door.sessions, id, checked<SetPin>(setPinSchema, request.body)));
  });

  routes.serve(ENDPOINTS.setActive, async (request, response) => {
    const { id } = checked<{ id: string }>(personParam, request.params);
    response.json(await setActive(context, door.sessions, id, checked<SetActive>(setActiveSchema, request.body)));
  });

  routes.serve(ENDPOINTS.openJob, async (request, response) => {
    response.status(201).json(await openJobFor(context, tagOf(request), checked<OpenJob>(openJobSchema, request.body)));
  });

  routes.serve(ENDPOINTS.sets, async (_request, response) => void response.json(await setsAndCandidates(store, clock.now())));
  routes.serve(ENDPOINTS.makeSet, async (request, response) => {
    response.status(201).json(await makeSet(context, checked<MakeSet>(makeSetSchema, request.body)));
  });
  routes.serve(ENDPOINTS.endSet, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response.json(await endSet(context, id, checked<EndSet>(endSetSchema, request.body)));
  });
  routes.serve(ENDPOINTS.setPdf, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response
      .type('application/pdf')
      .attachment('set.pdf')
      .send(await setPdf(context, id));
  });
  routes.serve(ENDPOINTS.recoveries, async (_request, response) => void response.json({ results: await recoveryResults(store) }));

  routes.serve(ENDPOINTS.shelf, async (_request, response) => void response.json({ items: await shelfItems(store) }));
  routes.serve(ENDPOINTS.shelfPdf, async (_request, response) => {
    const now = clock.now();
    response
      .type('application/pdf')
      .attachment('shelf.pdf')
      .send(await shelfListPdf(await shelfLines(store, now), await readRules(store), now));
  });
  routes.serve(ENDPOINTS.shelfCsv, async (_request, response) => {
    const lines = await shelfLines(store, clock.now());
    const text = csvText(
      ['Tag', 'Model', 'On the shelf since', 'Charged', 'Last read / V', 'Last read at', 'Charge today', 'Voltage today / V', 'Recharge by', 'Wants'],
      lines.map((l) => [
        l.tag,
        l.model,
        iso(l.since),
        iso(l.chargedAt),
        l.lastV,
        iso(l.lastAt),
        l.percent,
        l.volts,
        Number.isFinite(l.rechargeAt) ? iso(l.rechargeAt) : '',
        l.wants,
      ]),
    );
    response.type(CSV).attachment('shelf.csv').send(text);
  });
  routes.serve(ENDPOINTS.readOnShelf, async (request, response) => {
    response.status(201).json(await readOnShelf(context, tagOf(request), checked<ReadOnShelf>(readOnShelfSchema, request.body)));
  });
  routes.serve(ENDPOINTS.pickFromShelf, async (request, response) => {
    response.json(await pickFromShelf(context, tagOf(request), checked<PickFromShelf>(pickFromShelfSchema, request.body)));
  });

  routes.serve(ENDPOINTS.lots, async (_request, response) => void response.json({ lots: await lotsInStock(store) }));
  routes.serve(ENDPOINTS.addLot, async (request, response) => {
    response.status(201).json(await addLot(context, checked<AddLot>(addLotSchema, request.body)));
  });
  routes.serve(ENDPOINTS.useLot, async (request, response) => {
    const { code } = checked<{ code: string }>(lotParam, request.params);
    response.json(await useLot(context, code, checked<UseLot>(useLotSchema, request.body)));
  });

  routes.serve(ENDPOINTS.tagSheetPdf, async (request, response) => {
    const { tags, code } = checked<{ tags: string; code: 'code128' | 'qr' }>(tagsQuery, request.query);
    response
      .type('application/pdf')
      .attachment('tags.pdf')
      .send(await tagSheetPdf(context, tags.split(','), code));
  });
  routes.serve(ENDPOINTS.trayPdf, async (request, response) => {
    const { id } = checked<{ id: string }>(trayParam, request.params);
    response
      .type('application/pdf')
      .attachment('tray.pdf')
      .send(await trayPdf(context, id));
  });

  routes.serve(ENDPOINTS.batterySchema, (_request, response) => void response.type('application/schema+json').send(JSON.stringify(exportJsonSchema())));
  routes.serve(ENDPOINTS.shopSchema, async (_request, response) => {
    response.type('application/schema+json').send(JSON.stringify(await archiveSchema(store.sequelize)));
  });
  routes.serve(ENDPOINTS.exportBattery, async (request, response) => {
    const battery = await batteryByTag(store, tagOf(request));
    await sendParts(response.attachment(`${battery.tag}.json`).type('json'), exportParts(store, battery));
  });
  routes.serve(ENDPOINTS.readingsCsv, async (request, response) => {
    const battery = await batteryByTag(store, tagOf(request));
    await sendParts(response.type(CSV).attachment(`${battery.tag}-readings.csv`), readingsCsv(store, battery));
  });
  routes.serve(ENDPOINTS.samplesCsv, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response
      .type(CSV)
      .attachment('charge.csv')
      .send(await samplesCsv(store, id));
  });
  routes.serve(ENDPOINTS.logCsv, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response
      .type(CSV)
      .attachment('log.csv')
      .send(await logCsv(store, id));
  });
  routes.serve(ENDPOINTS.importLog, async (request, response) => {
    response.status(201).json(await importLog(context, tagOf(request), checked<ImportLog>(importLogSchema, request.body)));
  });
  routes.serve(ENDPOINTS.importModels, async (request, response) => {
    response.status(201).json(await importModels(context, checked<ImportModels>(importModelsSchema, request.body)));
  });
  routes.serve(ENDPOINTS.importBatteries, async (request, response) => {
    response.status(201).json(await importBatteries(context, checked<ImportBatteries>(importBatteriesSchema, request.body)));
  });

  routes.serve(ENDPOINTS.calendarAddress, async (request, response) => {
    const token = await calendarToken(context, checked<CalendarAddress>(calendarAddressSchema, request.body));
    response.json({ path: `${ENDPOINTS.calendar.path}?token=${token}` });
  });
  routes.serve(ENDPOINTS.calendar, async (request, response) => {
    const { token } = checked<{ token?: string }>(calendarQuery, request.query);
    response
      .type('text/calendar; charset=utf-8')
      .send(await calendarFeed(context, token, door.required, `${request.protocol}://${request.headers.host ?? ''}`));
  });
}
