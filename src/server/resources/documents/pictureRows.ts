import type { NoteWire } from '../../../contract/paperWire.ts';
import { formatStamp, type WallStyle } from '../../../core/quantities/format.ts';
import { pictureFileName, readPicture } from '../../store/pictureFiles.ts';
import { type Document, INK, MARGIN, picture, section, SOFT, widthOf } from './page.ts';

/** How notes and their pictures are set on a paper: text as lines, pictures side by side. */

const GAP = 10;
const CAPTION = 24;
/** On paper a picture is as sharp as an office printer: larger ones are printed from the whole file. */
const LARGE_PT = 200;

interface Setting {
  file: string;
  wall: WallStyle;
  nameOf: (person: string) => string;
  /** Pictures beside each other. */
  across: number;
  /** Height of a picture, points. */
  height: number;
  title: string;
}

/** Sets the pictures of notes in a grid. A file that is missing is said to be missing. */
export async function pictureRows(
  doc: Document,
  notes: readonly NoteWire[],
  { file, wall, nameOf, across, height, title }: Setting,
): Promise<void> {
  const pictured = notes.filter((n) => n.picture !== null);
  if (pictured.length === 0) return;
  const width = (widthOf(doc) - (across - 1) * GAP) / across;
  const high = height + CAPTION;
  if (doc.y + high + 30 > doc.page.height - MARGIN) doc.addPage();
  section(doc, title);
  let top = doc.y;
  for (const [i, note] of pictured.entries()) {
    const column = i % across;
    if (column === 0 && i > 0) top += high + GAP;
    if (column === 0 && top + high > doc.page.height - MARGIN) {
      doc.addPage();
      top = MARGIN;
    }
    const x = MARGIN + column * (width + GAP);
    const said = `${formatStamp(note.at, wall)}, ${nameOf(note.by)}${note.text ? `: ${note.text}` : ''}`;
    const { name } = note.picture as NonNullable<NoteWire['picture']>;
    const data = await readPicture(
      file,
      pictureFileName(name, height < LARGE_PT ? 'small' : 'full'),
    ).catch(() => null);
    if (data)
      picture(doc, said, () =>
        doc.image(data, x, top, { fit: [width, height], align: 'center', valign: 'center' }),
      );
    else
      doc
        .font('text')
        .fontSize(9)
        .fillColor(INK)
        .text('The file of this picture is missing.', x, top, { width });
    doc
      .font('text')
      .fontSize(8)
      .fillColor(SOFT)
      .text(said, x, top + height + 2, { width, height: CAPTION - 2, ellipsis: true });
  }
  doc.x = MARGIN;
  doc.y = top + high + 4;
}
