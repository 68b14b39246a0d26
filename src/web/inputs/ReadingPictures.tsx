import { SmallPicture } from './SmallPicture.tsx';
import { useState } from 'react';
import { useNoteSender } from '../line/notes.ts';
import { useNotes } from '../line/queries.ts';
import { PictureDialog } from './PictureDialog.tsx';

/** Pictures that stay with a reading: the print-out it was typed from. */
export function ReadingPictures({ tag, readingId }: { tag: string; readingId: string }) {
  const notes = useNotes(tag).data?.notes ?? [];
  const sender = useNoteSender(tag);
  const [open, setOpen] = useState<string | null>(null);
  const pictures = notes.filter((n) => n.readingId === readingId && n.picture && !n.takenBack);
  const shown = pictures.find((n) => n.id === open);
  return (
    <>
      {pictures.map((n) => (
        <button
          key={n.id}
          type="button"
          aria-label={`Picture: ${n.text || 'of this reading'}`}
          className="ml-1 inline-block align-middle"
          onClick={() => setOpen(n.id)}
        >
          <SmallPicture note={n} className="size-10 rounded border border-line object-cover" />
        </button>
      ))}
      {shown && (
        <PictureDialog tag={tag} note={shown} sender={sender} onClose={() => setOpen(null)} />
      )}
    </>
  );
}
