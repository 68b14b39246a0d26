import type { NoteWire } from '../../../contract/paperWire.ts';
import type { ClaimPaper } from '../../../core/claims/claimPaper.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { formatStamp } from '../../../core/quantities/format.ts';
import { pictureRows } from './pictureRows.ts';
import { begin, finish, INK, MARGIN, row, rule, section, SIZES, SOFT, widthOf } from './page.ts';

/** Readings printed; a claim is read by somebody in a hurry, and all of them are in the shop's record. */
const MOST_READINGS = 24;
const MOST_NOTES = 6;
const MOST_PICTURES = 6;

/** A claim on two pages: what is wrong with what, who decided, what was read; then the pictures. */
export async function claimDocument(
  paper: ClaimPaper,
  notes: readonly NoteWire[],
  {
    rules,
    printedAt,
    file,
    nameOf,
  }: { rules: HouseRules; printedAt: number; file: string; nameOf: (person: string) => string },
): Promise<Buffer> {
  const doc = begin(SIZES[rules.paper], MARGIN, paper.title);
  const width = widthOf(doc);
  doc
    .font('strong')
    .fontSize(22)
    .fillColor(INK)
    .text(paper.title, MARGIN, MARGIN, { structType: 'H1' });
  doc
    .font('text')
    .fontSize(10)
    .fillColor(SOFT)
    .text(`${rules.shopName} · ${formatStamp(printedAt, rules)}`);
  rule(doc);
  doc.font('text').fontSize(12).fillColor(INK).text(paper.what, { width });
  doc.moveDown(0.3);
  doc.font('strong').fontSize(11).text(paper.asks);
  section(doc, 'The battery');
  for (const { label, value } of paper.facts) row(doc, [label, value], [110, width - 110]);
  section(doc, 'Decision');
  doc.font('text').fontSize(9.5).fillColor(INK).text(paper.decision, MARGIN, undefined, { width });

  section(doc, 'Readings');
  if (paper.readings.length === 0)
    doc.font('text').fontSize(9.5).fillColor(SOFT).text('None: it was refused before it was read.');
  const readings = paper.readings.slice(-MOST_READINGS);
  for (const r of readings)
    row(doc, [r.when, r.what, r.values, r.remark], [110, 80, 180, width - 370], r.corrected);
  const left = paper.readings.length - readings.length;
  if (left > 0)
    doc
      .font('text')
      .fontSize(9)
      .fillColor(SOFT)
      .text(`${left} earlier readings are in our record; ask for them.`, MARGIN);

  const texts = notes.filter((n) => n.picture === null).slice(-MOST_NOTES);
  if (texts.length > 0) section(doc, 'Notes');
  for (const n of texts)
    row(doc, [formatStamp(n.at, rules), `${n.text} (${nameOf(n.by)})`], [110, width - 110]);
  await pictureRows(doc, notes.filter((n) => n.picture !== null).slice(-MOST_PICTURES), {
    file,
    wall: rules,
    nameOf,
    across: 2,
    height: 200,
    title: 'Pictures',
  });
  return finish(doc);
}
