import { DialogBack, OpenDialog } from '../parts/DialogFrame.tsx';

const KEYS = [
  ['/', 'Find a battery or a place'],
  ['a tag, then Enter', 'Open that battery, from any screen; a scanner does the same'],
  ['Enter', 'Next field, then send'],
  ['Esc', 'Close what is open'],
  ['?', 'This list'],
] as const;

export function Shortcuts({ onClose }: { onClose: () => void }) {
  return (
    <OpenDialog onClose={onClose} title="Keys">
      <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-3 text-lg">
        {KEYS.map(([key, does]) => (
          <div key={key} className="contents">
            <dt className="font-label font-semibold">{key}</dt>
            <dd className="text-soft">{does}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-soft">
        Readings are typed as they are said: 12.48 or 12,48 · 1265 or 1.265 · 80f or 26c.
      </p>
      <DialogBack className="act mt-5">Close</DialogBack>
    </OpenDialog>
  );
}
