import type { NoteWire } from '../../../contract/paperWire.ts';
import type { Battery, JobWire, SheetWire } from '../../../contract/wire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Sheet } from '../../../core/paper/sheetForm.ts';
import { formatStamp, type WallStyle } from '../../../core/quantities/format.ts';
import { pictureRows } from './pictureRows.ts';
import {
  barcode,
  begin,
  finish,
  INK,
  MARGIN,
  MM,
  row,
  rule,
  section,
  SIZES,
  SOFT,
  STOP,
  type Document,
  squareCode,
  widthOf,
} from './page.ts';

/** Side of the square code on a tag, points: 16 mm, each dot of it about 0.7 mm. */
const QR_PT = 46;

/** A single 62 × 29 mm tag: code, spoken tag, model, owner, the day it was taken in. */
export async function tagPdf(battery: Battery, rules: HouseRules): Promise<Buffer> {
  const doc = begin([62 * MM, 29 * MM], 8, battery.tag);
  const width = 62 * MM - 16;
  doc
    .font('strong')
    .fontSize(17)
    .fillColor(INK)
    .text(battery.tag, 8, 5, { lineBreak: false, structType: 'H1' });
  doc.font('label').fontSize(8).fillColor(SOFT).text(formatStamp(battery.takenInAt, rules), 8, 10, {
    width,
    align: 'right',
    lineBreak: false,
  });
  // A scanner reads the lines, a phone the square.
  barcode(doc, battery.tag, { x: 8, y: 27, width: width - QR_PT - 10, height: 26 });
  squareCode(doc, battery.tag, { x: 8 + width - QR_PT, y: 24, width: QR_PT });
  doc
    .font('text')
    .fontSize(8)
    .fillColor(INK)
    .text(`${battery.modelCode} · ${battery.owner}`, 8, 60, {
      width: width - QR_PT - 6,
      height: 10,
      ellipsis: true,
    });
  return finish(doc);
}

/** The handover sheet on the shop's paper. */
export async function sheetPdf(
  wire: JobWire,
  { sheet, keptAt, since }: SheetWire,
  rules: HouseRules,
  printedAt: number,
  margin: { notes: readonly NoteWire[]; file: string; nameOf: (person: string) => string },
): Promise<Buffer> {
  const { battery } = wire;
  const doc = begin(SIZES[rules.paper], MARGIN, `${battery.tag} handover sheet`);
  const WIDTH = widthOf(doc);

  doc
    .font('strong')
    .fontSize(26)
    .fillColor(INK)
    .text(battery.tag, MARGIN, MARGIN, { lineBreak: false, structType: 'H1' });
  barcode(doc, battery.tag, { x: MARGIN + WIDTH - 150, y: MARGIN, width: 150, height: 30 });
  doc
    .font('text')
    .fontSize(10)
    .fillColor(SOFT)
    .text(
      `For ${battery.owner} · date code ${battery.dateCode} · taken in ${formatStamp(battery.takenInAt, rules)}`,
      MARGIN,
      MARGIN + 36,
    );
  rule(doc);

  doc
    .font('strong')
    .fontSize(18)
    .fillColor(wire.state.refusal ? STOP : INK)
    .text(sheet.verdict, { structType: 'H2' });
  for (const reason of sheet.reasons) doc.font('text').fontSize(10).fillColor(INK).text(reason);
  if (since.length > 0) {
    section(doc, 'Since it was handed over');
    for (const line of since) doc.font('text').fontSize(10).fillColor(STOP).text(line, MARGIN);
  }
  headline(doc, sheet);
  for (const { label, value } of sheet.facts) row(doc, [label, value], [110, WIDTH - 110]);

  for (const { title, said, ended } of sheet.charges) {
    section(doc, title);
    said.forEach((line, i) => row(doc, [`${i + 1}`, line], [20, WIDTH - 20]));
    doc.font('text').fontSize(9.5).fillColor(SOFT).text(ended, MARGIN);
  }
  if (sheet.decisions.length > 0) {
    section(doc, 'Decided by the lead');
    for (const d of sheet.decisions)
      row(doc, [d.when, `${d.what}. Reason: ${d.reason} (${d.by})`], [110, WIDTH - 110]);
  }
  section(doc, 'Deviations');
  if (sheet.deviations.length === 0) doc.font('text').fontSize(9.5).fillColor(SOFT).text('None.');
  for (const d of sheet.deviations)
    row(doc, [d.when, `${d.what}. Reason: ${d.reason} (${d.by})`], [110, WIDTH - 110]);
  section(doc, 'Readings');
  for (const r of sheet.readings)
    row(doc, [r.when, r.what, r.values, r.remark], [110, 70, 190, WIDTH - 370], r.corrected);
  section(doc, 'Steps');
  for (const s of sheet.steps)
    row(doc, [s.when, s.title, s.remark, s.by], [110, 200, 95, WIDTH - 405]);
  if (sheet.notes.length > 0) {
    section(doc, 'Notes');
    for (const n of sheet.notes) row(doc, [n.when, `${n.text} (${n.by})`], [110, WIDTH - 110]);
  }
  await marginOf(doc, margin, rules);
  rule(doc);
  doc
    .font('text')
    .fontSize(8.5)
    .fillColor(SOFT)
    .text(
      `${rules.shopName}. ${printedWords(keptAt, printedAt, rules)} In a machine: negative off first, on last. The maker's instructions and local rules come first.`,
      MARGIN,
      doc.y,
      { width: WIDTH },
    );
  return finish(doc);
}

/** Notes and pictures of the job that stand: lines first, then the pictures, small. */
async function marginOf(
  doc: Document,
  {
    notes,
    file,
    nameOf,
  }: { notes: readonly NoteWire[]; file: string; nameOf: (person: string) => string },
  wall: HouseRules,
): Promise<void> {
  const lines = notes.filter((n) => n.picture === null);
  if (lines.length > 0) section(doc, 'Notes in the margin');
  for (const n of lines)
    row(doc, [formatStamp(n.at, wall), `${n.text} (${nameOf(n.by)})`], [110, widthOf(doc) - 110]);
  await pictureRows(doc, notes, {
    file,
    wall,
    nameOf,
    across: 4,
    height: 90,
    title: 'Pictures',
  });
}

/** When it was printed, and as of when it tells. */
function printedWords(keptAt: number | null, printedAt: number, wall: WallStyle): string {
  const printed = `Printed ${formatStamp(printedAt, wall)}`;
  return keptAt === null
    ? `${printed}.`
    : `${printed}, as it was kept on ${formatStamp(keptAt, wall)}.`;
}

function headline(doc: Document, sheet: Sheet): void {
  if (sheet.headline.length === 0) {
    doc.moveDown(0.6);
    return;
  }
  const top = doc.y + 8;
  const WIDTH = widthOf(doc);
  sheet.headline.forEach(({ label, value }, i) => {
    const x = MARGIN + (i * WIDTH) / 3;
    doc.font('strong').fontSize(20).fillColor(INK).text(value, x, top, { lineBreak: false });
    doc
      .font('label')
      .fontSize(9)
      .fillColor(SOFT)
      .text(label, x, top + 25, { lineBreak: false });
  });
  doc.x = MARGIN;
  doc.y = top + 44;
}
