import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { NumberPart } from '../../core/charging/planSentences.ts';

interface Props {
  part: NumberPart;
  onChange: (shown: number) => void;
  /** Something is wrong with this number. */
  wrong?: boolean;
}

/** Pixels of a drag that are one notch. */
const NOTCH_PX = 6;
/** A press that moves no further than this is a tap. */
const TAP_PX = 4;

/** A number within a sentence: typed, turned with the arrow keys, or dragged sideways. */
export function SentenceNumber({ part, onChange, wrong = false }: Props) {
  const { value, unit, decimals, least, most, step, label } = part;
  const [text, setText] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const press = useRef<{ x: number; value: number; dragging: boolean } | null>(null);
  const shown = text ?? value.toFixed(decimals);
  const change = (next: number) => {
    const held = Math.min(most, Math.max(least, next));
    if (held.toFixed(decimals + 2) !== value.toFixed(decimals + 2)) onChange(held);
  };
  const typed = (next: string) => {
    setText(next);
    const number = Number(next.replace(',', '.'));
    if (next.trim() !== '' && Number.isFinite(number) && number >= 0) onChange(number);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const notches = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (notches === undefined) {
      if (event.key === 'Enter' || event.key === 'Escape') input.current?.blur();
      return;
    }
    event.preventDefault();
    setText(null);
    change(value + notches * step);
  };
  const onPointerDown = (event: PointerEvent) => {
    if (document.activeElement === input.current) return;
    event.preventDefault();
    press.current = { x: event.clientX, value, dragging: false };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent) => {
    const held = press.current;
    if (!held) return;
    const moved = event.clientX - held.x;
    if (!held.dragging && Math.abs(moved) <= TAP_PX) return;
    held.dragging = true;
    change(held.value + Math.round(moved / NOTCH_PX) * step);
  };
  const onPointerUp = () => {
    const tapped = press.current && !press.current.dragging;
    press.current = null;
    if (!tapped) return;
    input.current?.focus();
    input.current?.select();
  };
  return (
    <span
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => (press.current = null)}
      className={`relative inline-flex cursor-ew-resize touch-none items-baseline rounded-sm border-b-2 px-1 after:absolute after:inset-x-0 after:-inset-y-1.5 ${wrong ? 'border-oxide bg-oxide-pale' : 'border-soft bg-white'}`}
    >
      <input
        ref={input}
        role="spinbutton"
        aria-label={`${label}, ${unit}`}
        aria-valuenow={value}
        aria-valuemin={least}
        aria-valuemax={most}
        aria-valuetext={`${value.toFixed(decimals)} ${unit}`}
        aria-invalid={wrong}
        inputMode="decimal"
        autoComplete="off"
        size={1}
        style={{ width: `${Math.max(2, shown.length) + 0.4}ch` }}
        className="z-1 bg-transparent text-right font-label text-xl font-semibold outline-offset-4"
        value={shown}
        onChange={(e) => typed(e.target.value)}
        onKeyDown={onKeyDown}
        onBlur={() => setText(null)}
      />
      <small className="ml-0.5 text-[15px] text-soft">{unit}</small>
    </span>
  );
}
