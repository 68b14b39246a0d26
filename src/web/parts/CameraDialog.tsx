import { useEffect, useRef, useState } from 'react';
import { DialogBack, DialogFrame } from './DialogFrame.tsx';
import { cameraFault } from './cameraFault.ts';
import { readCode } from './readCode.ts';

/** A look this often: fast enough for a hand, slow enough for a small phone. ms */
const LOOK_EVERY_MS = 160;

/** The camera, looking for a code. It is off as soon as the dialog is gone. */
export function CameraDialog({
  title,
  onCode,
  onClose,
}: {
  title: string;
  /** @param code what a code holds, as it was read */
  onCode: (code: string) => void;
  onClose: () => void;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const [fault, setFault] = useState<string | null>(() => whyNoCamera());
  const found = useRef(onCode);
  useEffect(() => void (found.current = onCode));
  useEffect(() => {
    if (whyNoCamera()) return;
    let stream: MediaStream | null = null;
    let over = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = async () => {
      const picture = video.current;
      if (over || !picture) return;
      const code = picture.videoWidth > 0 ? await readCode(picture).catch(() => null) : null;
      if (over) return;
      if (code) found.current(code);
      else timer = setTimeout(() => void look(), LOOK_EVERY_MS);
    };
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: 'environment', width: { ideal: 1280 } } })
      .then(async (opened) => {
        stream = opened;
        if (over || !video.current) return opened.getTracks().forEach((t) => t.stop());
        video.current.srcObject = opened;
        await video.current.play();
        await look();
      })
      .catch((error: Error) =>
        setFault(
          error.name === 'NotAllowedError'
            ? 'The browser was told not to give its camera. Allow it in the address bar, then try again.'
            : 'No camera was found.',
        ),
      );
    return () => {
      over = true;
      clearTimeout(timer);
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, []);
  return (
    <DialogFrame
      open
      onOpenChange={(open) => !open && onClose()}
      title={title}
      description="Hold the square or the lines of the tag into the picture."
    >
      {fault ? (
        <p role="alert" className="rounded-md bg-ochre-pale px-4 py-3 text-lg">
          {fault}
        </p>
      ) : (
        <video
          ref={video}
          muted
          playsInline
          aria-label="What the camera sees"
          className="aspect-[4/3] w-full rounded-md bg-ink object-cover"
        />
      )}
      <div className="mt-4 flex justify-between gap-3">
        {fault && (
          <a href="/trust" className="act">
            Set up this phone
          </a>
        )}
        <DialogBack className="act-quiet ml-auto">Back</DialogBack>
      </div>
    </DialogFrame>
  );
}

const whyNoCamera = (): string | null =>
  cameraFault(window.isSecureContext, 'mediaDevices' in navigator);
