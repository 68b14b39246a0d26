import { addPictures, useWaitingPictures } from '../line/pictures.ts';
import { useSigning } from '../line/signing.tsx';
import { LocalPicture } from '../parts/LocalPicture.tsx';
import { PictureInput } from '../parts/PictureInput.tsx';
import { SmallPicture } from './SmallPicture.tsx';
import { useState } from 'react';
import { useNoteSender } from '../line/notes.ts';
import { useNotes } from '../line/queries.ts';
import { PictureDialog } from './PictureDialog.tsx';

/** Pictures that stay with a reading: the print-out it was typed from, the meter it was read off. One can be added at any time. */
export function ReadingPictures({
  tag,
  jobId,
  readingId,
  what,
}: {
  tag: string;
  jobId: string;
  readingId: string;
  /** The reading in words, for whoever does not see where the button stands. */
  what: string;
}) {
  const { person, sign } = useSigning();
  const waiting = useWaitingPictures().filter((p) => p.about.readingId === readingId);
  const notes = useNotes(tag).data?.notes ?? [];
  const sender = useNoteSender(tag);
  const [open, setOpen] = useState<string | null>(null);
  const pictures = notes.filter((n) => n.readingId === readingId && n.picture && !n.takenBack);
  const shown = pictures.find((n) => n.id === open);
  const add = async (files: File[]) => {
    const by = person?.id ?? (await sign());
    if (by) await addPictures(files, { tag, about: { jobId, readingId }, by });
  };
  return (
    <span className="inline-flex flex-wrap items-center gap-1 align-middle">
      {pictures.map((n) => (
        <button
          key={n.id}
          type="button"
          aria-label={`Picture: ${n.text || 'of this reading'}`}
          className="block"
          onClick={() => setOpen(n.id)}
        >
          <SmallPicture note={n} className="size-10 rounded border border-line object-cover" />
        </button>
      ))}
      {waiting.map((p) => (
        <LocalPicture
          key={p.id}
          data={p.data}
          alt="A picture on its way"
          className="size-10 rounded border-2 border-dashed border-slate object-cover"
        />
      ))}
      <PictureInput
        compact
        label={`Add a photo to ${what}`}
        className="min-h-11 min-w-11 justify-center text-soft"
        onFiles={(files) => void add(files)}
      />
      {shown && (
        <PictureDialog tag={tag} note={shown} sender={sender} onClose={() => setOpen(null)} />
      )}
    </span>
  );
}
