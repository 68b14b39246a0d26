/** What a file's bytes say: UTF-8 where they are it, UTF-16 by its mark, else the western code page old tools write. */
export function decodeText(bytes: Uint8Array): { text: string; encoding: string } {
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe)
    return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (a === 0xfe && b === 0xff)
    return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  const body = a === 0xef && b === 0xbb && c === 0xbf ? bytes.subarray(3) : bytes;
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(body), encoding: 'UTF-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(body), encoding: 'Windows-1252' };
  }
}
