import { ENDPOINTS } from '../contract/endpoints.ts';
import { csvText } from '../core/exchange/csv.ts';
import { archiveSchema } from './archive/archive.ts';
import { type Context, readRules } from './context.ts';
import type { Door } from './door/door.ts';
import type { Routes } from './http/routes.ts';
import { isoOf } from './http/isoOf.ts';
import { sendKept, sendParts, sendPdf } from './http/streaming.ts';
import { batteryByTag, openJobFor, placeBattery } from './resources/batteries/batteries.ts';
import { calendarFeed, calendarToken } from './resources/calendar/calendar.ts';
import { shelfListPdf, tagSheetPdf, trayPdf } from './resources/documents/lists.ts';
import {
  exportParts,
  logCsv,
  readingsCsv,
  samplesCsv,
} from './resources/exchange/exportBattery.ts';
import { exportJsonSchema } from './resources/exchange/exportSchema.ts';
import { importBatteries, importLog, importModels } from './resources/exchange/imports.ts';
import { setActive, setPin } from './resources/people/people.ts';
import { assignDrill, drillOf, saveDrillCase, shareDrill } from './resources/drill/drill.ts';
import { endSet, makeSet, setPdf, setsAndCandidates } from './resources/sets/sets.ts';
import {
  claimPdf,
  claimsCsv,
  claimsOf,
  changeClaim,
  openClaim,
} from './resources/claims/claims.ts';
import {
  addNote,
  addPicture,
  notesOf,
  pictureRoom,
  takeBackNote,
} from './resources/notes/notes.ts';
import { askedIn, servicesDue } from './resources/dayplan/services.ts';
import { promisesOf } from './resources/dayplan/promises.ts';
import { failuresHere } from './resources/results/failures.ts';
import { holdsOf, liftHold, putOnHold } from './resources/results/holds.ts';
import { picturePath } from './store/pictureFiles.ts';
import { experienceHere, recoveredCsv, recoveriesHere } from './resources/recoveries/recoveries.ts';
import { pickFromShelf, readOnShelf, shelfItems, shelfLines } from './resources/shelf/shelf.ts';
import {
  addCharger,
  changeCharger,
  removeCharger,
  shopChargers,
} from './resources/chargers/chargers.ts';
import { addLot, lotsInStock, useLot } from './resources/wetroom/lots.ts';

const CSV = 'text/csv; charset=utf-8';

/** The addresses around the bench: shelf, wet room, papers, what comes in and goes out, who may. */
export function shopRoutes(routes: Routes, context: Context, door: Door): void {
  const { store, clock } = context;

  routes.answer('signInState', ({ request }) => door.state(request));
  routes.answer('signIn', ({ request, response, body }) => door.signIn(request, response, body));
  routes.answer('signOut', async ({ request, response }) => {
    await door.sessions.close(request, response);
    return { ok: true };
  });
  routes.answer('setPin', ({ params, body }) => setPin(context, door.sessions, params.id, body));
  routes.answer('setActive', ({ params, body }) =>
    setActive(context, door.sessions, params.id, body),
  );

  routes.answer('openJob', ({ params, body }) => openJobFor(context, params.tag, body));

  routes.answer('sets', () => setsAndCandidates(store, clock.now()));
  routes.answer('makeSet', ({ body }) => makeSet(context, body));
  routes.answer('endSet', ({ params, body }) => endSet(context, params.id, body));
  routes.send('setPdf', async ({ params, response }) =>
    sendPdf(response, 'set.pdf', await setPdf(context, params.id)),
  );
  routes.answer('recoveries', () => recoveriesHere(store, clock.now()));
  routes.answer('experience', async ({ query }) => {
    const { learnSince } = await readRules(store);
    return experienceHere(store, learnSince, query.asOf ?? clock.now());
  });
  routes.send('recoveriesCsv', async ({ response }) => {
    response
      .type(CSV)
      .attachment('recoveries.csv')
      .send(recoveredCsv((await recoveriesHere(store, clock.now())).recovered));
  });

  routes.answer('shelf', async () => ({ items: await shelfItems(store) }));
  routes.send('shelfPdf', async ({ response }) => {
    const now = clock.now();
    sendPdf(
      response,
      'shelf.pdf',
      await shelfListPdf(await shelfLines(store, now), await readRules(store), now),
    );
  });
  routes.send('shelfCsv', async ({ response }) => {
    response
      .type(CSV)
      .attachment('shelf.csv')
      .send(shelfListCsv(await shelfLines(store, clock.now())));
  });
  routes.answer('readOnShelf', ({ params, body }) => readOnShelf(context, params.tag, body));
  routes.answer('pickFromShelf', ({ params, body }) => pickFromShelf(context, params.tag, body));

  routes.answer('placeBattery', ({ params, body }) => placeBattery(context, params.tag, body));

  routes.answer('chargers', async () => ({ chargers: await shopChargers(store) }));
  routes.answer('addCharger', ({ body }) => addCharger(context, body));
  routes.answer('changeCharger', ({ params, body }) => changeCharger(context, params.id, body));
  routes.answer('removeCharger', ({ params, body }) => removeCharger(context, params.id, body));

  routes.answer('lots', async () => ({ lots: await lotsInStock(store) }));
  routes.answer('addLot', ({ body }) => addLot(context, body));
  routes.answer('useLot', ({ params, body }) => useLot(context, params.code, body));

  routes.answer('notes', async ({ params }) => ({
    notes: await notesOf(store, (await batteryByTag(store, params.tag)).id),
  }));
  routes.answer('addNote', ({ params, body }) => addNote(context, params.tag, body));
  routes.answer('addPicture', ({ params, query, request }) =>
    addPicture(context, params.tag, query, request.body as Uint8Array),
  );
  routes.answer('takeBackNote', ({ params, body }) => takeBackNote(context, params.id, body));
  routes.answer('pictureRoom', () => pictureRoom(store));
  routes.send('picture', ({ params, query, response }) => {
    // Its name follows from its content: what lies under it never changes.
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    return sendKept(response, picturePath(store.file, params.name, query.size), 'That picture');
  });

  routes.answer('claims', async () => ({ claims: await claimsOf(store) }));
  routes.answer('openClaim', ({ params, body }) => openClaim(context, params.tag, body));
  routes.answer('changeClaim', ({ params, body }) => changeClaim(context, params.id, body));
  routes.send('claimsCsv', async ({ response }) => {
    response
      .type(CSV)
      .attachment('claims.csv')
      .send(await claimsCsv(store));
  });
  routes.send('claimPdf', async ({ params, response }) => {
    const { name, pdf } = await claimPdf(context, params.id);
    sendPdf(response, name, pdf);
  });
  routes.answer('failures', failuresHere(store));
  routes.answer('promises', () => promisesOf(store, clock.now()));
  routes.answer('services', async () => servicesDue(store, await readRules(store), clock.now()));
  routes.answer('askedIn', ({ body }) => askedIn(context, body));
  routes.answer('holds', async () => ({ holds: await holdsOf(store) }));
  routes.answer('putOnHold', ({ body }) => putOnHold(context, body));
  routes.answer('liftHold', ({ params, body }) => liftHold(context, params.id, body));

  routes.send('tagSheetPdf', async ({ query, response }) =>
    sendPdf(response, 'tags.pdf', await tagSheetPdf(context, query.tags.split(','), query.code)),
  );
  routes.send('trayPdf', async ({ params, response }) =>
    sendPdf(response, 'tray.pdf', await trayPdf(context, params.id)),
  );

  routes.send('batterySchema', ({ response }) =>
    response.type('application/schema+json').send(JSON.stringify(exportJsonSchema())),
  );
  routes.send('shopSchema', async ({ response }) => {
    response
      .type('application/schema+json')
      .send(JSON.stringify(await archiveSchema(store.sequelize)));
  });
  routes.send('exportBattery', async ({ params, response }) => {
    const battery = await batteryByTag(store, params.tag);
    await sendParts(
      response.attachment(`${battery.tag}.json`).type('json'),
      exportParts(store, battery),
    );
  });
  routes.send('readingsCsv', async ({ params, response }) => {
    const battery = await batteryByTag(store, params.tag);
    await sendParts(
      response.type(CSV).attachment(`${battery.tag}-readings.csv`),
      readingsCsv(store, battery),
    );
  });
  routes.send('samplesCsv', async ({ params, response }) => {
    response
      .type(CSV)
      .attachment('charge.csv')
      .send(await samplesCsv(store, params.id));
  });
  routes.send('logCsv', async ({ params, response }) => {
    response
      .type(CSV)
      .attachment('log.csv')
      .send(await logCsv(store, params.id));
  });
  routes.answer('importLog', ({ params, body }) => importLog(context, params.tag, body));
  routes.answer('importModels', ({ body }) => importModels(context, body));
  routes.answer('importBatteries', ({ body }) => importBatteries(context, body));

  routes.answer('drill', async ({ request }) =>
    drillOf(context, door.required ? await door.personOf(request) : null),
  );
  routes.answer('shareDrill', ({ body }) => shareDrill(context, body));
  routes.answer('saveDrillCase', ({ body }) => saveDrillCase(context, body));
  routes.answer('assignDrill', ({ body }) => assignDrill(context, body));
  routes.answer('calendarAddress', async ({ body }) => ({
    path: `${ENDPOINTS.calendar.path}?token=${await calendarToken(context, body)}`,
  }));
  routes.send('calendar', async ({ query, request, response }) => {
    response
      .type('text/calendar; charset=utf-8')
      .send(
        await calendarFeed(
          context,
          query.token,
          door.required,
          `${request.protocol}://${request.headers.host ?? ''}`,
        ),
      );
  });
}

/** The shelf list as a table. */
function shelfListCsv(lines: Awaited<ReturnType<typeof shelfLines>>): string {
  return csvText(
    [
      'Tag',
      'Model',
      'On the shelf since',
      'Charged',
      'Last read / V',
      'Last read at',
      'Charge today',
      'Voltage today / V',
      'Recharge by',
      'To do',
    ],
    lines.map((l) => [
      l.tag,
      l.model,
      isoOf(l.since),
      isoOf(l.chargedAt),
      l.lastV,
      isoOf(l.lastAt),
      l.percent,
      l.volts,
      Number.isFinite(l.rechargeAt) ? isoOf(l.rechargeAt) : '',
      l.wants,
    ]),
  );
}
