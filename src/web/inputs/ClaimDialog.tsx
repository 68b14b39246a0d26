import { type FormEvent, useState } from 'react';
import {
  CLAIM_ASKS,
  CLAIM_CAUSES,
  CLAIM_CAUSE_KEYS,
  type ClaimAsk,
  type ClaimCause,
  type ClaimFacts,
} from '../../core/claims/claim.ts';
import type { Problem } from '../../contract/wire.ts';
import { OpenDialog } from '../parts/DialogFrame.tsx';
import { useRules } from '../line/queries.ts';
import { DayField } from '../parts/DayField.tsx';
import { Labelled } from '../parts/Labelled.tsx';

/** What a claim says: filled in from its job as far as that tells. */
export function ClaimDialog({
  tag,
  initial,
  act,
  onSend,
  onClose,
}: {
  tag: string;
  initial: ClaimFacts;
  act: string;
  /** @returns what it was turned away with, null when it was taken */
  onSend: (claim: ClaimFacts) => Promise<Problem | null>;
  onClose: () => void;
}) {
  const wall = useRules();
  const [claim, setClaim] = useState(initial);
  const [problem, setProblem] = useState<Problem | null>(null);
  const fault = (field: string) => problem?.fields[`claim.${field}`];
  const text = (field: 'what' | 'supplier' | 'invoice', label: string, placeholder: string) => (
    <Labelled label={label} message={fault(field)}>
      <input
        className="field"
        value={claim[field]}
        placeholder={placeholder}
        maxLength={field === 'what' ? 500 : 60}
        onChange={(e) => setClaim({ ...claim, [field]: e.target.value })}
      />
    </Labelled>
  );
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const found = await onSend({ ...claim, what: claim.what.trim() });
    setProblem(found);
    if (!found) onClose();
  };
  return (
    <OpenDialog
      onClose={onClose}
      title={`Claim for ${tag}`}
      description="What the seller needs to know. Readings, dates and pictures are added from the record."
      width="max-w-2xl"
    >
      <form className="grid gap-3 sm:grid-cols-2" onSubmit={(e) => void submit(e)}>
        <Labelled label="What is wrong" message={fault('cause')}>
          <select
            className="field"
            value={claim.cause}
            onChange={(e) => setClaim({ ...claim, cause: e.target.value as ClaimCause })}
          >
            {CLAIM_CAUSE_KEYS.map((key) => (
              <option key={key} value={key}>
                {CLAIM_CAUSES[key]}
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled label="We ask for">
          <select
            className="field"
            value={claim.asks}
            onChange={(e) => setClaim({ ...claim, asks: e.target.value as ClaimAsk })}
          >
            {Object.entries(CLAIM_ASKS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
        </Labelled>
        <div className="sm:col-span-2">
          {text('what', 'What was seen', 'Foil torn over port 3')}
        </div>
        {text('supplier', 'Bought from', 'Name of the shop or maker')}
        {text('invoice', 'Invoice or order', 'Number')}
        <DayField
          label="Bought on"
          value={claim.boughtOn}
          wall={wall}
          message={fault('boughtOn')}
          onChange={(boughtOn) => setClaim({ ...claim, boughtOn })}
        />
        <DayField
          label="Send by, if there is a limit"
          value={claim.sendBy}
          wall={wall}
          message={fault('sendBy')}
          onChange={(sendBy) => setClaim({ ...claim, sendBy })}
        />
        {problem && Object.keys(problem.fields).length === 0 && (
          <p role="alert" className="text-oxide sm:col-span-2">
            {problem.message}
          </p>
        )}
        <div className="mt-2 flex justify-end gap-3 sm:col-span-2">
          <button type="button" className="act-quiet" onClick={onClose}>
            Back
          </button>
          <button type="submit" className="act" disabled={claim.what.trim() === ''}>
            {act}
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}
