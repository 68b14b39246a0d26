import { Dialog } from 'radix-ui';

const KEYS = [
  ['/', 'Find a battery or a place'],
  ['a tag, then Enter', 'Open that battery, from any screen; a scanner does the same'],
  ['Enter', 'Next field, then send'],
  ['Esc', 'Close what is open'],
  ['?', 'This list'],
] as const;

export function Shortcuts({ onClose }: { onClose: () => void }) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 w-[min(94vw,30rem)] -translate-1/2 rounded-lg border border-ink bg-sheet p-6"
        >
          <Dialog.Title className="mb-4 text-2xl">Keys</Dialog.Title>
          <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-3 text-lg">
            {KEYS.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-label font-semibold">{key}</dt>
                <dd className="text-soft">{does}</dd>
              </div>
            ))}
          </dl>
          <p className="mt-4 text-soft">Readings are typed as they are said: 12.48 or 12,48 · 1265 or 1.265 · 80f or 26c.</p>
          <Dialog.Close className="act mt-5">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
