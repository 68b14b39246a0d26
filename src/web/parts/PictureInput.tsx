import { Camera, ImagePlus } from 'lucide-react';
import { type ChangeEvent, type DragEvent, useRef, useSyncExternalStore } from 'react';

/** On a phone the camera opens at once; elsewhere pictures are chosen from what is there. */
const onPhone = (): boolean => matchMedia('(pointer: coarse)').matches;
/** A hand does not change while a page is open. */
const never = () => () => undefined;
const useIsPhone = (): boolean => useSyncExternalStore(never, onPhone, () => false);

/** Takes photographs, or picks several that are there. On a desk they may also be dropped on it. */
export function PictureInput({
  onFiles,
  label = 'Add photos',
  className = 'act-quiet',
  compact = false,
}: {
  onFiles: (files: File[]) => void;
  label?: string;
  className?: string;
  /** One sign in little room: a phone then asks itself whether to photograph or to pick. */
  compact?: boolean;
}) {
  const camera = useRef<HTMLInputElement>(null);
  const album = useRef<HTMLInputElement>(null);
  const isPhone = useIsPhone();
  const picked = (event: ChangeEvent<HTMLInputElement>) => {
    const files = [...(event.target.files ?? [])];
    event.target.value = '';
    if (files.length > 0) onFiles(files);
  };
  const dropped = (event: DragEvent) => {
    event.preventDefault();
    const files = [...event.dataTransfer.files].filter((f) => f.type.startsWith('image/'));
    if (files.length > 0) onFiles(files);
  };
  const look = `${className} flex items-center gap-2`;
  return (
    <span className="flex flex-wrap gap-2" onDragOver={(e) => e.preventDefault()} onDrop={dropped}>
      {isPhone && !compact && (
        <button type="button" className={look} onClick={() => camera.current?.click()}>
          <Camera size={20} aria-hidden />
          Camera
        </button>
      )}
      <button type="button" className={look} onClick={() => album.current?.click()}>
        <ImagePlus size={20} aria-hidden />
        <span className={compact ? 'sr-only' : ''}>{label}</span>
      </button>
      <input
        ref={camera}
        type="file"
        accept="image/*"
        capture="environment"
        className="hidden"
        aria-label="Photograph with the camera"
        onChange={picked}
      />
      <input
        ref={album}
        type="file"
        accept="image/*"
        multiple
        className="hidden"
        aria-label={label}
        onChange={picked}
      />
    </span>
  );
}
