import { useState } from 'react';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { fillText } from '../../../../core/plan/words.ts';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';

/** The battery from above, large enough for a gloved hand: one button a port, each tap the next answer. */
export function PortsPanel({ step, job, sender, rules }: PanelProps & { step: StepOf<'ports'> }) {
  const { cells } = job.plan.model;
  const [first] = step.answers;
  const [ports, setPorts] = useState<(string | null)[]>(() =>
    Array.from({ length: cells }, () => null),
  );
  const answer = (id: string | null) => step.answers.find((a) => a.id === id);
  const next = (id: string | null) =>
    step.answers[(step.answers.findIndex((a) => a.id === id) + 1) % step.answers.length]?.id ??
    null;
  const complete = ports.every((p) => p !== null);
  const [reason, setReason] = useState('');
  const odd = ports.some((p) => answer(p)?.deviation) && job.plan.overNeedsReason;
  const made = job.state.runs.filter((r) => r.stepId === step.id && r.end === 'done').length;
  const again = step.passes && made + 1 < step.passes.most && ports.some((p) => answer(p)?.again);
  const bad = ports.some((p) => p !== null && !answer(p)?.good);
  return (
    <>
      <div className="flex max-w-full items-center gap-3 rounded-xl border-2 border-ink bg-paper p-3 max-sm:gap-1.5 max-sm:p-2">
        <b className="font-label text-3xl" aria-hidden>
          +
        </b>
        <div className="flex flex-wrap gap-2" role="group" aria-label="Ports, from plus to minus">
          {ports.map((port, i) => {
            const a = answer(port);
            return (
              <button
                key={i}
                type="button"
                onClick={() => setPorts((old) => old.map((p, j) => (j === i ? next(p) : p)))}
                className={`grid size-21 max-sm:size-18 place-content-center justify-items-center rounded-full border-3 text-[15px] leading-tight ${a ? (a.good ? 'border-slate bg-slate-pale' : 'border-oxide bg-oxide-pale') : 'border-dashed border-soft bg-sheet'}`}
              >
                <span className="font-label text-xl font-semibold">
                  <span className="sr-only">Port </span>
                  {i + 1} {a && (a.good ? '✓' : '✕')}
                </span>
                <span className="max-w-16 text-center">{a?.label ?? 'look'}</span>
              </button>
            );
          })}
        </div>
        <b className="font-label text-3xl" aria-hidden>
          −
        </b>
      </div>
      <p className="text-soft">
        {step.question}: {step.answers.map((a) => a.label.toLowerCase()).join(' → ')}.
      </p>
      {step.passes && (
        <p className="text-lg">
          Pass {made + 1} of at most {step.passes.most}.
          {again && ' It stands once more after this one.'}
        </p>
      )}
      {odd && (
        <label className="w-full max-w-xl">
          <span className="label">
            Why it stays so full, for the sheet (or draw it down to the mark)
          </span>
          <input className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
        </label>
      )}
      {bad && (
        <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
          {fillText(step.hold, job.plan, rules)}
        </p>
      )}
      <ProblemLine sender={sender} />
      <div className="flex flex-wrap gap-3">
        <button
          type="button"
          className="act-quiet"
          onClick={() => setPorts(ports.map((p) => p ?? first?.id ?? null))}
          disabled={complete}
        >
          {first?.label} in all the others
        </button>
        <button
          type="button"
          className="act"
          disabled={!complete || bad || (odd && reason.trim().length < 3) || sender.busy}
          onClick={() =>
            void sender.send({
              type: 'answerPorts',
              stepId: step.id,
              ports: ports as string[],
              ...(reason.trim() ? { reason: reason.trim() } : {}),
            })
          }
        >
          {again ? 'Checked, let it stand again' : 'Checked'}
        </button>
      </div>
    </>
  );
}
