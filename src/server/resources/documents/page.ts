import type PDFDocument from 'pdfkit';
import type { Paper } from '../../../core/house/rules.ts';
import { barsOf, squareOf } from '../../codes.ts';
import { pdfDocument } from '../../packages.ts';
import { setIn } from './fonts.ts';

/** What every paper of the shop is set with: fonts, inks, rows that break over pages. */

/** Codes have all the contrast there is. */
const BLACK = '#000000';
export const INK = '#211C17';
export const SOFT = '#6B6154';
const LINE = '#D9CDB8';
export const STOP = '#98281D';
export const MARGIN = 48;
export const MM = 2.8346;
/** Between two columns of a table, pt. */
const COLUMN_GAP = 8;

/** Width between the margins, pt. */
export const widthOf = (doc: Document) => doc.page.width - 2 * MARGIN;

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
  setIn(doc);
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

interface Place {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A text as Code 128, over the whole of its place; room beside it is the paper's. */
export function barcode(doc: Document, text: string, { x, y, width, height }: Place): void {
  const bars = barsOf(text);
  const unit = width / bars.reduce((sum, wide) => sum + wide, 0);
  picture(doc, `Code 128: ${text}`, () => {
    let left = x;
    bars.forEach((wide, i) => {
      if (i % 2 === 0) doc.rect(left, y, wide * unit, height);
      left += wide * unit;
    });
    doc.fill(BLACK);
  });
}

/** A text as QR, as wide as high; room beside it is the paper's. */
export function squareCode(
  doc: Document,
  text: string,
  { x, y, width }: Omit<Place, 'height'>,
): void {
  const { side, isDark } = squareOf(text);
  const unit = width / side;
  picture(doc, `QR: ${text}`, () => {
    for (let row = 0; row < side; row++)
      for (let from = 0, to: number; from < side; from = to + 1) {
        to = from;
        while (isDark(to, row)) to++;
        // One shape for a run of dots: no reader sees a seam between them.
        if (to > from) doc.rect(x + from * unit, y + row * unit, (to - from) * unit, unit);
      }
    doc.fill(BLACK);
  });
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

/** Which cell of a row is struck through: what was read, after when and where. */
const STRUCK_CELL = 2;

/** Cells side by side; the row is as high as its tallest. */
export function row(
  doc: Document,
  cells: readonly string[],
  widths: readonly number[],
  struck = false,
): void {
  doc.font('text').fontSize(9.5);
  const rooms = widths.map((wide) => wide - COLUMN_GAP);
  const isStruck = (i: number) => struck && i === STRUCK_CELL;
  // Most cells are a line, and need not be broken into lines, twice, to know it; a stroke goes by what the breaking measured.
  const wraps = cells.map(
    (c, i) => isStruck(i) || c.includes('\n') || doc.widthOfString(c) > (rooms[i] ?? 0),
  );
  const lineHeight = doc.currentLineHeight(true);
  const height = Math.max(
    ...cells.map((c, i) =>
      wraps[i] ? doc.heightOfString(c || ' ', { width: rooms[i] ?? 0 }) : lineHeight,
    ),
  );
  if (doc.y + height > doc.page.height - MARGIN) doc.addPage();
  const structure = tableRow(doc);
  const top = doc.y;
  let x = MARGIN;
  cells.forEach((cell, i) => {
    doc.fillColor(i === 0 ? SOFT : INK).text(cell, x, top, {
      ...(wraps[i] ? { width: rooms[i] } : { lineBreak: false }),
      strike: isStruck(i),
      structParent: structure,
      structType: i === 0 ? 'TH' : 'TD',
    });
    x += widths[i] as number;
  });
  doc.x = MARGIN;
  doc.y = top + height + 2;
}
