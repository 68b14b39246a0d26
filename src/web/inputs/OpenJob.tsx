import { useState } from 'react';
import { useNavigate } from 'react-router';
import { PURPOSE_WORDS, type Purpose } from '../../core/plan/procedure.ts';
import { newId } from '../line/newId.ts';
import { notice } from '../line/notices.ts';
import { ask } from '../line/api.ts';
import { queryClient } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';

/** Opens a job for a battery on record and goes there. */
export function OpenJobButton({
  tag,
  purpose,
  quiet = true,
  label,
}: {
  tag: string;
  purpose: Purpose;
  quiet?: boolean;
  label?: string;
}) {
  const { sign } = useSigning();
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const open = async () => {
    const by = await sign();
    if (!by) return;
    setBusy(true);
    try {
      const { jobId } = await ask('openJob', {
        params: { tag },
        body: { commandId: newId(), by, purpose, promisedAt: null },
      });
      await queryClient.invalidateQueries({ queryKey: ['bench'] });
      void navigate(`/jobs/${jobId}`);
    } catch (error) {
      notice.error((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <button
      type="button"
      className={`${quiet ? 'act-quiet' : 'act'} px-3!`}
      disabled={busy}
      onClick={() => void open()}
    >
      {label ?? (purpose === 'recharge' ? 'Charge' : PURPOSE_WORDS[purpose])}
    </button>
  );
}
