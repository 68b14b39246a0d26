import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { notice } from '../../line/notices.ts';
import type { Problem } from '../../../contract/wire.ts';
import type { ChargePlan } from '../../../core/charging/chargePlan.ts';
import { chargeToCome } from '../../../core/job/job.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useBench } from '../../line/queries.ts';
import { useJobSender } from '../../line/sending.ts';
import { useSigning } from '../../line/signing.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { ProblemLine } from '../../inputs/ProblemLine.tsx';

/** Keeps a plan under a name, for this shop. */
export function KeepPlanDialog({ plan, onClose }: { plan: ChargePlan; onClose: () => void }) {
  const { sign } = useSigning();
  const [name, setName] = useState('');
  const [plain, setPlain] = useState('');
  const [problem, setProblem] = useState<Problem | null>(null);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = await sign();
    if (!by) return;
    const replaces = problem?.fields['replaces'];
    try {
      await ask('savePlan', {
        body: {
          commandId: newId(),
          by,
          ...(replaces ? { replaces } : {}),
          plan: { ...plan, id: 'new', name: name.trim(), plain: plain.trim() },
        },
      });
      await queryClient.invalidateQueries({ queryKey: ['plans'] });
      notice.success(`“${name.trim()}” is kept. It stands under the shop’s own plans.`);
      onClose();
    } catch (error) {
      setProblem(problemOf(error));
    }
  };
  return (
    <OpenDialog
      onClose={onClose}
      title="Keep this plan"
      description="It stands under the shop’s own plans. Jobs that begin with it keep it as it was then."
    >
      <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
        <Labelled label="Name" message={problem?.fields['plan.name'] ?? problem?.fields['name']}>
          <input
            className="field"
            autoComplete="off"
            value={name}
            maxLength={60}
            onChange={(e) => {
              setName(e.target.value);
              setProblem(null);
            }}
          />
        </Labelled>
        <Labelled label="When to take it, in a sentence" message={problem?.fields['plan.plain']}>
          <input
            className="field"
            autoComplete="off"
            value={plain}
            maxLength={500}
            onChange={(e) => setPlain(e.target.value)}
          />
        </Labelled>
        {problem && (
          <p role="alert" className="text-oxide">
            {problem.message}
          </p>
        )}
        <div className="mt-2 flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act" disabled={name.trim().length < 2}>
            {problem?.fields['replaces'] ? 'Replace it' : 'Save'}
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}

/** Gives a plan to a job whose charge is still to come. */
export function SendPlanDialog({
  plan,
  jobId,
  onClose,
}: {
  plan: ChargePlan;
  jobId: string | null;
  onClose: () => void;
}) {
  const { data } = useBench();
  const open = (data?.jobs ?? []).flatMap(({ id, battery, procedureId, state }) => {
    const procedure = data?.procedures[procedureId];
    const stepId = procedure ? chargeToCome(procedure, state) : null;
    return stepId
      ? [{ id, tag: battery.tag, owner: battery.owner, model: battery.modelCode, stepId }]
      : [];
  });
  const [chosen, setChosen] = useState(open.some((j) => j.id === jobId) ? jobId : null);
  const target = open.find((j) => j.id === chosen);
  return (
    <OpenDialog
      onClose={onClose}
      title="Send to which job?"
      description={`“${plan.name}” then runs when its charge is started on a place with an instrument. It must fit the battery, or the job says why not.`}
    >
      {open.length === 0 && (
        <p className="text-lg text-soft">No job on the bench has its charge still to come.</p>
      )}
      <ul className="grid max-h-80 gap-2 overflow-y-auto">
        {open.map((job) => (
          <li key={job.id}>
            <label
              className={`flex min-h-12 cursor-pointer items-center gap-3 rounded-md border-2 px-3 has-focus-visible:outline-3 has-focus-visible:outline-slate ${job.id === chosen ? 'border-ink bg-white' : 'border-line'}`}
            >
              <input
                type="radio"
                name="job"
                className="size-5 accent-ink"
                checked={job.id === chosen}
                onChange={() => setChosen(job.id)}
              />
              <b className="font-label text-xl font-semibold">{job.tag}</b>
              <span className="min-w-0 flex-1 truncate text-soft">
                {job.model} · {job.owner}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <Sending key={chosen} plan={plan} target={target} onClose={onClose} />
    </OpenDialog>
  );
}

function Sending({
  plan,
  target,
  onClose,
}: {
  plan: ChargePlan;
  target: { id: string; tag: string; stepId: string } | undefined;
  onClose: () => void;
}) {
  const navigate = useNavigate();
  const sender = useJobSender(target?.id ?? '');
  const send = async () => {
    if (!target || !(await sender.send({ type: 'planCharge', stepId: target.stepId, plan })))
      return;
    notice.success(`${target.tag} charges by “${plan.name}”.`, {
      action: { label: 'To the job', onClick: () => void navigate(`/jobs/${target.id}`) },
    });
    onClose();
  };
  return (
    <>
      <ProblemLine sender={sender} />
      <div className="mt-4 flex justify-end gap-3">
        <DialogBack />
        <button
          type="button"
          className="act"
          disabled={!target || sender.busy}
          onClick={() => void send()}
        >
          Send it
        </button>
      </div>
    </>
  );
}
