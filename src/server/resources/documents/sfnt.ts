import { inflateSync } from 'node:zlib';

/** Sizes in the WOFF 1.0 file format (W3C Recommendation, 2012), bytes. */
const HEADER = 44;
const ENTRY = 20;
/** … and in an sfnt file (OpenType, table directory). */
const SFNT_HEADER = 12;
const SFNT_ENTRY = 16;

const padded = (bytes: number): number => (bytes + 3) & ~3;

/**
 * A font out of its WOFF wrapping: the same tables, unpacked once here instead of in every document that is set with it.
 *
 * @throws Error when it is no WOFF 1.0 file
 */
export function sfntFromWoff(woff: Buffer): Buffer {
  if (woff.toString('latin1', 0, 4) !== 'wOFF') throw new Error('This is no WOFF file.');
  const count = woff.readUInt16BE(12);
  const entries = Array.from({ length: count }, (_, i) => {
    const at = HEADER + i * ENTRY;
    const [offset, packed, length] = [4, 8, 12].map((k) => woff.readUInt32BE(at + k)) as [
      number,
      number,
      number,
    ];
    const stored = woff.subarray(offset, offset + packed);
    return {
      tag: woff.subarray(at, at + 4),
      checksum: woff.readUInt32BE(at + 16),
      table: packed < length ? inflateSync(stored) : stored,
    };
  });
  const tables = SFNT_HEADER + count * SFNT_ENTRY;
  const font = Buffer.alloc(entries.reduce((sum, { table }) => sum + padded(table.length), tables));
  const largest = 2 ** Math.floor(Math.log2(count));
  font.writeUInt32BE(woff.readUInt32BE(4), 0);
  font.writeUInt16BE(count, 4);
  font.writeUInt16BE(16 * largest, 6);
  font.writeUInt16BE(Math.log2(largest), 8);
  font.writeUInt16BE(16 * (count - largest), 10);
  let offset = tables;
  entries.forEach(({ tag, checksum, table }, i) => {
    const at = SFNT_HEADER + i * SFNT_ENTRY;
    tag.copy(font, at);
    font.writeUInt32BE(checksum, at + 4);
    font.writeUInt32BE(offset, at + 8);
    font.writeUInt32BE(table.length, at + 12);
    table.copy(font, offset);
    offset += padded(table.length);
  });
  return font;
}
