import { type Ref, useEffect, useId } from 'react';
import { QUANTITIES, type QuantityKey } from '../../core/quantities/quantity.ts';
import { useRules } from '../line/queries.ts';

interface Props {
  quantity: QuantityKey;
  label?: string;
  value: string;
  onChange: (text: string) => void;
  message?: string | undefined;
  autoFocus?: boolean;
  optional?: boolean;
  ref?: Ref<HTMLInputElement>;
}

/** One value typed the way it is said; the unit stands beside it, Enter goes to the next field of the form. */
export function ReadingField({
  quantity,
  label,
  value,
  onChange,
  message,
  autoFocus,
  optional,
  ref,
}: Props) {
  const id = useId();
  // Typing must land here the moment the step is opened: the technician's hands are wet. Once it has been drawn, that is: before,
  // the browser would have to lay out the page twice.
  useEffect(() => {
    // What stands above it is read first: the page does not jump to it.
    if (autoFocus) document.getElementById(id)?.focus({ preventScroll: true });
  }, [autoFocus, id]);
  const { temperatureUnit, volumeUnit } = useRules();
  const { label: word, unit } = QUANTITIES[quantity];
  const shown =
    quantity === 'temperature'
      ? `°${temperatureUnit}`
      : volumeUnit === 'oz'
        ? ({ volume: 'fl oz', mass: 'lb' }[quantity as string] ?? unit)
        : unit;
  return (
    <div className="min-w-28 flex-1">
      <label htmlFor={id} className="label block">
        {label ?? word}
        {optional && ' (if read)'}
      </label>
      <div className="relative">
        <input
          ref={ref}
          id={id}
          className="field pr-10 font-label text-2xl font-semibold"
          inputMode="decimal"
          autoComplete="off"
          value={value}
          aria-invalid={message !== undefined}
          aria-describedby={message ? `${id}-message` : undefined}
          onChange={(e) => onChange(e.target.value)}
          onKeyDown={toNextField}
        />
        <span aria-hidden className="absolute top-1/2 right-3 -translate-y-1/2 text-soft">
          {shown}
        </span>
      </div>
      {message && (
        <p id={`${id}-message`} className="mt-1 text-[15px] text-oxide">
          {message}
        </p>
      )}
    </div>
  );
}

function toNextField(event: React.KeyboardEvent<HTMLInputElement>): void {
  if (event.key !== 'Enter') return;
  const { form } = event.currentTarget;
  const fields = [...(form?.querySelectorAll('input') ?? [])];
  const next = fields[fields.indexOf(event.currentTarget) + 1];
  if (!next) return;
  event.preventDefault();
  next.focus();
  next.select();
}
