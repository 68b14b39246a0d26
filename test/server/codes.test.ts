import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { inflateSync } from 'node:zlib';
import { expect } from 'chai';
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader';
import type { Battery } from '../../src/contract/wire.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { terminalQr } from '../../src/server/door/trustPage.ts';
import { tagPdf } from '../../src/server/resources/documents/documents.ts';
import { START } from '../support/battery.ts';

/** Pixels of a picture, light all over until something is drawn. */
class Raster {
  readonly data: Uint8ClampedArray;
  readonly colorSpace = 'srgb';
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Uint8ClampedArray(4 * width * height).fill(255);
  }

  /** A dark rectangle: its corner and its sides, px. */
  dark(x: number, y: number, wide: number, high: number): void {
    for (let row = Math.round(y); row < Math.round(y + high); row++)
      for (let column = Math.round(x); column < Math.round(x + wide); column++)
        this.data.fill(0, 4 * (row * this.width + column), 4 * (row * this.width + column) + 3);
  }

  /** What a reader that is not ours finds in it. */
  async codes(): Promise<[format: string, text: string][]> {
    const found = await readBarcodes(this as ImageData, { tryHarder: true });
    return found.map(({ format, text }) => [format, text]);
  }
}

/** A part of a paper in its own words; nothing of what is not packed. */
function unpacked(stream: string): string {
  try {
    return inflateSync(Buffer.from(stream, 'latin1')).toString('latin1');
  } catch {
    return '';
  }
}

/** A printed page as its filled rectangles draw it. @param scale px a point */
function printed(pdf: Buffer, width: number, height: number, scale: number): Raster {
  const page = new Raster(Math.ceil(width * scale), Math.ceil(height * scale));
  for (const [, stream] of pdf.toString('latin1').matchAll(/stream\r?\n([\s\S]*?)endstream/g)) {
    for (const [, ...sides] of unpacked(stream!).matchAll(
      /([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) re/g,
    )) {
      const [x, y, wide, high] = sides.map((side) => Number(side) * scale) as [
        number,
        number,
        number,
        number,
      ];
      page.dark(x, y, wide, high);
    }
  }
  return page;
}

describe('codes', () => {
  before(async () => {
    const wasm = createRequire(import.meta.url).resolve('zxing-wasm/reader/zxing_reader.wasm');
    const { buffer } = new Uint8Array(readFileSync(wasm));
    await prepareZXingModule({ overrides: { wasmBinary: buffer }, fireImmediately: true });
  });

  for (const tag of ['LK-0399', 'A1', 'CE-0002', 'RESCUE-BEACON-12345', '7'])
    it(`on the tag of ${tag}: lines and a square, both of which read as it`, async () => {
      const battery = {
        tag,
        modelCode: 'LF-A12',
        owner: 'Harbour crane',
        takenInAt: START,
      } as Battery;
      // 62 × 29 mm, at 16 px a point: the narrowest bar of the longest is some px wide.
      const page = printed(await tagPdf(battery, DEFAULT_RULES), 175.75, 82.2, 16);
      expect(await page.codes()).to.have.deep.members([
        ['Code128', tag],
        ['QRCode', tag],
      ]);
    });

  it('in a terminal, light on dark', async () => {
    const address = 'https://192.168.178.20:4700/phone';
    const lines = terminalQr(address).split('\n');
    const dot = 6;
    const side = (lines[0]!.length + 4) * dot;
    const screen = new Raster(side, (2 * lines.length + 4) * dot);
    lines.forEach((line, row) =>
      [...line].forEach((letter, column) => {
        const [above, below] = [' ▄'.includes(letter), ' ▀'.includes(letter)];
        if (above) screen.dark((column + 2) * dot, (2 * row + 2) * dot, dot, dot);
        if (below) screen.dark((column + 2) * dot, (2 * row + 3) * dot, dot, dot);
      }),
    );
    expect(await screen.codes()).to.deep.equal([['QRCode', address]]);
  });
});
