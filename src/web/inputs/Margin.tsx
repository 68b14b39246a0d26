import { SmallPicture } from './SmallPicture.tsx';
import { WhyField } from '../parts/WhyField.tsx';
import { memo, type FormEvent, useState } from 'react';
import type { NoteAbout } from '../../contract/asks.ts';
import type { NoteWire } from '../../contract/paperWire.ts';
import { formatMoment } from '../../core/quantities/format.ts';
import { signerName } from '../../core/job/signers.ts';
import { useNow } from '../line/benchClock.ts';
import { useNoteSender } from '../line/notes.ts';
import { addPictures, dismissPicture, useWaitingPictures } from '../line/pictures.ts';
import { useNotes, useRules, useShop } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';
import { LocalPicture } from '../parts/LocalPicture.tsx';
import { PictureInput } from '../parts/PictureInput.tsx';
import { PictureDialog } from './PictureDialog.tsx';

interface Props {
  tag: string;
  /** What is written about here; what is shown is everything that is about it. */
  about: NoteAbout;
  title?: string;
  /** What is shown, where it is more than what is written here. */
  shows?: (note: NoteWire | NoteAbout) => boolean;
  /** What a note of a step is headed with. */
  stepName?: (stepId: string, jobId: string | null) => string | null;
}

/** Is a note about this, or about a part of it? */
const isAbout = (note: NoteWire | NoteAbout, about: NoteAbout): boolean =>
  (Object.entries(about) as [keyof NoteAbout, string | undefined][]).every(
    ([key, id]) => id === undefined || key === 'stepId' || note[key] === id,
  );

/** Notes and pictures in the margin: whoever sees something writes it down or photographs it, at any time. */
export const Margin = memo(function Margin({
  tag,
  about,
  title = 'Notes and pictures',
  shows = (note) => isAbout(note, about),
  stepName,
}: Props) {
  const { data } = useNotes(tag);
  const waiting = useWaitingPictures().filter((p) => p.tag === tag && shows(p.about));
  const { person, sign } = useSigning();
  const sender = useNoteSender(tag);
  const [text, setText] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const [old, setOld] = useState(false);
  const notes = (data?.notes ?? []).filter(shows);
  const standing = notes.filter((n) => n.takenBack === null);
  const taken = notes.length - standing.length;
  const pictured = standing.filter((n) => n.picture !== null);
  const shown = notes.find((n) => n.id === open);

  const write = async (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() === '') return;
    if (await sender.write(text.trim(), about)) setText('');
  };
  const add = async (files: File[]) => {
    const by = person?.id ?? (await sign());
    if (by) await addPictures(files, { tag, about, by, text: text.trim() });
    setText('');
  };
  return (
    <section aria-label={title} className="rounded-lg border border-line bg-sheet p-5">
      <h2 className="mb-2 text-2xl">{title}</h2>
      {(pictured.length > 0 || waiting.length > 0) && (
        <ul className="mb-3 flex flex-wrap gap-3">
          {pictured.map((n) => (
            <li key={n.id}>
              <button
                type="button"
                aria-label={`Picture: ${n.text || 'no caption'}`}
                onClick={() => setOpen(n.id)}
                className="block"
              >
                <SmallPicture
                  note={n}
                  className="h-28 w-36 rounded-md border border-line object-cover"
                />
                <span className="line-clamp-2 w-36 text-left text-base text-soft">
                  {n.text || stepName?.(n.stepId ?? '', n.jobId) || ' '}
                </span>
              </button>
            </li>
          ))}
          {waiting.map((p) => (
            <li key={p.id} className="w-36">
              <LocalPicture
                data={p.data}
                alt={p.text}
                className="h-28 w-36 rounded-md border-2 border-dashed border-slate object-cover"
              />
              {p.refusal === undefined ? (
                <span className="block text-base text-slate">On its way…</span>
              ) : (
                <span role="alert" className="block text-base text-oxide">
                  {p.refusal}{' '}
                  <button
                    type="button"
                    className="wordlink min-h-11"
                    onClick={() => void dismissPicture(p.id)}
                  >
                    Remove
                  </button>
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      <NoteLines notes={standing.filter((n) => n.picture === null)} stepName={stepName} />
      <form onSubmit={(e) => void write(e)} className="flex flex-wrap items-end gap-2">
        <label className="min-w-56 flex-1">
          <span className="label">Note</span>
          <input
            className="field"
            value={text}
            maxLength={500}
            placeholder="Left post loose, customer told"
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        <button type="submit" className="act-quiet" disabled={text.trim() === ''}>
          Save note
        </button>
        <PictureInput onFiles={(files) => void add(files)} />
      </form>
      {sender.problem && (
        <p role="alert" className="mt-2 text-oxide">
          {sender.problem.message}
        </p>
      )}
      {taken > 0 && (
        <button type="button" className="wordlink mt-2 min-h-11" onClick={() => setOld(!old)}>
          {old ? 'Hide' : 'Show'} what was taken back ({taken})
        </button>
      )}
      {old && <NoteLines notes={notes.filter((n) => n.takenBack !== null)} stepName={stepName} />}
      {shown && (
        <PictureDialog tag={tag} note={shown} onClose={() => setOpen(null)} sender={sender} />
      )}
    </section>
  );
});

/** Notes as lines; one that was taken back is struck through, with why. */
function NoteLines({
  notes,
  stepName,
}: {
  notes: readonly NoteWire[];
  stepName: Props['stepName'] | undefined;
}) {
  const now = useNow();
  const wall = useRules();
  const people = useShop().data?.people ?? [];
  if (notes.length === 0) return null;
  return (
    <ul className="mb-3">
      {notes.map((n) => (
        <li
          key={n.id}
          className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1.5 text-lg"
        >
          <span
            className={`min-w-0 flex-1 break-words ${n.takenBack ? 'text-soft line-through' : ''}`}
          >
            {n.text || 'Picture'}
          </span>
          <span className="text-base text-soft">
            {[
              stepName?.(n.stepId ?? '', n.jobId),
              signerName(n.by, people),
              formatMoment(n.at, now, wall),
            ]
              .filter(Boolean)
              .join(' · ')}
          </span>
          {n.takenBack ? (
            <span className="text-base">
              Taken back by {signerName(n.takenBack.by, people)}: {n.takenBack.why}
            </span>
          ) : (
            <TakeBack noteId={n.id} />
          )}
        </li>
      ))}
    </ul>
  );
}

function TakeBack({ noteId }: { noteId: string }) {
  const sender = useNoteSender('');
  const [why, setWhy] = useState<string | null>(null);
  if (why === null)
    return (
      <button type="button" className="wordlink min-h-11 text-base" onClick={() => setWhy('')}>
        Take back
      </button>
    );
  return (
    <form
      className="flex w-full items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (why.trim()) void sender.takeBack(noteId, why.trim());
      }}
    >
      <WhyField
        label="Why? The note stays on record, struck through"
        value={why}
        className="flex-1"
        onChange={setWhy}
      />
      <button type="submit" className="act-quiet" disabled={why.trim() === ''}>
        Take back
      </button>
    </form>
  );
}
