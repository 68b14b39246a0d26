import type { ReaderOptions } from 'zxing-wasm/reader';
import wasm from 'zxing-wasm/reader/zxing_reader.wasm?url';

/** Reads a QR or Code 128 off a picture: by the browser's own reader where it has one, by one in WebAssembly where not. */

interface OwnReader {
  detect(picture: HTMLVideoElement): Promise<{ rawValue: string }[]>;
}
type OwnReaderClass = {
  new (options: { formats: string[] }): OwnReader;
  getSupportedFormats(): Promise<string[]>;
};

const OWN = ['qr_code', 'code_128'];
const OPTIONS: ReaderOptions = {
  formats: ['QRCode', 'Code128'],
  tryHarder: true,
  maxNumberOfSymbols: 1,
};

let reader: Promise<(picture: HTMLVideoElement) => Promise<string | null>> | null = null;

/** What the code in a picture holds; null where none can be read. */
export async function readCode(picture: HTMLVideoElement): Promise<string | null> {
  reader ??= ownReader().then((own) => own ?? wasmReader());
  return (await reader)(picture);
}

async function ownReader() {
  const Own = (globalThis as { BarcodeDetector?: OwnReaderClass }).BarcodeDetector;
  if (!Own) return null;
  const formats = await Own.getSupportedFormats().catch(() => [] as string[]);
  if (!OWN.every((format) => formats.includes(format))) return null;
  const own = new Own({ formats: OWN });
  return async (picture: HTMLVideoElement) => (await own.detect(picture))[0]?.rawValue ?? null;
}

async function wasmReader() {
  const { prepareZXingModule, readBarcodes } = await import('zxing-wasm/reader');
  await prepareZXingModule({
    overrides: { locateFile: () => wasm },
    fireImmediately: true,
  });
  const canvas = document.createElement('canvas');
  const paper = canvas.getContext('2d', { willReadFrequently: true });
  return async (picture: HTMLVideoElement) => {
    canvas.width = picture.videoWidth;
    canvas.height = picture.videoHeight;
    if (!paper) return null;
    paper.drawImage(picture, 0, 0);
    const found = await readBarcodes(
      paper.getImageData(0, 0, canvas.width, canvas.height),
      OPTIONS,
    );
    return found.find((code) => code.isValid)?.text ?? null;
  };
}
