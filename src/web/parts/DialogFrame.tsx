import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

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
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          {...(description === undefined ? { 'aria-describedby': undefined } : {})}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[94dvh] w-[94vw] -translate-1/2 overflow-y-auto rounded-lg border border-ink bg-sheet p-6 ${width}`}
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
