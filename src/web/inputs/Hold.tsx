import { WhyField } from '../parts/WhyField.tsx';
import { useState } from 'react';
import type { HoldWire } from '../../contract/paperWire.ts';
import { signerName } from '../../core/job/signers.ts';
import { formatStamp } from '../../core/quantities/format.ts';
import { ask, problemOf } from '../line/api.ts';
import { newId } from '../line/newId.ts';
import { queryClient, useHolds, useRules, useShop } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';
import { OpenDialog } from '../parts/DialogFrame.tsx';

type What = HoldWire['what'];

/** The hold on a model or a lot that stands; undefined where there is none. */
export function useHold(what: What, code: string | null | undefined): HoldWire | undefined {
  return useHolds().data?.holds.find(
    (h) => h.what === what && h.code === code && h.liftedAt === null,
  );
}

/** Says that a model or a lot is on hold, and why; nothing where it is not. */
export function HoldLine({ what, code }: { what: What; code: string | null | undefined }) {
  const hold = useHold(what, code);
  const people = useShop().data?.people ?? [];
  const wall = useRules();
  if (!hold) return null;
  return (
    <p role="note" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
      <b>
        ✕ {what === 'model' ? 'Model' : 'Lot'} {hold.code} is on hold.
      </b>{' '}
      {hold.why}{' '}
      <span className="text-soft">
        {signerName(hold.by, people)}, {formatStamp(hold.at, wall)}.
      </span>
    </p>
  );
}

/** Puts a model or a lot on hold, or lifts the hold: a lead's decision, with its reason. */
export function HoldButton({ what, code }: { what: What; code: string }) {
  const hold = useHold(what, code);
  const { person, sign } = useSigning();
  const [open, setOpen] = useState(false);
  const [why, setWhy] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const lead = person === null || person.role === 'lead';
  const act = hold ? 'Lift the hold' : 'Put on hold';
  const send = async () => {
    const by = await sign();
    if (!by) return;
    try {
      const body = { commandId: newId(), by, why: why.trim() };
      if (hold) await ask('liftHold', { params: { id: hold.id }, body });
      else await ask('putOnHold', { body: { ...body, what, code } });
      await queryClient.invalidateQueries({ queryKey: ['holds'] });
      setOpen(false);
      setWhy('');
      setProblem(null);
    } catch (error) {
      setProblem(problemOf(error).message);
    }
  };
  return (
    <>
      <button
        type="button"
        className="wordlink -ml-2 min-h-11 px-2"
        disabled={!lead}
        title={lead ? undefined : 'Only a lead may do that.'}
        onClick={() => setOpen(true)}
      >
        {act}
        <span className="sr-only"> {code}</span>
      </button>
      {open && (
        <OpenDialog
          onClose={() => setOpen(false)}
          title={`${act}: ${code}`}
          description={
            hold
              ? `On hold since it was said: ${hold.why}`
              : 'Whoever takes one in, fills from it or takes it off the shelf is told why. Nothing is locked.'
          }
        >
          <form
            className="grid gap-3"
            onSubmit={(e) => {
              e.preventDefault();
              void send();
            }}
          >
            <WhyField value={why} onChange={setWhy} />
            {problem && (
              <p role="alert" className="text-oxide">
                {problem}
              </p>
            )}
            <div className="flex justify-end gap-3">
              <button type="button" className="act-quiet" onClick={() => setOpen(false)}>
                Back
              </button>
              <button type="submit" className="act" disabled={why.trim().length < 3}>
                {act}
              </button>
            </div>
          </form>
        </OpenDialog>
      )}
    </>
  );
}
