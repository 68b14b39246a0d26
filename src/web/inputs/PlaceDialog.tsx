import { type FormEvent, useState } from 'react';
import { ask, problemOf } from '../line/api.ts';
import { newId } from '../line/newId.ts';
import { queryClient } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';
import { DialogBack, DialogFrame } from '../parts/DialogFrame.tsx';
import { Labelled } from '../parts/Labelled.tsx';

/** Where a battery stands, and the way to say where it stands now. */
export function PlaceButton({ tag, place }: { tag: string; place: string | null }) {
  const { sign } = useSigning();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState(place ?? '');
  const [fault, setFault] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = await sign();
    if (!by) return;
    try {
      await ask('placeBattery', {
        params: { tag },
        body: { commandId: newId(), by, place: text.trim() },
      });
    } catch (error) {
      setFault(problemOf(error).message);
      return;
    }
    await queryClient.invalidateQueries();
    setOpen(false);
  };
  return (
    <DialogFrame
      open={open}
      onOpenChange={(next) => {
        setText(place ?? '');
        setFault(undefined);
        setOpen(next);
      }}
      trigger={
        <button type="button" className="wordlink min-h-11 text-soft">
          {place ?? 'Say where'}
          <span className="sr-only">{place ? ` is the place of ${tag}` : ` ${tag} stands`}</span>
        </button>
      }
      title={`Where does ${tag} stand?`}
      description="A round of the shelf goes by place."
    >
      <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
        <Labelled label="Place" message={fault}>
          <input
            className="field"
            autoFocus
            maxLength={24}
            placeholder="Rack B 2"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </Labelled>
        <div className="flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act">
            Save
          </button>
        </div>
      </form>
    </DialogFrame>
  );
}
