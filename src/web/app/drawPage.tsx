import { dehydrate, QueryClientProvider } from '@tanstack/react-query';
import { renderToString } from 'react-dom/server';
import { StaticRouter } from 'react-router';
import type { Drawing, KnownAnswers } from '../../contract/drawnPage.ts';
import type { Clock } from '../../contract/wire.ts';
import { ProblemError, serveInPage } from '../line/api.ts';
import { benchClock } from '../line/benchClock.ts';
import type { DrawnFrom } from '../line/drawn.ts';
import { askAhead, queryClient } from '../line/queries.ts';
import { allViewsAhead, shopPages, viewAhead } from './pages.tsx';

/**
 * Draws a page of the shop where there is no browser: the server does, in a thread of its own, so that a phone on a slow line
 * shows the page before it has its scripts.
 */

/** An answer may bring up another question, and that one another. */
const MOST_LOOKS = 4;
const CLOCK = '/api/clock';
const LONGEST_MS = 1000;

/** Reads what every page is made of, so that the first one is drawn as quickly as the others. */
export const getReady = allViewsAhead;

let turn: Promise<unknown> = Promise.resolve();
let turns = 0;

/**
 * One page after the other: they share a clock and what is known.
 *
 * @param address path with its query
 * @throws Error where a view cannot be drawn
 */
export function drawPage(address: string, answers: KnownAnswers): Promise<Drawing> {
  const mine = turn.then(() => draw(address, answers));
  // One that never ends keeps none of the others waiting.
  turn = Promise.race([mine, new Promise((late) => setTimeout(late, LONGEST_MS))]).catch(
    () => undefined,
  );
  return mine;
}

async function draw(address: string, answers: KnownAnswers): Promise<Drawing> {
  const mine = ++turns;
  // What is known by now is another visitor's, who may be shown other things.
  const demandTurn = (): void => {
    if (mine !== turns) throw new Error(`${address} was not drawn in its turn.`);
  };
  const wants = new Set<string>();
  serveInPage({
    answer: (_method, path) => {
      const known = answers[path];
      if (known === undefined) wants.add(path);
      if (known) return Promise.resolve(JSON.parse(known));
      const message = 'No answer came in time.';
      return Promise.reject(new ProblemError({ code: 'internal', message, fields: {} }, 503));
    },
  });
  queryClient.clear();
  const said = answers[CLOCK];
  if (said === undefined) return { wants: [CLOCK] };
  const clock = said === null ? null : (JSON.parse(said) as Clock);
  if (clock) benchClock.setAsDrawn(clock);
  const { pathname } = new URL(address, 'http://bench');
  await Promise.allSettled([askAhead(pathname), viewAhead(pathname)]);
  demandTurn();
  if (wants.size > 0) return { wants: [...wants] };
  for (let look = 0; look < MOST_LOOKS; look += 1) {
    forgetFailures();
    const html = renderToString(
      <QueryClientProvider client={queryClient}>
        <StaticRouter location={address}>{shopPages}</StaticRouter>
      </QueryClientProvider>,
    );
    const more = await askWhatWasMissed();
    demandTurn();
    if (wants.size > 0) return { wants: [...wants] };
    if (more) continue;
    // A view that leads elsewhere, waits for an answer or failed has no heading.
    if (!html.includes('<h1')) return 'nothing';
    return { html, from: told({ clock, state: dehydrate(queryClient) }) };
  }
  throw new Error(`${address} asks for more at every look.`);
}

/** What has not been answered is on its way, as it would be in a browser. */
const forgetFailures = (): void =>
  queryClient.removeQueries({ predicate: ({ state }) => state.status === 'error' });

/** Asks for what the last drawing did without. @returns whether any of it is known now, or wanted */
async function askWhatWasMissed(): Promise<boolean> {
  const missed = queryClient
    .getQueryCache()
    .getAll()
    .filter(({ state, options }) => state.status === 'pending' && isWanted(options));
  const came = await Promise.allSettled(missed.map((query) => query.fetch()));
  return came.some(({ status }) => status === 'fulfilled');
}

/** A component may know a question and not put it yet. */
const isWanted = (options: object): boolean => !('enabled' in options) || options.enabled !== false;

/** As it may stand in a document: nothing in it ends the element it stands in. */
const told = (from: DrawnFrom): string => JSON.stringify(from).replaceAll('<', '\\u003c');
