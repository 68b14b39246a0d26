import { barcodes } from './packages.ts';

/** Codes that machines read: as drawings for pages, and as shapes, which a paper and a terminal draw each in its own way. */

/** Code 128 of a text as a drawing. */
export const barsSvg = (text: string): string =>
  barcodes().toSVG({
    bcid: 'code128',
    text,
    height: 12,
    includetext: false,
    paddingwidth: 2,
    paddingheight: 2,
  });

/** A QR of a text as a drawing, for a phone; so many dots of light stand around it. */
export const squareSvg = (text: string, light: number): string =>
  barcodes().toSVG({ bcid: 'qrcode', text, paddingwidth: light, paddingheight: light });

/** Code 128 of a text: how wide each bar and each gap is, bar first, in widths of the narrowest. */
export function barsOf(text: string): readonly number[] {
  const [code] = barcodes().raw({ bcid: 'code128', text });
  if (!code || !('sbs' in code)) throw new Error('This is no code of bars.');
  return code.sbs;
}

/** A QR of a text: dots a side, and which of them are dark; nothing is, outside it. */
export interface SquareCode {
  side: number;
  isDark: (x: number, y: number) => boolean;
}

export function squareOf(text: string): SquareCode {
  const [code] = barcodes().raw({ bcid: 'qrcode', text });
  if (!code || !('pixs' in code)) throw new Error('This is no code of dots.');
  const { pixs, pixx: side } = code;
  const within = (at: number): boolean => at >= 0 && at < side;
  return { side, isDark: (x, y) => within(x) && within(y) && pixs[y * side + x] === 1 };
}
