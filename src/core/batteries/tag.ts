/** A shop tag: letters, a dash, digits. Short enough to shout, plain enough for Code 128. */
export const TAG_PATTERN = /^[A-Z]{1,4}-\d{3,6}$/;

/** A tag as typed or scanned, in its one spelling; null when it is not a tag. */
export function normaliseTag(text: string): string | null {
  const tag = text.trim().toUpperCase().replaceAll(/\s+/g, '');
  return TAG_PATTERN.test(tag) ? tag : null;
}

/** The tag after this one: `LK-0412` → `LK-0413`, keeping its width while it can. */
export function followingTag(tag: string): string {
  const [letters = '', digits = ''] = tag.split('-');
  return `${letters}-${String(Number(digits) + 1).padStart(digits.length, '0')}`;
}
