import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type PDFDocument from 'pdfkit';
import type { Paper } from '../../../core/house/rules.ts';
import { barcodes, pdfDocument } from '../../packages.ts';
import { sfntFromWoff } from './sfnt.ts';

/** What every paper of the shop is set with: fonts, inks, rows that break over pages. */

const require = createRequire(import.meta.url);
const FILES = {
  text: require.resolve('@fontsource/barlow/files/barlow-latin-400-normal.woff'),
  strong: require.resolve('@fontsource/barlow/files/barlow-latin-600-normal.woff'),
  label:
    require.resolve('@fontsource/barlow-condensed/files/barlow-condensed-latin-500-normal.woff'),
};
/** Unpacked at the first paper, and set from memory in every other. */
let fonts: [name: string, font: Buffer][] | null = null;
const fontsOfPapers = (): [string, Buffer][] =>
  (fonts ??= Object.entries(FILES).map(([name, file]) => [name, sfntFromWoff(readFileSync(file))]));
export const INK = '#211C17';
export const SOFT = '#6B6154';
const LINE = '#D9CDB8';
export const STOP = '#98281D';
export const MARGIN = 48;
export const MM = 2.8346;

/** Width between the margins, pt. */
export const widthOf = (doc: Document) => doc.page.width - 2 * MARGIN;

export function tagPng(tag: string, code: 'code128' | 'qr' = 'code128'): Promise<Buffer> {
  return code === 'qr'
    ? barcodes().toBuffer({ bcid: 'qrcode', text: tag, scale: 6 })
    : barcodes().toBuffer({ bcid: 'code128', text: tag, scale: 4, height: 12, includetext: false });
}

export type Document = InstanceType<typeof PDFDocument>;

/** pdfkit's name of a paper. */
export const SIZES: Readonly<Record<Paper, string>> = { A4: 'A4', Letter: 'LETTER' };

type Structure = ReturnType<Document['struct']>;

/** How a paper is told to whoever does not see it: its root, and the table that rows are being added to. */
const structures = new WeakMap<Document, { root: Structure; table: Structure | null }>();

/**
 * Begins a paper: tagged, in English, with its title, so that it can be read aloud. Every text belongs to its
 * structure, as a paragraph unless it says what else it is (`structType`).
 */
export function begin(size: string | [number, number], margin: number, title: string): Document {
  const doc = new (pdfDocument())({
    size,
    margin,
    lang: 'en-GB',
    tagged: true,
    displayTitle: true,
    pdfVersion: '1.7',
    info: { Title: title, Producer: 'Cork Ember' },
  });
  for (const [name, font] of fontsOfPapers()) doc.registerFont(name, font);
  const root = doc.struct('Document', { title });
  doc.addStructure(root);
  structures.set(doc, { root, table: null });
  const plain = doc.text.bind(doc);
  doc.text = ((
    text: string,
    x?: number | PDFKit.Mixins.TextOptions,
    y?: number,
    options: PDFKit.Mixins.TextOptions = {},
  ) =>
    typeof x === 'object'
      ? plain(text, { structParent: root, ...x })
      : plain(text, x, y, { structParent: root, ...options })) as Document['text'];
  return doc;
}

/** A picture with what it shows in words. */
export function picture(doc: Document, alt: string, draw: () => void): void {
  structures.get(doc)?.root.add(doc.struct('Figure', { alt }, draw));
}

/** Lines that carry no meaning. */
function ornament(doc: Document, draw: () => void): void {
  doc.markContent('Artifact', { type: 'Layout' });
  draw();
  doc.endMarkedContent();
}

export function finish(doc: Document): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const parts: Buffer[] = [];
    doc.on('data', (part: Buffer) => parts.push(part));
    doc.on('end', () => resolve(Buffer.concat(parts)));
    doc.on('error', reject);
    structures.get(doc)?.root.end();
    doc.end();
  });
}

export function rule(doc: Document): void {
  doc.moveDown(0.5);
  ornament(doc, () =>
    doc
      .moveTo(MARGIN, doc.y)
      .lineTo(MARGIN + widthOf(doc), doc.y)
      .lineWidth(0.75)
      .strokeColor(LINE)
      .stroke(),
  );
  doc.moveDown(0.5);
  doc.x = MARGIN;
}

export function section(doc: Document, title: string): void {
  doc.moveDown(0.8);
  const structure = structures.get(doc);
  if (structure) structure.table = null;
  doc
    .font('strong')
    .fontSize(11)
    .fillColor(INK)
    .text(title, MARGIN, undefined, { structType: 'H2' });
  doc.moveDown(0.2);
}

/** A row of the table in hand; the first after a section begins one. */
function tableRow(doc: Document): Structure {
  const structure = structures.get(doc);
  if (!structure) throw new Error('A paper is begun before rows are set on it.');
  if (!structure.table) {
    structure.table = doc.struct('Table');
    structure.root.add(structure.table);
  }
  const line = doc.struct('TR');
  structure.table.add(line);
  return line;
}

/** Cells side by side; the row is as high as its tallest. */
export function row(
  doc: Document,
  cells: readonly string[],
  widths: readonly number[],
  struck = false,
): void {
  doc.font('text').fontSize(9.5);
  const height = Math.max(
    ...cells.map((c, i) => doc.heightOfString(c || ' ', { width: (widths[i] as number) - 8 })),
  );
  if (doc.y + height > doc.page.height - MARGIN) doc.addPage();
  const line = tableRow(doc);
  const top = doc.y;
  let x = MARGIN;
  cells.forEach((cell, i) => {
    doc.fillColor(i === 0 ? SOFT : INK).text(cell, x, top, {
      width: (widths[i] as number) - 8,
      strike: struck && i === 2,
      structParent: line,
      structType: i === 0 ? 'TH' : 'TD',
    });
    x += widths[i] as number;
  });
  doc.x = MARGIN;
  doc.y = top + height + 2;
}
