import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** What a view needs beside the frame: its scripts, and the answers it begins with. */
interface View {
  path: RegExp;
  /** What they were built from. */
  source?: string;
  /** Or the name of the piece that the build puts a view of many parts into, see vite.config.ts. */
  piece?: string;
  asks?: (part: string) => string[];
  /** What it shows is kept by the browser: nothing of it can be drawn here. */
  keptByBrowser?: boolean;
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
  { path: /^\/drill$/, source: view('drill/Ladder'), keptByBrowser: true },
  { path: CASE_OF_THE_DRILL, piece: 'job', keptByBrowser: true },
];

/** What every view asks for. */
const EVERY_VIEW = ['/api/sign-in', '/api/shop', '/api/clock'];

export const viewAt = (path: string): View | undefined => VIEWS.find((v) => v.path.test(path));

/** The answers an address begins with, and none where its bench is in the page. */
export function asksOf(path: string): string[] {
  if (CASE_OF_THE_DRILL.test(path)) return [];
  const found = viewAt(path);
  return [...EVERY_VIEW, ...(found?.asks?.(found.path.exec(path)?.[1] ?? '') ?? [])];
}

/** The page itself, as the build names it. */
const PAGE = 'index.html';
/** What is in bold comes when there is some. */
const LATER_FACE = /barlow-latin-600/;

interface Built {
  file: string;
  name?: string;
  css?: string[];
  imports?: string[];
  /** What it asks for in its own time. */
  dynamicImports?: string[];
}
type Manifest = Record<string, Built>;

/** What the build made of the pages. */
export interface BuiltPages {
  /** The document of every address; null where nothing was built. */
  document: string | null;
  styles: readonly string[];
  fonts: readonly string[];
  /** The document's own first script; it asks for the application. */
  first: readonly string[];
  /** The application with the scripts of a view and everything they import. */
  scriptsOf: (view: View | undefined) => readonly string[];
}

/** @param folder of the built pages */
export function readBuiltPages(folder: string): BuiltPages {
  const read = (name: string) => {
    const file = join(folder, name);
    return existsSync(file) ? readFileSync(file, 'utf8') : null;
  };
  const manifest = JSON.parse(read('.vite/manifest.json') ?? '{}') as Manifest;
  const first = importsOf(manifest, PAGE);
  const filesOf = (keys: Iterable<string>) => [...keys].flatMap((key) => manifest[key]?.file ?? []);
  const application = new Set(
    (manifest[PAGE]?.dynamicImports ?? []).flatMap((key) => [...importsOf(manifest, key)]),
  );
  const scripts = new Map(
    VIEWS.map((view) => {
      const keys = new Set([...application, ...importsOf(manifest, keyOf(manifest, view))]);
      return [view, filesOf(without(keys, first))];
    }),
  );
  return {
    document: read(PAGE),
    styles: [...first].flatMap((key) => manifest[key]?.css ?? []),
    fonts: filesOf(Object.keys(manifest)).filter(
      (file) => file.endsWith('.woff2') && !LATER_FACE.test(file),
    ),
    first: filesOf(first),
    scriptsOf: (view) => (view && scripts.get(view)) ?? filesOf(without(application, first)),
  };
}

const keyOf = (manifest: Manifest, { source, piece }: View): string =>
  Object.keys(manifest).find(
    (key) => key === source || (piece !== undefined && manifest[key]?.name === piece),
  ) ?? '';

const without = (keys: Iterable<string>, known: ReadonlySet<string>): string[] =>
  [...keys].filter((key) => !known.has(key));

/** A piece with everything it imports. */
function importsOf(manifest: Manifest, key: string, seen = new Set<string>()): Set<string> {
  if (!(key in manifest) || seen.has(key)) return seen;
  seen.add(key);
  for (const next of manifest[key]?.imports ?? []) importsOf(manifest, next, seen);
  return seen;
}
