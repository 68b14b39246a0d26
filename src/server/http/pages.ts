import { Router } from 'express';
import expressStaticGzip from 'express-static-gzip';
import { join } from 'node:path';
import { asksOf, type BuiltPages, readBuiltPages, viewAt } from './builtPages.ts';
import { DRAWN_FROM, type Drawn } from '../../contract/drawnPage.ts';
import type { Changes } from './changes.ts';
import type { PageDrawer } from './pageDrawer.ts';
import { pressing } from './pressing.ts';
import { notFound } from './problem.ts';

/** `Link` headers of an address: what its page will ask for, named before it has read its own first script. */
const linksFor = (
  { styles, fonts, first }: BuiltPages,
  scripts: readonly string[],
  asks: readonly string[],
): string =>
  [
    ...styles.map((file) => `</${file}>; rel=preload; as=style; crossorigin`),
    ...[...first, ...scripts].map((file) => `</${file}>; rel=modulepreload`),
    ...fonts.map((file) => `</${file}>; rel=preload; as=font; crossorigin`),
    ...asks.map((ask) => `<${ask}>; rel=preload; as=fetch; crossorigin`),
  ].join(', ');

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

/**
 * The built pages: scripts and styles as small as the build pressed them and kept for good (their names change
 * with their content), and one page for every address.
 *
 * @param drawer draws the first page; without it browsers do
 */
export function pagesRouter(
  folder: string,
  drawer: PageDrawer | null,
  changes: Pick<Changes, 'latest'>,
): Router {
  const router = Router();
  const built = readBuiltPages(folder);
  const pressed = { enableBrotli: true, orderPreference: ['br', 'gz'] as never };

  router.use(
    '/assets',
    expressStaticGzip(join(folder, 'assets'), {
      ...pressed,
      serveStatic: { immutable: true, maxAge: '1y', fallthrough: false, redirect: false },
    }),
  );
  router.use(
    expressStaticGzip(folder, {
      ...pressed,
      index: false,
      serveStatic: { index: false, redirect: false },
    }),
  );
  const shell = expressStaticGzip(folder, {
    ...pressed,
    index: false,
    serveStatic: { index: false, redirect: false, maxAge: 0 },
  });
  const press = pressing();
  router.get(/.*/, async (request, response, next) => {
    // Another spelling of an address of the API is no page.
    if (/^[/\\]*api([/\\]|$)/i.test(decoded(request.path))) throw notFound('That address');
    if (built.document === null) throw notFound('The built page');
    const view = viewAt(request.path);
    const scripts = built.scriptsOf(view);
    const asks = asksOf(request.path);
    const since = changes.latest;
    const drawn = view && !view.keptByBrowser ? await drawer?.draw(request, asks) : null;
    // What a drawn page begins with is in it, and its scripts come when it can be read.
    response.setHeader('Link', drawn ? linksFor(built, [], []) : linksFor(built, scripts, asks));
    if (drawn) {
      press(request, response, () => undefined);
      response.setHeader('Cache-Control', 'no-store');
      response.type('html').send(withDrawn(built.document, drawn, scripts, since));
      return;
    }
    response.setHeader('Cache-Control', 'no-cache');
    request.url = '/index.html';
    shell(request, response, next);
  });
  return router;
}

/** Where the frame stands in the page, until the pages come or are drawn into it. */
const FRAME = /<div id="root">.*<!-- \/frame -->\s*<\/div>/s;

/** The page with what was drawn in place of its frame: shown and put to use by its first script (`src/web/begin.ts`). */
const withDrawn = (
  document: string,
  { html, from }: Drawn,
  scripts: readonly string[],
  since: string,
): string =>
  document.replace(
    FRAME,
    () =>
      `<div id="root" hidden inert data-since="${since}" data-scripts="${scripts.map((file) => `/${file}`).join(' ')}">${html}</div>` +
      `<script type="application/json" id="${DRAWN_FROM}">${from}</script>`,
  );
