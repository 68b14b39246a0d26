import { createHash, randomUUID } from 'node:crypto';
import { mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { PictureWire } from '../../contract/paperWire.ts';
import { pictures } from '../packages.ts';

/**
 * Pictures lie beside the data file, each named by what is in it, whole and small. A picture is decoded and written
 * anew before it is kept: what it says of phone, place and owner is gone, and nothing but a picture is left.
 */

/** Longest side, px. */
const LONGEST = 2000;
const SMALL_LONGEST = 360;
const QUALITY = 82;
/** A picture of more than this many pixels is a trap for a decoder, not a photograph. */
const MOST_PIXELS = 120e6;
/** Nobody is still writing a file that has lain half written for so long, ms. */
const STALE_MS = 3_600_000;
/** What phones and cameras write. Drawings and documents are none of it. */
const FORMATS = new Set(['jpeg', 'png', 'webp', 'heif', 'tiff', 'gif', 'jxl', 'jp2']);

/** What was sent cannot be kept as a picture. */
export class NoPicture extends Error {}

export const pictureFolder = (file: string): string => join(dirname(file), 'pictures');

export type PictureSize = 'full' | 'small';
/** Name of its file, whole or small. */
export const pictureFileName = (name: string, size: PictureSize): string =>
  size === 'full' ? name : name.replace('.jpg', '.small.jpg');

/** Where a picture of a data file lies. */
export const picturePath = (file: string, name: string, size: PictureSize): string =>
  join(pictureFolder(file), pictureFileName(name, size));

/**
 * Keeps a picture beside a data file. The same picture is kept once.
 *
 * @throws NoPicture with a sentence for whoever sent it
 */
export async function keepPicture(file: string, sent: Uint8Array): Promise<PictureWire> {
  const { data, info } = await rewritten(sent);
  const name = `${createHash('sha256').update(data).digest('hex')}.jpg`;
  const small = await pictures()(data)
    .resize({ width: SMALL_LONGEST, height: SMALL_LONGEST, fit: 'inside' })
    .jpeg({ quality: 75, mozjpeg: true })
    .toBuffer();
  await putPicture(file, pictureFileName(name, 'small'), small);
  await putPicture(file, name, data);
  return { name, width: info.width, height: info.height, bytes: data.length + small.length };
}

async function rewritten(sent: Uint8Array) {
  try {
    const { format } = await pictures()(sent, { limitInputPixels: MOST_PIXELS }).metadata();
    if (!FORMATS.has(format ?? '')) throw new NoPicture('That is no photograph.');
    return await pictures()(sent, { limitInputPixels: MOST_PIXELS, failOn: 'truncated' })
      .autoOrient()
      .resize({ width: LONGEST, height: LONGEST, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .jpeg({ quality: QUALITY, mozjpeg: true })
      .toBuffer({ resolveWithObject: true });
  } catch (error) {
    if (error instanceof NoPicture) throw error;
    throw new NoPicture(
      'This picture cannot be opened. Set the phone’s camera to JPEG (“most compatible”), and take it again.',
    );
  }
}

/** Writes a file of the folder, on the disk and under its name only when it is whole. */
export async function putPicture(file: string, name: string, data: Uint8Array): Promise<void> {
  const folder = pictureFolder(file);
  const to = join(folder, name);
  const there = await stat(to).catch(() => null);
  if (there?.size === data.length) return;
  await mkdir(folder, { recursive: true });
  const fresh = join(folder, `.${randomUUID()}`);
  const handle = await open(fresh, 'w');
  try {
    await handle.writeFile(data);
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(fresh, to);
  const held = await open(folder, 'r');
  try {
    await held.sync();
  } finally {
    await held.close();
  }
}

/** Names of everything kept, whole and small. */
export async function keptPictures(file: string): Promise<string[]> {
  const names = await readdir(pictureFolder(file)).catch(() => []);
  return names.filter((name) => /^[0-9a-f]{64}(\.small)?\.jpg$/.test(name)).sort();
}

/** Is a picture what its name says? Small ones follow from their whole one and are only looked at for being there. */
export function isWhole(name: string, data: Uint8Array): boolean {
  return (
    name.endsWith('.small.jpg') ||
    createHash('sha256').update(data).digest('hex') === name.replace('.jpg', '')
  );
}

export const readPicture = (file: string, name: string): Promise<Buffer> =>
  readFile(join(pictureFolder(file), name));

/** Takes away what was half written when the machine stopped. */
export async function sweepHalfWritten(file: string): Promise<void> {
  const folder = pictureFolder(file);
  for (const name of await readdir(folder).catch(() => []))
    if (name.startsWith('.') && Date.now() - (await stat(join(folder, name))).mtimeMs > STALE_MS)
      await rm(join(folder, name), { force: true });
}
