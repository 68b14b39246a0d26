import { createHash, randomUUID } from 'node:crypto';
import { literal, Op, type Order, QueryTypes, type Transaction } from 'sequelize';
import type { AddNote, AddPicture, NoteAbout, TakeBackNote } from '../../../contract/asks.ts';
import type { NoteWire, PictureRoom, PictureWire } from '../../../contract/paperWire.ts';
import { type Context, type Signed, once, parsed, readRules } from '../../context.ts';
import { conflict, HttpProblem, invalid, notFound } from '../../http/problem.ts';
import { keepPicture, NoPicture } from '../../store/pictureFiles.ts';
import type { NoteRow } from '../../store/rows.ts';
import type { Store } from '../../store/store.ts';

/** Notes in the margin: a line of text, a picture, or both, at any time and on anything. */

/** Of the same moment, the one that came first. */
const OLDEST_FIRST: Order = [['at', 'ASC'], literal('rowid')];
const BYTES_PER_GB = 1e9;

const wireOf = ({ batteryId: _, picture, takenBack, ...row }: NoteRow): NoteWire => ({
  ...row,
  picture: parsed(picture) as NoteWire['picture'],
  takenBack: parsed(takenBack) as NoteWire['takenBack'],
});

/** Everything noted on a battery, oldest first; what was taken back too, marked. */
export async function notesOf(store: Store, batteryId: string): Promise<NoteWire[]> {
  const rows = await store.tables.notes.findAll({
    where: { batteryId },
    order: OLDEST_FIRST,
    raw: true,
  });
  return rows.map(wireOf);
}

/** Notes that stand, of a job or of a claim, oldest first. */
export async function standingNotes(
  store: Store,
  { jobId = null, claimId = null }: { jobId?: string | null; claimId?: string | null },
): Promise<NoteWire[]> {
  const about = [...(jobId ? [{ jobId }] : []), ...(claimId ? [{ claimId }] : [])];
  const rows = await store.tables.notes.findAll({
    where: { [Op.or]: about },
    order: OLDEST_FIRST,
    raw: true,
  });
  return rows.map(wireOf).filter((n) => n.takenBack === null);
}

export async function addNote(
  context: Context,
  tag: string,
  body: AddNote,
): Promise<{ id: string }> {
  const answer = await once(context, body, async (signed) => {
    const { commandId: _id, by: _by, text, ...about } = body;
    const note = { about, text, picture: null, at: signed.now };
    return { id: await write(context.store, tag, note, signed) };
  });
  context.changes.announce({ topic: 'notes', tag });
  return answer;
}

/**
 * Keeps a picture. The same request again gets the first answer, and the same picture is one file.
 *
 * @param sent the file, before it is re-encoded
 */
export async function addPicture(
  context: Context,
  tag: string,
  { text = '', takenAt, ...query }: AddPicture,
  sent: Uint8Array,
): Promise<{ id: string; name: string }> {
  const { store } = context;
  const { bytes, roomBytes } = await pictureRoom(store);
  if (bytes + sent.length > roomBytes)
    throw new HttpProblem(413, {
      code: 'invalid',
      message: `The room for pictures is full: ${(roomBytes / BYTES_PER_GB).toFixed(0)} GB. A lead can make it larger under House rules, The shop.`,
      fields: {},
    });
  const picture = await keepPicture(store.file, sent).catch((error: unknown) => {
    throw error instanceof NoPicture ? invalid('picture', error.message) : error;
  });
  const body = {
    ...query,
    text,
    takenAt,
    content: createHash('sha256').update(sent).digest('hex'),
  };
  const answer = await once(context, body, async (signed) => {
    const { commandId: _id, by: _by, ...about } = query;
    const note = { about, text, picture, at: Math.min(signed.now, takenAt ?? signed.now) };
    return { id: await write(store, tag, note, signed), name: picture.name };
  });
  context.changes.announce({ topic: 'notes', tag });
  return answer;
}

interface Written {
  about: NoteAbout;
  text: string;
  picture: PictureWire | null;
  at: number;
}

async function write(
  store: Store,
  tag: string,
  { about, text, picture, at }: Written,
  { by, transaction, log }: Signed,
): Promise<string> {
  const { batteries, notes } = store.tables;
  const battery = await batteries.findOne({ where: { tag }, raw: true, transaction });
  if (!battery) throw notFound(`Battery ${tag}`);
  await demandItsOwn(store, battery.id, about, transaction);
  const { jobId = null, stepId = null, readingId = null, claimId = null } = about;
  const id = randomUUID();
  await notes.create(
    {
      id,
      batteryId: battery.id,
      jobId,
      stepId,
      readingId,
      claimId,
      at,
      by: by.id,
      text,
      picture,
      takenBack: null,
    },
    { transaction },
  );
  await log({ type: 'note.written', noteId: id, text, picture: picture?.name ?? null }, battery.id);
  return id;
}

/** What a note is about belongs to its battery. */
async function demandItsOwn(
  { tables }: Store,
  batteryId: string,
  { jobId, readingId, claimId }: NoteAbout,
  transaction: Transaction,
): Promise<void> {
  const where = (id: string) => ({ where: { id, batteryId }, transaction });
  if (jobId && !(await tables.jobs.count(where(jobId)))) throw notFound('That job of this battery');
  if (readingId && !(await tables.readings.count(where(readingId))))
    throw notFound('That reading of this battery');
  if (claimId && !(await tables.claims.count(where(claimId))))
    throw notFound('That claim of this battery');
}

/** Takes a note back: it is shown no more, and stays on record with who, when and why. */
export async function takeBackNote(
  context: Context,
  id: string,
  body: TakeBackNote,
): Promise<{ id: string }> {
  const { notes } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const note = await notes.findByPk(id, { raw: true, transaction });
    if (!note) throw notFound('That note');
    if (parsed(note.takenBack)) throw conflict('It was taken back already.');
    await notes.update(
      { takenBack: { at: now, by: by.id, why: body.why } },
      { where: { id }, transaction },
    );
    await log(
      {
        type: 'note.taken-back',
        noteId: id,
        why: body.why,
        picture: (parsed(note.picture) as PictureWire | null)?.name ?? null,
      },
      note.batteryId,
    );
    return { id };
  });
  context.changes.announce({ topic: 'notes' });
  return answer;
}

/** How full the room for pictures is. Pictures that were taken back count: they are still there. */
export async function pictureRoom(store: Store): Promise<PictureRoom> {
  const [row] = await store.sequelize.query<{ count: number; bytes: number | null }>(
    `SELECT COUNT(*) AS count, SUM(bytes) AS bytes FROM
       (SELECT json_extract(picture, '$.name') AS name, MAX(json_extract(picture, '$.bytes')) AS bytes FROM notes WHERE json_extract(picture, '$.name') IS NOT NULL GROUP BY name)`,
    { type: QueryTypes.SELECT },
  );
  const { picturesGb } = await readRules(store);
  return {
    count: row?.count ?? 0,
    bytes: row?.bytes ?? 0,
    roomBytes: picturesGb * BYTES_PER_GB,
  };
}
