import { createRoot } from 'react-dom/client';
import { type ExternalToast, toast, Toaster } from 'sonner';

let placed = false;

/** Draws a notice; the place for them is made with the first. */
export function showNotice(
  kind: 'success' | 'warning' | 'error' | 'info',
  text: string,
  more?: ExternalToast,
): void {
  if (!placed) {
    placed = true;
    const place = document.body.appendChild(document.createElement('div'));
    createRoot(place).render(
      <Toaster
        position="bottom-center"
        toastOptions={{ className: 'font-sans! text-base! bg-ink! text-sheet! border-0!' }}
      />,
    );
    // The area has to stand before it is spoken to.
    setTimeout(() => toast[kind](text, more));
    return;
  }
  toast[kind](text, more);
}
