import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Battery } from '../../contract/wire.ts';
import { CLAIM_STATUS_WORDS, type ClaimFacts, claimFrom } from '../../core/claims/claim.ts';
import type { Job } from '../../core/job/job.ts';
import { ask, problemOf } from '../line/api.ts';
import { newId } from '../line/newId.ts';
import { queryClient, useClaims } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';
import { ClaimDialog } from './ClaimDialog.tsx';

/** The way on from a battery that may not be commissioned: its claim, or a button that opens one. */
export function ClaimButton({
  battery,
  job,
  jobId,
}: {
  battery: Battery;
  job: Job;
  jobId: string;
}) {
  const { data } = useClaims();
  const { sign } = useSigning();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const claim = data?.claims.find((c) => c.tag === battery.tag);
  if (!data) return null;
  if (claim)
    return (
      <Link to={`/records/claims/${claim.id}`} className="act">
        Claim {claim.number} · {CLAIM_STATUS_WORDS[claim.status]}
      </Link>
    );
  const initial: ClaimFacts = {
    ...claimFrom(job),
    supplier: battery.supplier ?? '',
    boughtOn: '',
    invoice: '',
    asks: 'replacement',
    sendBy: '',
  };
  const send = async (facts: ClaimFacts) => {
    const by = await sign();
    if (!by) return { code: 'forbidden' as const, message: 'Say who you are first.', fields: {} };
    try {
      const { id } = await ask('openClaim', {
        params: { tag: battery.tag },
        body: { commandId: newId(), by, jobId, claim: facts },
      });
      await queryClient.invalidateQueries({ queryKey: ['claims'] });
      await navigate(`/records/claims/${id}`);
      return null;
    } catch (error) {
      return problemOf(error);
    }
  };
  return (
    <>
      <button type="button" className="act" onClick={() => setOpen(true)}>
        Open a claim
      </button>
      {open && (
        <ClaimDialog
          tag={battery.tag}
          initial={initial}
          act="Open claim"
          onSend={send}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}
