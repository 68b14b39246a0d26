/** A number out of a code, the same everywhere (FNV-1a, 32 bit). */
export function seedOf(code: string): number {
  let hash = 0x811c9dc5;
  for (const letter of code) hash = Math.imul(hash ^ letter.charCodeAt(0), 0x01000193);
  return hash >>> 0;
}
