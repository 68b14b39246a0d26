import { Camera } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';

const CameraDialog = lazy(async () => ({
  default: (await import('./CameraDialog.tsx')).CameraDialog,
}));

/** Reads a code with the camera, for whoever holds a phone instead of a scanner. */
export function ScanButton({
  what,
  onCode,
  className = 'act-quiet px-3!',
}: {
  /** What is scanned: `a tag`, `the lot`. */
  what: string;
  onCode: (code: string) => void;
  className?: string;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className={className}
        aria-label={`Scan ${what} with the camera`}
        onClick={() => setOpen(true)}
      >
        <Camera size={20} aria-hidden />
      </button>
      <Suspense>
        {open && (
          <CameraDialog
            title={`Scan ${what}`}
            onClose={() => setOpen(false)}
            onCode={(code) => {
              setOpen(false);
              onCode(code);
            }}
          />
        )}
      </Suspense>
    </>
  );
}
