import { createStore, delMany, entries, set } from 'idb-keyval';
import { useSyncExternalStore } from 'react';
import type { NoteAbout } from '../../contract/asks.ts';
import type { Problem } from '../../contract/wire.ts';
import { pathTo } from './api.ts';
import { momentOfAct } from './benchClock.ts';
import { inDrill } from './drillPlace.ts';
import { newId } from './newId.ts';
import { queryClient } from './queries.ts';
import { outbox } from './sending.ts';

/**
 * Pictures on their way to the server. Each lies in the browser's own store before it is sent and until it is
 * answered, like a reading; but in a line of its own, so that no reading waits behind a picture on a slow network.
 */

export interface WaitingPicture {
  id: string;
  by: string;
  tag: string;
  about: NoteAbout;
  text: string;
  takenAt: number;
  data: Blob;
  /** The server's no. */
  refusal?: string;
}

/** Longest side that is kept, px; a phone's picture is made so small before it goes over the air. */
const LONGEST = 2000;
const SHRINK_OVER_BYTES = 700_000;
const QUALITY = 0.88;
const MOST_BYTES = 20 * 1024 * 1024;
const RETRY_MS = 5000;
/** A picture on a weak phone line takes its time. */
const LONGEST_MS = 120_000;
const JUDGED = [400, 403, 404, 409, 413, 422];

const lazyStore = () => createStore('cork-ember-pictures', 'waiting');
let store: ReturnType<typeof createStore> | undefined;
const shelf = () => (store ??= lazyStore());

let waiting: WaitingPicture[] = [];
const listeners = new Set<() => void>();
let sending = false;

function changed(next: WaitingPicture[]): void {
  waiting = next;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

/** Pictures this page still owes the server, oldest first, and those it was told no. */
export const useWaitingPictures = (): WaitingPicture[] =>
  useSyncExternalStore(
    subscribe,
    () => waiting,
    () => waiting,
  );

/** A picture made smaller, where it is large and the browser can read it; else unchanged. */
async function shrunk(file: Blob): Promise<Blob> {
  try {
    const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
    const scale = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height));
    if (scale === 1 && file.size <= SHRINK_OVER_BYTES) return file;
    const canvas = document.createElement('canvas');
    canvas.width = Math.round(bitmap.width * scale);
    canvas.height = Math.round(bitmap.height * scale);
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
    bitmap.close();
    const smaller = await new Promise<Blob | null>((resolve) =>
      canvas.toBlob(resolve, 'image/jpeg', QUALITY),
    );
    return smaller && smaller.size < file.size ? smaller : file;
  } catch {
    return file;
  }
}

/**
 * Keeps pictures here and sends them.
 *
 * @param about what they are of, besides the battery
 */
export async function addPictures(
  files: readonly Blob[],
  { tag, about, by, text = '' }: { tag: string; about: NoteAbout; by: string; text?: string },
): Promise<void> {
  // What is sent goes to the shop, and a case of the drill is none of it.
  if (inDrill) return;
  const takenAt = momentOfAct();
  for (const [i, file] of files.entries()) {
    const data = await shrunk(file);
    const picture: WaitingPicture = {
      id: newId(),
      by,
      tag,
      about,
      text,
      takenAt: takenAt + i,
      data,
    };
    if (data.size > MOST_BYTES) picture.refusal = 'It is larger than 20 MB.';
    await set(picture.id, picture, shelf()).catch(() => undefined);
    changed([...waiting, picture]);
  }
  void flushPictures();
}

export async function dismissPicture(id: string): Promise<void> {
  await delMany([id], shelf()).catch(() => undefined);
  changed(waiting.filter((p) => p.id !== id));
}

/** Sends what waits, oldest first. One whose reading has not got through yet waits for it. */
async function flushPictures(): Promise<void> {
  if (sending) return;
  sending = true;
  try {
    for (const picture of waiting) {
      if (picture.refusal !== undefined || !outbox.mayGo(picture.by)) continue;
      const owed = outbox.waiting().some((e) => e.body.commandId === picture.about.readingId);
      if (owed || !waiting.includes(picture)) continue;
      const came = await post(picture);
      if (came === 'later') return;
      if (came === 'kept') {
        await queryClient.invalidateQueries({ queryKey: ['notes', picture.tag] });
        await dismissPicture(picture.id);
      } else {
        const refused = { ...picture, refusal: came.message };
        await set(picture.id, refused, shelf()).catch(() => undefined);
        changed(waiting.map((p) => (p.id === picture.id ? refused : p)));
      }
    }
  } finally {
    sending = false;
  }
}

async function post(picture: WaitingPicture): Promise<'kept' | 'later' | Problem> {
  const { id, by, tag, about, text, takenAt, data } = picture;
  const path = pathTo('addPicture', {
    params: { tag },
    query: { commandId: id, by, ...about, takenAt, ...(text ? { text } : {}) },
  });
  try {
    const response = await fetch(path, {
      method: 'POST',
      headers: { 'Content-Type': data.type || 'application/octet-stream' },
      body: data,
      signal: AbortSignal.timeout(LONGEST_MS),
    });
    if (response.ok) return 'kept';
    const answer = (await response.json().catch(() => null)) as { error?: Problem } | null;
    return JUDGED.includes(response.status) && answer?.error ? answer.error : 'later';
  } catch {
    return 'later';
  }
}

/** Brings back what a closed page left here, and keeps trying while this one is open. */
export async function keepSendingPictures(): Promise<void> {
  const kept = await entries<string, WaitingPicture>(shelf()).catch(() => []);
  const known = new Set(waiting.map((p) => p.id));
  changed(
    [...kept.map(([, p]) => p).filter((p) => !known.has(p.id)), ...waiting].sort(
      (a, b) => a.takenAt - b.takenAt,
    ),
  );
  addEventListener('online', () => void flushPictures());
  setInterval(() => void flushPictures(), RETRY_MS);
  await flushPictures();
}
