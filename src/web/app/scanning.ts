import { useLayoutEffect } from 'react';
import { normaliseTag } from '../../core/batteries/tag.ts';
import { typeInto } from './typeInto.ts';

/** A scanner types faster than a person can: on average its keys are closer than this. */
const SCAN_AVERAGE_MS = 50;
/** A longer pause than this begins a new word, for a scanner or in a field … */
const SCAN_GAP_MS = 200;
/** … and for a person typing outside a field. */
const HAND_GAP_MS = 2500;

/** Whatever else is typed, such as the `/` that opens the search, is no part of a tag. */
const IN_A_TAG = /[A-Za-z0-9-]/;

/**
 * A scanner is a keyboard. A tag scanned anywhere, or typed outside a field and ended with Enter,
 * opens its battery; scanned into a field, the field is left as it was.
 */
export function useScanner(onTag: (tag: string) => void): void {
  // Heard from the moment the page is drawn: a key may come before what React does afterwards.
  useLayoutEffect(() => {
    let typed = '';
    let first = 0;
    let last = 0;
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const field =
        event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement
          ? event.target
          : null;
      const pause = event.timeStamp - last > (field ? SCAN_GAP_MS : HAND_GAP_MS);
      if (event.key === 'Enter') {
        const tag = normaliseTag(typed);
        const scanned = (last - first) / Math.max(1, typed.length - 1) < SCAN_AVERAGE_MS;
        if (tag && !pause && (scanned || !field)) {
          event.preventDefault();
          event.stopPropagation();
          if (field) takeBack(field, typed);
          onTag(tag);
        }
        typed = '';
        return;
      }
      if (event.key.length !== 1) return;
      if (!IN_A_TAG.test(event.key)) {
        typed = '';
        return;
      }
      if (typed === '' || pause) {
        typed = '';
        first = event.timeStamp;
      }
      typed += event.key;
      last = event.timeStamp;
    };
    addEventListener('keydown', onKey, { capture: true });
    return () => removeEventListener('keydown', onKey, { capture: true });
  }, [onTag]);
}

/** Removes what the scanner typed from the end of a field. */
function takeBack(field: HTMLInputElement | HTMLTextAreaElement, typed: string): void {
  if (field.value.endsWith(typed)) typeInto(field, field.value.slice(0, -typed.length));
}
