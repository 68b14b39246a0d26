import { WhyField } from '../parts/WhyField.tsx';
import { useState } from 'react';
import type { NoteWire } from '../../contract/paperWire.ts';
import { formatStamp } from '../../core/quantities/format.ts';
import { signerName } from '../../core/job/signers.ts';
import { pathTo } from '../line/api.ts';
import type { NoteSender } from '../line/notes.ts';
import { useRules, useShop } from '../line/queries.ts';
import { OpenDialog } from '../parts/DialogFrame.tsx';

/** A picture as large as the screen allows; a tap shows it at its full size. */
export function PictureDialog({
  note,
  onClose,
  sender,
  tag,
}: {
  tag: string;
  note: NoteWire;
  onClose: () => void;
  sender: NoteSender;
}) {
  const wall = useRules();
  const people = useShop().data?.people ?? [];
  const [whole, setWhole] = useState(false);
  const [why, setWhy] = useState<string | null>(null);
  const { picture } = note;
  if (!picture) return null;
  return (
    <OpenDialog
      onClose={onClose}
      title={note.text || `Picture of ${tag}`}
      description={`${formatStamp(note.at, wall)}, ${signerName(note.by, people)}`}
      width="max-w-5xl"
    >
      <div className="max-h-[68dvh] overflow-auto rounded-md bg-ink">
        <button
          type="button"
          className="mx-auto block"
          aria-label={whole ? 'Fit to the screen' : 'Full size'}
          onClick={() => setWhole(!whole)}
        >
          <img
            src={pathTo('picture', { params: { name: picture.name } })}
            alt={note.text || `Picture of ${tag}`}
            className={whole ? 'max-w-none' : 'max-h-[68dvh] max-w-full object-contain'}
          />
        </button>
      </div>
      <div className="mt-3 flex flex-wrap items-end justify-end gap-2">
        {why === null ? (
          <button type="button" className="act-quiet" onClick={() => setWhy('')}>
            Take back
          </button>
        ) : (
          <>
            <WhyField
              label="Why? The picture stays on record, but is shown no more"
              value={why}
              className="min-w-56 flex-1"
              onChange={setWhy}
            />
            <button
              type="button"
              className="act-stop"
              disabled={why.trim() === ''}
              onClick={() =>
                void sender.takeBack(note.id, why.trim()).then((done) => done && onClose())
              }
            >
              Take back
            </button>
          </>
        )}
        <button type="button" className="act-quiet" onClick={onClose}>
          Close
        </button>
      </div>
      {sender.problem && (
        <p role="alert" className="mt-2 text-oxide">
          {sender.problem.message}
        </p>
      )}
    </OpenDialog>
  );
}
