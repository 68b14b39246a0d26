import { useEffect } from 'react';
import { normaliseTag } from '../../core/batteries/tag.ts';

/** A scanner types faster than a person can: keys closer than this came from one. */
const SCAN_GAP_MS = 45;
/** Typed by hand outside a field, a pause this long begins a new word. */
const HAND_GAP_MS = 2500;

/**
 * A scanner is a keyboard. A tag scanned anywhere, or typed outside a field and ended with Enter,
 * opens its battery; scanned into a field, the field is left as it was.
 */
export function useScanner(onTag: (tag: string) => void): void {
  useEffect(() => {
    let typed = '';
    let last = 0;
    let fast = true;
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const field = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement ? event.target : null;
      const gap = event.timeStamp - last;
      if (event.key === 'Enter') {
        const tag = normaliseTag(typed);
        const scanned = tag !== null && (fast || !field) && gap < (field ? SCAN_GAP_MS : HAND_GAP_MS);
        if (scanned) {
          event.preventDefault();
          event.stopPropagation();
          if (field) takeBack(field, typed);
          onTag(tag);
        }
        typed = '';
        return;
      }
      if (event.key.length !== 1) return;
      if (typed === '' || gap > (field ? SCAN_GAP_MS : HAND_GAP_MS)) {
        typed = '';
        fast = true;
      } else if (gap > SCAN_GAP_MS) fast = false;
      typed += event.key;
      last = event.timeStamp;
    };
    addEventListener('keydown', onKey, { capture: true });
    return () => removeEventListener('keydown', onKey, { capture: true });
  }, [onTag]);
}

/** Removes what the scanner typed from the end of a field, the way React sees changes. */
function takeBack(field: HTMLInputElement | HTMLTextAreaElement, typed: string): void {
  if (!field.value.endsWith(typed)) return;
  const setter = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field) as object, 'value')?.set;
  setter?.call(field, field.value.slice(0, -typed.length));
  field.dispatchEvent(new Event('input', { bubbles: true }));
}
