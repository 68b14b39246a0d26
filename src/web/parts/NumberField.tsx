import { useState } from 'react';
import { Labelled } from './Labelled.tsx';

/** A number with its label; what cannot be read as one is not passed on. */
export function NumberField({
  label,
  value,
  message,
  onChange,
}: {
  label: string;
  value: number;
  message: string | undefined;
  onChange: (value: number) => void;
}) {
  const [text, setText] = useState(String(value));
  return (
    <Labelled label={label} message={message}>
      <input
        className="field"
        inputMode="decimal"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          const number = Number(e.target.value.replace(',', '.'));
          if (e.target.value.trim() !== '' && Number.isFinite(number)) onChange(number);
        }}
      />
    </Labelled>
  );
}
