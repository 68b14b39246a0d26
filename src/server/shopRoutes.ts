import type { Express, Request } from 'express';
import { ENDPOINTS } from '../contract/endpoints.ts';
import { idParam, openJobSchema, tagParam } from '../contract/schemas.ts';
import {
  addLotSchema,
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
  setPinSchema,
  signInSchema,
  tagsQuery,
  trayParam,
  useLotSchema,
} from '../contract/shopSchemas.ts';
import type {
  AddLot,
  EndSet,
  MakeSet,
  ImportBatteries,
  ImportLog,
  ImportModels,
  OpenJob,
  PickFromShelf,
  ReadOnShelf,
  SetPin,
  UseLot,
} from '../contract/wire.ts';
import { csvText } from '../core/exchange/csv.ts';
import { type Context, readRules } from './context.ts';
import { checked } from './http/problem.ts';
import { openJobFor } from './resources/batteries/batteries.ts';
import { calendarFeed, calendarToken } from './resources/calendar/calendar.ts';
import { shelfListPdf, tagSheetPdf, trayPdf } from './resources/documents/lists.ts';
import { exportBattery, exportJsonSchema, logCsv, readingsCsv, samplesCsv } from './resources/exchange/exportBattery.ts';
import { importBatteries, importLog, importModels } from './resources/exchange/imports.ts';
import { setPin, type SignIn } from './resources/people/signIn.ts';
import { endSet, makeSet, setPdf, setsAndCandidates } from './resources/sets/sets.ts';
import { recoveryResults } from './resources/recoveries/recoveries.ts';
import { pickFromShelf, readOnShelf, shelfItems, shelfLines } from './resources/shelf/shelf.ts';
import { addLot, lotsInStock, useLot } from './resources/wetroom/lots.ts';

const CSV = 'text/csv; charset=utf-8';

/** The addresses around the bench: shelf, wet room, papers, what comes in and goes out, who may. */
export function shopRoutes(app: Express, context: Context, door: SignIn, wide: boolean): void {
  const { store, clock } = context;
  const tagOf = (request: Request) => checked<{ tag: string }>(tagParam, request.params).tag;
  const iso = (at: number) => new Date(at).toISOString();

  app.get(ENDPOINTS.signInState.path, async (request, response) => void response.json(await door.state(request)));
  app.post(ENDPOINTS.signIn.path, async (request, response) => {
    response.json(await door.signIn(request, response, checked<{ personId: string; pin: string }>(signInSchema, request.body)));
  });
  app.post(ENDPOINTS.signOut.path, async (request, response) => {
    await door.signOut(request, response);
    response.json({ ok: true });
  });
  app.post(ENDPOINTS.setPin.path, async (request, response) => {
    const { id } = checked<{ id: string }>(personParam, request.params);
    response.json(await setPin(context, id, checked<SetPin>(setPinSchema, request.body)));
  });

  app.post(ENDPOINTS.openJob.path, async (request, response) => {
    response.status(201).json(await openJobFor(context, tagOf(request), checked<OpenJob>(openJobSchema, request.body)));
  });

  app.get(ENDPOINTS.sets.path, async (_request, response) => void response.json(await setsAndCandidates(store, clock.now())));
  app.post(ENDPOINTS.makeSet.path, async (request, response) => {
    response.status(201).json(await makeSet(context, checked<MakeSet>(makeSetSchema, request.body)));
  });
  app.post(ENDPOINTS.endSet.path, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response.json(await endSet(context, id, checked<EndSet>(endSetSchema, request.body)));
  });
  app.get(ENDPOINTS.setPdf.path, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response
      .type('application/pdf')
      .attachment('set.pdf')
      .send(await setPdf(context, id));
  });
  app.get(ENDPOINTS.recoveries.path, async (_request, response) => void response.json({ results: await recoveryResults(store) }));

  app.get(ENDPOINTS.shelf.path, async (_request, response) => void response.json({ items: await shelfItems(store) }));
  app.get(ENDPOINTS.shelfPdf.path, async (_request, response) => {
    const now = clock.now();
    response
      .type('application/pdf')
      .attachment('shelf.pdf')
      .send(await shelfListPdf(await shelfLines(store, now), await readRules(store), now));
  });
  app.get(ENDPOINTS.shelfCsv.path, async (_request, response) => {
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
  app.post(ENDPOINTS.readOnShelf.path, async (request, response) => {
    response.status(201).json(await readOnShelf(context, tagOf(request), checked<ReadOnShelf>(readOnShelfSchema, request.body)));
  });
  app.post(ENDPOINTS.pickFromShelf.path, async (request, response) => {
    response.json(await pickFromShelf(context, tagOf(request), checked<PickFromShelf>(pickFromShelfSchema, request.body)));
  });

  app.get(ENDPOINTS.lots.path, async (_request, response) => void response.json({ lots: await lotsInStock(store) }));
  app.post(ENDPOINTS.addLot.path, async (request, response) => {
    response.status(201).json(await addLot(context, checked<AddLot>(addLotSchema, request.body)));
  });
  app.post(ENDPOINTS.useLot.path, async (request, response) => {
    const { code } = checked<{ code: string }>(lotParam, request.params);
    response.json(await useLot(context, code, checked<UseLot>(useLotSchema, request.body)));
  });

  app.get(ENDPOINTS.tagSheetPdf.path, async (request, response) => {
    const { tags, code } = checked<{ tags: string; code: 'code128' | 'qr' }>(tagsQuery, request.query);
    response
      .type('application/pdf')
      .attachment('tags.pdf')
      .send(await tagSheetPdf(context, tags.split(','), code));
  });
  app.get(ENDPOINTS.trayPdf.path, async (request, response) => {
    const { id } = checked<{ id: string }>(trayParam, request.params);
    response
      .type('application/pdf')
      .attachment('tray.pdf')
      .send(await trayPdf(context, id));
  });

  app.get(ENDPOINTS.batterySchema.path, (_request, response) => void response.type('application/schema+json').send(JSON.stringify(exportJsonSchema())));
  app.get(ENDPOINTS.exportBattery.path, async (request, response) => {
    const tag = tagOf(request);
    response.attachment(`${tag}.json`).json(await exportBattery(store, tag));
  });
  app.get(ENDPOINTS.readingsCsv.path, async (request, response) => {
    const tag = tagOf(request);
    response
      .type(CSV)
      .attachment(`${tag}-readings.csv`)
      .send(await readingsCsv(store, tag));
  });
  app.get(ENDPOINTS.samplesCsv.path, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response
      .type(CSV)
      .attachment('charge.csv')
      .send(await samplesCsv(store, id));
  });
  app.get(ENDPOINTS.logCsv.path, async (request, response) => {
    const { id } = checked<{ id: string }>(idParam, request.params);
    response
      .type(CSV)
      .attachment('log.csv')
      .send(await logCsv(store, id));
  });
  app.post(ENDPOINTS.importLog.path, async (request, response) => {
    response.status(201).json(await importLog(context, tagOf(request), checked<ImportLog>(importLogSchema, request.body)));
  });
  app.post(ENDPOINTS.importModels.path, async (request, response) => {
    response.status(201).json(await importModels(context, checked<ImportModels>(importModelsSchema, request.body)));
  });
  app.post(ENDPOINTS.importBatteries.path, async (request, response) => {
    response.status(201).json(await importBatteries(context, checked<ImportBatteries>(importBatteriesSchema, request.body)));
  });

  app.get(ENDPOINTS.calendarLink.path, async (_request, response) => {
    response.json({ path: `${ENDPOINTS.calendar.path}?token=${await calendarToken(context)}` });
  });
  app.get(ENDPOINTS.calendar.path, async (request, response) => {
    const { token } = checked<{ token?: string }>(calendarQuery, request.query);
    response.type('text/calendar; charset=utf-8').send(await calendarFeed(context, token, wide, `${request.protocol}://${request.headers.host ?? ''}`));
  });
}
