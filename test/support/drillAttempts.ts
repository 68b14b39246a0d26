import type { DrillAct } from '../../src/core/drill/acts.ts';
import type { Technician } from './browser.ts';

/** Puts a go at a case into the browser, with acts that were done already, as the pages keep it. @returns its id */
export async function putAttempt(
  t: Technician,
  code: string,
  acts: readonly DrillAct[],
  personId = 'ilse',
): Promise<string> {
  const id = `put-${code}`;
  const attempt = { id, code, personId, startedAt: 1, endedAt: null, acts, result: null };
  await t.page.evaluate(
    ({ attempt: kept }) =>
      new Promise<void>((resolve, reject) => {
        const opening = indexedDB.open('cork-ember-drill');
        opening.onupgradeneeded = () => opening.result.createObjectStore('attempts');
        opening.onerror = () => reject(new Error('No store.'));
        opening.onsuccess = () => {
          const writing = opening.result.transaction('attempts', 'readwrite');
          writing.objectStore('attempts').put(kept, kept.id);
          writing.oncomplete = () => {
            opening.result.close();
            resolve();
          };
        };
      }),
    { attempt },
  );
  return id;
}
