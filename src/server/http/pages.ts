import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Router } from 'express';
import expressStaticGzip from 'express-static-gzip';
import { notFound } from './problem.ts';

/** What a view needs beside the frame: its scripts, and the answers it begins with. */
interface View {
  path: RegExp;
  /** What they were built from. */
  source?: string;
  /** Or the name of the piece that the build puts a view of many parts into, see vite.config.ts. */
  piece?: string;
  asks?: (part: string) => string[];
}

const view = (folder: string) => `src/web/views/${folder}.tsx`;

/** The bench of a case is in the page: nothing is asked for there. */
const CASE_OF_THE_DRILL = /^\/drill\/case\/[\w-]+/;

/** By address; `part` is what the address names. Whatever is missing here is fetched all the same, a round later. */
export const VIEWS: readonly View[] = [
  { path: /^\/$/, asks: () => ['/api/bench'] },
  { path: /^\/intake$/, source: view('intake/Intake'), asks: () => ['/api/models'] },
  { path: /^\/jobs\/([\w-]+)$/, piece: 'job', asks: (id) => [`/api/jobs/${id}`] },
  {
    path: /^\/jobs\/([\w-]+)\/sheet$/,
    source: view('paper/SheetView'),
    asks: (id) => [`/api/jobs/${id}`, `/api/jobs/${id}/sheet`],
  },
  { path: /^\/plan$/, source: view('dayplan/DayPlan'), asks: () => ['/api/day-plan'] },
  { path: /^\/guide$/, source: view('guide/Guide') },
  { path: /^\/walk$/, source: view('job/Walk') },
  { path: /^\/rehearsal$/, source: view('rehearsal/Rehearsal') },
  { path: /^\/shelf$/, source: view('shelf/Shelf'), asks: () => ['/api/shelf'] },
  { path: /^\/shelf\/round$/, source: view('shelf/Round'), asks: () => ['/api/shelf'] },
  { path: /^\/shelf\/sets$/, source: view('sets/Sets'), asks: () => ['/api/sets'] },
  { path: /^\/wet-room$/, source: view('wetroom/WetRoom'), asks: () => ['/api/lots'] },
  { path: /^\/records$/, source: view('records/Records') },
  { path: /^\/records\/import$/, source: view('records/ImportTable') },
  {
    path: /^\/batteries\/([\w-]+)$/,
    source: view('records/BatteryRecord'),
    asks: (tag) => [`/api/batteries/${tag}`],
  },
  { path: /^\/rules$/, source: view('rules/HouseRules') },
  { path: /^\/drill$/, source: view('drill/Ladder') },
  { path: CASE_OF_THE_DRILL, piece: 'job' },
];

/** The page itself, as the build names it. */
const PAGE = 'index.html';
/** What every view asks for. */
const EVERY_VIEW = ['/api/sign-in', '/api/shop', '/api/clock'];

interface Built {
  file: string;
  name?: string;
  css?: string[];
  imports?: string[];
}
type Manifest = Record<string, Built>;

/** What the page itself needs. */
interface Page {
  styles: string[];
  scripts: string[];
  fonts: string[];
}

/** A view's scripts with everything they import, apart from what the page names itself. */
function scriptsOf(manifest: Manifest, { source, piece }: View): string[] {
  const first = new Set(importsOf(manifest, PAGE));
  const key = Object.keys(manifest).find(
    (k) => k === source || (piece !== undefined && manifest[k]?.name === piece),
  );
  return key === undefined
    ? []
    : [key, ...importsOf(manifest, key)]
        .filter((found) => !first.has(found))
        .flatMap((found) => manifest[found]?.file ?? []);
}

function importsOf(manifest: Manifest, key: string, seen = new Set<string>()): string[] {
  for (const next of manifest[key]?.imports ?? []) {
    if (seen.has(next)) continue;
    seen.add(next);
    importsOf(manifest, next, seen);
  }
  return [...seen];
}

/** `Link` headers of an address: what its page will ask for, named before it has read its own first script. */
function linksFor(path: string, page: Page, scripts: ReadonlyMap<View, readonly string[]>): string {
  const found = VIEWS.find((v) => v.path.test(path));
  const part = found?.path.exec(path)?.[1] ?? '';
  const asks = CASE_OF_THE_DRILL.test(path) ? [] : [...EVERY_VIEW, ...(found?.asks?.(part) ?? [])];
  return [
    ...page.styles.map((file) => `</${file}>; rel=preload; as=style; crossorigin`),
    ...[...page.scripts, ...((found && scripts.get(found)) ?? [])].map(
      (file) => `</${file}>; rel=modulepreload`,
    ),
    ...asks.map((ask) => `<${ask}>; rel=preload; as=fetch; crossorigin`),
    // A phone on a slow line reads its first page in letters of its own; the next one has these.
    ...page.fonts.map(
      (file) => `</${file}>; rel=preload; as=font; crossorigin; media="(min-width: 640px)"`,
    ),
  ].join(', ');
}

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
 */
export function pagesRouter(folder: string): Router {
  const router = Router();
  const manifestFile = join(folder, '.vite', 'manifest.json');
  const manifest = existsSync(manifestFile)
    ? (JSON.parse(readFileSync(manifestFile, 'utf8')) as Manifest)
    : {};
  const first = [PAGE, ...importsOf(manifest, PAGE)].flatMap((key) => manifest[key] ?? []);
  const page = {
    styles: first.flatMap((b) => b.css ?? []),
    scripts: first.map((b) => b.file),
    fonts: Object.values(manifest).flatMap(({ file }) => (file.endsWith('.woff2') ? file : [])),
  };
  const scripts = new Map(VIEWS.map((found) => [found, scriptsOf(manifest, found)]));
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
  router.get(/.*/, (request, response, next) => {
    // Another spelling of an address of the API is no page.
    if (/^[/\\]*api([/\\]|$)/i.test(decoded(request.path))) throw notFound('That address');
    if (!existsSync(join(folder, 'index.html'))) throw notFound('The built page');
    response.setHeader('Link', linksFor(request.path, page, scripts));
    response.setHeader('Cache-Control', 'no-cache');
    request.url = '/index.html';
    shell(request, response, next);
  });
  return router;
}
