import { Dialog } from 'radix-ui';
import { createContext, type ReactNode, use } from 'react';

export interface DialogProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  trigger?: ReactNode;
  title: ReactNode;
  description?: ReactNode;
  /** Widest it gets, as a class. */
  width?: string;
  children: ReactNode;
}

/** A part of the page stays in use while a dialog is open: the hands of a case, which read what is typed into it. */
export const StaysInUse = createContext(false);
/** What marks that part. */
export const IN_USE = { 'data-stays-in-use': true } as const;
const staysOpen = (event: Event): void => {
  if (event.target instanceof Element && event.target.closest('[data-stays-in-use]'))
    event.preventDefault();
};

/** In the middle of the screen, over everything else. */
const IN_THE_MIDDLE = 'top-1/2 -translate-1/2 max-h-[94dvh]';
/** At the top, and what lies below it can be used. */
const ABOVE_WHAT_IS_USED = 'top-3 -translate-x-1/2 max-h-[calc(100dvh-15rem)] shadow-xl';

/** The one frame every dialog stands in; it never outgrows the screen. */
export function DialogFrame({
  open,
  onOpenChange,
  trigger,
  title,
  description,
  width = 'max-w-lg',
  children,
}: DialogProps) {
  const staysInUse = use(StaysInUse);
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange} modal={!staysInUse}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          {...(description === undefined ? { 'aria-describedby': undefined } : {})}
          {...(staysInUse ? { onInteractOutside: staysOpen } : {})}
          className={`fixed left-1/2 z-50 w-[94vw] overflow-y-auto rounded-lg border border-ink bg-sheet p-6 ${width} ${staysInUse ? ABOVE_WHAT_IS_USED : IN_THE_MIDDLE}`}
        >
          <Dialog.Title className="text-2xl">{title}</Dialog.Title>
          {description !== undefined && (
            <Dialog.Description className="mt-1 text-lg text-soft">
              {description}
            </Dialog.Description>
          )}
          <div className="mt-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Leaves a dialog without doing anything. */
export function DialogBack({
  className = 'act-quiet',
  children = 'Back',
}: {
  className?: string;
  children?: ReactNode;
}) {
  return <Dialog.Close className={className}>{children}</Dialog.Close>;
}

/** A dialog that is there because it is open; whoever draws it takes it away. */
export function OpenDialog({
  onClose,
  ...frame
}: Omit<DialogProps, 'open' | 'onOpenChange' | 'trigger'> & { onClose: () => void }) {
  return <DialogFrame {...frame} open onOpenChange={(open) => !open && onClose()} />;
}
