import { stat, statfs } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { FileStanding } from '../../contract/wire.ts';
import { steadyWall } from '../clock.ts';
import { backupFolder, newestBackup } from './backups.ts';
import type { Store } from './store.ts';

/** Setting that is written again and again, to see that the file can be. */
export const LAST_WRITE = 'lastWrite';
/** Setting that holds what the last look through the whole file found wrong; null where it was sound. */
export const FILE_FAULT = 'fileFault';
/** Written every few seconds; older than this, it cannot be written. ms */
const WRITE_LATE_MS = 60_000;
const LITTLE_BYTES = 500 * 1024 * 1024;
/** Below this SQLite may fail at its next write. */
const NONE_BYTES = 20 * 1024 * 1024;
const BACKUP_OLD_MS = 3 * 86_400_000;

/** What stands in a setting; null where nothing does, or where it cannot be read. */
const settingOf = async (store: Store, key: string): Promise<unknown> =>
  store.tables.settings.findByPk(key).then(
    (row) => row?.value ?? null,
    () => null,
  );

/**
 * Is the file sound, can it be written, is there room, and how old is its last backup? What a person should see to is said in
 * sentences, the gravest first.
 *
 * @param asksForBackup a demo wants none
 */
export async function fileStanding(
  store: Store,
  file: string,
  asksForBackup: boolean,
): Promise<FileStanding> {
  const there = await stat(file).then(
    () => true,
    () => false,
  );
  const freeBytes = await statfs(dirname(file)).then(
    ({ bavail, bsize }) => bavail * bsize,
    () => 0,
  );
  const written = (await settingOf(store, LAST_WRITE)) as number | null;
  const fault = (await settingOf(store, FILE_FAULT)) as string | null;
  const backup = await newestBackup(backupFolder(file));
  const now = steadyWall();
  const late = written !== null && now - written > WRITE_LATE_MS;
  const warnings = [
    ...(there
      ? []
      : [
          'The data file is gone from its folder. Whatever is kept now is lost when the server stops: copy what is on the screens, then restore a backup.',
        ]),
    ...(fault === null
      ? []
      : [
          `A part of the data file cannot be read. Stop the server and put its last sound copy back: npm run restore. (${fault})`,
        ]),
    ...(late
      ? [`Nothing could be written for ${Math.round((now - written) / 1000)} s. Look at the disk.`]
      : []),
    ...(freeBytes < LITTLE_BYTES
      ? [
          `Only ${Math.floor(freeBytes / 1024 / 1024)} MB are free on its disk. When it is full, nothing is kept and nothing is charged.`,
        ]
      : []),
    ...(asksForBackup && backup !== null && now - backup.at > BACKUP_OLD_MS
      ? [
          `The last backup is ${Math.floor((now - backup.at) / 86_400_000)} days old. Look at the folder “backups” beside the data.`,
        ]
      : []),
  ];
  return {
    ok: there && fault === null && !late && freeBytes > NONE_BYTES,
    lastWriteAt: written,
    freeBytes,
    backupAt: backup?.at ?? null,
    warnings,
  };
}
