import { createRequire } from 'node:module';
import type { Font, GlyphRun } from 'fontkit';
import { LRUCache } from 'lru-cache';
import type PDFDocument from 'pdfkit';
import { fonts } from '../../packages.ts';

/**
 * What papers are set in: whole fonts, not the parts that pages load, because a name may have any letter and a unit is Ω. What they
 * have no letter for is set in one that has nearly all. Each is read once; a word is set once, as most stand on every paper.
 */

type Document = InstanceType<typeof PDFDocument>;

const require = createRequire(import.meta.url);
const FILES = {
  text: require.resolve('@expo-google-fonts/barlow/400Regular/Barlow_400Regular.ttf'),
  strong: require.resolve('@expo-google-fonts/barlow/600SemiBold/Barlow_600SemiBold.ttf'),
  label:
    require.resolve('@expo-google-fonts/barlow-condensed/500Medium/BarlowCondensed_500Medium.ttf'),
  others: require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf'),
};
type FontName = keyof typeof FILES;

/** Words that are known, of each font; some 1 kB each. */
const MOST_WORDS = 4000;

const read = new Map<FontName, Font>();

function fontOf(name: FontName): Font {
  let font = read.get(name);
  if (!font) {
    font = remembering(fonts().openSync(FILES[name]) as Font);
    nameGlyphs(font);
    read.set(name, font);
  }
  return font;
}

/** Letters that stand for two or three, as “fi”: a reader is to be told the two. */
const isLigature = (code: number): boolean => code >= 0xfb00 && code <= 0xfb06;

/**
 * Gives every shape the letter it is told as to whoever reads the paper by machine. Else a shape is told as the first letter that it
 * was set for, whichever that was, on every paper that follows.
 */
function nameGlyphs(font: Font): void {
  for (const code of font.characterSet.toSorted((a, b) => a - b))
    if (!isLigature(code)) font.glyphForCodePoint(code);
}

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

/** A piece of a text that one font has all letters of. */
interface Run {
  text: string;
  font: FontName;
}

const PLAIN = /^[\x20-\x7e]*$/;

/**
 * A text in pieces by who has their letters; a letter that neither has is left to the one in hand. An accent that was typed by itself
 * is put onto its letter first, or it would stand in another piece than that.
 */
function runsOf(text: string, inHand: FontName): Run[] {
  if (PLAIN.test(text)) return [{ text, font: inHand }];
  const runs: Run[] = [];
  for (const letter of text.normalize('NFC')) {
    const has = (name: FontName) =>
      fontOf(name).hasGlyphForCodePoint(letter.codePointAt(0) as number);
    const font = has(inHand) || !has('others') ? inHand : 'others';
    const last = runs.at(-1);
    if (last?.font === font) last.text += letter;
    else runs.push({ text: letter, font });
  }
  return runs;
}

/** What pdfkit sets a line with, and what it has measured of it; its types leave both out. */
type Measured = PDFKit.Mixins.TextOptions & { lineWidth?: number; textWidth?: number };
interface Setting {
  _fragment: (text: string, x: number, y: number, options: Measured) => void;
  _font: { ascender: number };
  _fontSize: number;
}

/** Gives a paper its fonts by name, and lets it set what a font has no letters for in another. */
export function setIn(doc: Document): void {
  const names = Object.keys(FILES) as FontName[];
  // A font that is read already is taken as it is, which its types do not say yet.
  for (const name of names)
    doc.registerFont(name, fontOf(name) as unknown as PDFKit.Mixins.PDFFontSource);
  let inHand: FontName = 'text';
  const choose = doc.font.bind(doc) as (name: string) => Document;
  doc.font = ((name: FontName) => {
    inHand = name;
    return choose(name);
  }) as Document['font'];

  /** Does something in another font, and goes on in the one in hand. */
  const within = <T>(font: FontName, act: () => T): T => {
    choose(font);
    const done = act();
    choose(inHand);
    return done;
  };
  const width = doc.widthOfString.bind(doc);
  /** A text that the font in hand has all letters of, as it is set; null where another font has some. */
  const plainOf = ([first, ...more]: readonly Run[]): string | null =>
    first?.font === inHand && more.length === 0 ? first.text : null;
  doc.widthOfString = (text, options) => {
    const runs = runsOf(text, inHand);
    const plain = plainOf(runs);
    return plain === null
      ? runs.reduce((sum, run) => sum + within(run.font, () => width(run.text, options)), 0)
      : width(plain, options);
  };
  const setting = doc as unknown as Setting;
  const fragment = setting._fragment.bind(doc);
  setting._fragment = (text, x, y, options) => {
    const runs = runsOf(text, inHand);
    const plain = plainOf(runs);
    if (plain !== null) return fragment(plain, x, y, options);
    // One baseline for all, and one side that they begin from.
    const baseline = (-setting._font.ascender / 1000) * setting._fontSize;
    const { align, lineWidth = 0, ...rest } = options;
    const free = lineWidth - doc.widthOfString(text.trimEnd(), options);
    let left = x + (align === 'right' ? free : align === 'center' ? free / 2 : 0);
    for (const run of runs)
      within(run.font, () => {
        const textWidth = width(run.text, options);
        fragment(run.text, left, y, { ...rest, baseline, textWidth });
        left += textWidth;
      });
  };
  doc.font('text');
}
