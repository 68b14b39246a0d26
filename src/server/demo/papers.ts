import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { NoteAbout } from '../../contract/asks.ts';
import type { ClaimFacts, ClaimStatus } from '../../core/claims/claim.ts';
import type { Context } from '../context.ts';
import { batteryByTag } from '../resources/batteries/batteries.ts';
import { changeClaim, openClaim } from '../resources/claims/claims.ts';
import { addNote, addPicture } from '../resources/notes/notes.ts';
import { putOnHold } from '../resources/results/holds.ts';
import type { Store } from '../store/store.ts';

/** Notes, pictures, claims and holds of the demo shop. */

/** A line of `papers.json`: who did it, and when, in minutes from the demo's start. */
type PaperStory = { minute: number; by: string } & (
  | { hold: { what: 'model' | 'lot'; code: string; why: string } }
  | { tag: string; claim: ClaimFacts }
  | { tag: string; becomes: ClaimStatus; text: string }
  /** On the battery, its newest job, or its newest reading of a role; the picture is one of `pictures/`. */
  | { tag: string; at: 'battery' | 'job' | 'load'; note: string; picture?: string }
);

/** Plays them, oldest first. */
export async function seedPapers(
  context: Context,
  folder: URL,
  setMinute: (minute: number) => void,
): Promise<void> {
  const stories = JSON.parse(
    await readFile(new URL('papers.json', folder), 'utf8'),
  ) as PaperStory[];
  for (const story of stories) {
    setMinute(story.minute);
    await play(context, folder, story);
  }
}

async function play(context: Context, folder: URL, story: PaperStory): Promise<void> {
  const { store } = context;
  const write = { commandId: randomUUID(), by: story.by };
  if ('hold' in story) {
    await putOnHold(context, { ...write, ...story.hold });
    return;
  }
  const battery = await batteryByTag(store, story.tag);
  if ('claim' in story) {
    const jobId = await newestJob(store, battery.id);
    await openClaim(context, story.tag, { ...write, jobId, claim: story.claim });
  } else if ('becomes' in story) {
    const claim = await store.tables.claims.findOne({
      where: { batteryId: battery.id },
      order: [['number', 'DESC']],
      raw: true,
    });
    const { becomes: status, text } = story;
    await changeClaim(context, claim?.id ?? '', { ...write, status, text });
  } else {
    const about = await aboutOf(store, battery.id, story.at);
    if (!story.picture) await addNote(context, story.tag, { ...write, ...about, text: story.note });
    else {
      const bytes = await readFile(new URL(`pictures/${story.picture}.jpg`, folder));
      await addPicture(context, story.tag, { ...write, ...about, text: story.note }, bytes);
    }
  }
}

async function newestJob({ tables }: Store, batteryId: string): Promise<string | null> {
  const job = await tables.jobs.findOne({
    where: { batteryId },
    order: [['openedAt', 'DESC']],
    attributes: ['id'],
    raw: true,
  });
  return job?.id ?? null;
}

async function aboutOf(
  store: Store,
  batteryId: string,
  at: 'battery' | 'job' | 'load',
): Promise<NoteAbout> {
  if (at === 'battery') return {};
  const jobId = (await newestJob(store, batteryId)) ?? undefined;
  if (at === 'job') return jobId === undefined ? {} : { jobId };
  const reading = await store.tables.readings.findOne({
    where: { batteryId, role: at },
    order: [['at', 'DESC']],
    attributes: ['id', 'stepId'],
    raw: true,
  });
  return { ...(jobId ? { jobId } : {}), ...(reading ? { readingId: reading.id } : {}) };
}
