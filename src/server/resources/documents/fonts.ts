import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Font, GlyphRun } from 'fontkit';
import { LRUCache } from 'lru-cache';
import { fonts } from '../../packages.ts';
import { sfntFromWoff } from './sfnt.ts';

/** What papers are set in. Read once, and set by the words that are known already: most words of a shop stand on every paper. */

const require = createRequire(import.meta.url);
const FILES = {
  text: require.resolve('@fontsource/barlow/files/barlow-latin-400-normal.woff'),
  strong: require.resolve('@fontsource/barlow/files/barlow-latin-600-normal.woff'),
  label:
    require.resolve('@fontsource/barlow-condensed/files/barlow-condensed-latin-500-normal.woff'),
};
/** Some 1 kB each. */
const MOST_WORDS = 4000;

let read: [name: string, font: Font][] | null = null;

/** The fonts of papers by the names that papers use. */
export const fontsOfPapers = (): [string, Font][] =>
  (read ??= Object.entries(FILES).map(([name, file]) => [
    name,
    remembering(fonts().create(sfntFromWoff(readFileSync(file))) as Font),
  ]));

/** The same font, which sets a word once. */
function remembering(font: Font): Font {
  const set = new LRUCache<string, GlyphRun>({ max: MOST_WORDS });
  const layout = font.layout.bind(font);
  font.layout = (text, features, ...others) => {
    if (features) return layout(text, features, ...others);
    let run = set.get(text);
    if (!run) set.set(text, (run = layout(text)));
    return copyOf(run);
  };
  return font;
}

/** A paper scales the places of the letters where they stand: each has places of its own. */
const copyOf = (run: GlyphRun): GlyphRun =>
  Object.assign(Object.create(Object.getPrototypeOf(run) as object) as GlyphRun, run, {
    positions: run.positions.map((place) => ({ ...place })),
  });
