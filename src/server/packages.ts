import { createRequire } from 'node:module';
import type * as Barcodes from 'bwip-js/node';
import type * as Fonts from 'fontkit';
import type PDFDocument from 'pdfkit';
import type Sharp from 'sharp';

/**
 * Packages that a start does not need: loading them would be half of it. Each is loaded when it is first used, and soon after the
 * start at the latest (`loadPackages`), so that nobody waits for one.
 */

const require = createRequire(import.meta.url);

function lazily<T>(load: () => unknown): () => T {
  let loaded: { package: T } | null = null;
  return () => (loaded ??= { package: load() as T }).package;
}

/** Code 128 and QR. */
export const barcodes = lazily<typeof Barcodes>(() => require('bwip-js/node'));
/** Papers. */
export const pdfDocument = lazily<typeof PDFDocument>(() => require('pdfkit'));
/** What papers are set in. */
export const fonts = lazily<typeof Fonts>(() => require('fontkit'));
/** Pictures. */
export const pictures = lazily<typeof Sharp>(() => require('sharp'));

/** Loads what has not been used yet, a package at a time, so that nothing waits long. */
export async function loadPackages(): Promise<void> {
  for (const load of [pdfDocument, barcodes, pictures]) {
    await new Promise((resolve) => setTimeout(resolve, 50).unref());
    load();
  }
}
