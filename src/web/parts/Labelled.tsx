import type { ReactNode } from 'react';

/** A field with its label above and what is wrong with it below. */
export function Labelled({
  label,
  message,
  children,
}: {
  label: string;
  message?: string | undefined;
  children: ReactNode;
}) {
  return (
    <label className="block">
      <span className="label">{label}</span>
      {children}
      {message && <span className="mt-1 block text-[15px] text-oxide">{message}</span>}
    </label>
  );
}
