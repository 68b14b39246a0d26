import { useSay } from '../../../line/queries.ts';
import { useState } from 'react';
import { inDrill } from '../../../line/drillPlace.ts';
import { Link } from 'react-router';
import type { LeadDecision } from '../../../../core/job/outcome.ts';
import { type StepOf, stepOfKind } from '../../../../core/plan/procedure.ts';
import { judge, jobChemistry } from '../../../../core/job/verdict.ts';
import { useSigning } from '../../../line/signing.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { Card, type PanelProps } from '../../../inputs/Card.tsx';

const WORDS = {
  pass: { title: 'It passes', act: 'Sign: it passes' },
  repeat: { title: 'Below the line: charge and test again', act: 'Charge and test again' },
  lead: { title: 'It failed twice', act: 'Hand it to the lead' },
  incomplete: { title: 'Nothing to judge yet', act: '' },
} as const;

/** What the readings say, why, and the signature under it. */
export function VerdictPanel({ step, job, sender }: PanelProps & { step: StepOf<'verdict'> }) {
  const say = useSay();
  const verdict = judge(job);
  const { title, act } = WORDS[verdict.outcome];
  const reopen =
    verdict.restV === null
      ? stepOfKind(job.procedure, 'measure')
      : stepOfKind(job.procedure, 'load');
  return (
    <>
      <div
        className={`w-full max-w-2xl rounded-md border-l-8 px-4 py-3 ${verdict.outcome === 'pass' ? 'border-moss bg-moss-pale' : verdict.outcome === 'incomplete' ? 'border-ochre bg-ochre-pale' : 'border-oxide bg-oxide-pale'}`}
      >
        <p className="font-label text-2xl font-semibold">
          {verdict.outcome === 'pass' ? '✓ ' : verdict.outcome === 'incomplete' ? '… ' : '✕ '}
          {title}
        </p>
        <ul className="mt-1 text-lg">
          {verdict.reasons.map((r) => (
            <li key={r}>{say(r)}</li>
          ))}
        </ul>
        {verdict.socPercent !== null && (
          <p className="mt-1 text-lg">
            About {verdict.socPercent.toFixed(0)} % charged
            {verdict.socBand &&
              ` (${verdict.socBand.low.toFixed(0)}–${verdict.socBand.high.toFixed(0)})`}
            , from the rest voltage and{' '}
            {verdict.socBy === 'acid'
              ? `the acid it was filled with, SG ${job.plan.figures.fillSg.value.toFixed(3)}`
              : `the usual ${jobChemistry(job).name} table`}
            .
          </p>
        )}
      </div>
      <ProblemLine sender={sender} />
      {verdict.outcome === 'incomplete' ? (
        <ReasonDialog
          sender={sender}
          trigger={
            <button type="button" className="act">
              {reopen?.kind === 'measure' ? 'Measure the rest voltage' : 'Make the load test'}
            </button>
          }
          title="Go back and measure"
          explain="Steps behind stay on the record; this one is opened again."
          act="Reopen it"
          reasonLabel="Why it was left out"
          suggestions={['Skipped before, meter free now', 'First reading was early']}
          onConfirm={(reason) => sender.send({ type: 'reopen', stepId: reopen?.id ?? '', reason })}
        />
      ) : (
        <button
          type="button"
          className="act"
          disabled={sender.busy}
          onClick={() => void sender.send({ type: 'giveVerdict', stepId: step.id })}
        >
          {act}
        </button>
      )}
    </>
  );
}

export function HandoverPanel({ step, wire, sender }: PanelProps & { step: StepOf<'handover'> }) {
  return (
    <>
      {!inDrill && (
        <div className="flex flex-wrap gap-3">
          <Link to={`/jobs/${wire.id}/sheet`} className="act-quiet">
            Print sheet and tag
          </Link>
        </div>
      )}
      <ProblemLine sender={sender} />
      <div className="flex flex-wrap gap-3">
        <button
          type="button"
          className="act"
          disabled={sender.busy}
          onClick={() =>
            void sender.send({ type: 'handOver', stepId: step.id, destination: 'customer' })
          }
        >
          Handed to {wire.battery.owner}
        </button>
        <button
          type="button"
          className="act-quiet"
          disabled={sender.busy}
          onClick={() =>
            void sender.send({ type: 'handOver', stepId: step.id, destination: 'shelf' })
          }
        >
          Onto the shelf
        </button>
      </div>
    </>
  );
}

const DECISIONS: readonly { decision: LeadDecision; label: string; failed: boolean | null }[] = [
  { decision: 'go-on', label: 'Go on with the step in hand', failed: false },
  { decision: 'charge-again', label: 'Charge and test once more', failed: true },
  { decision: 'claim', label: 'Claim on the maker', failed: null },
  { decision: 'recover', label: 'Send to recovery', failed: null },
  { decision: 'recycle', label: 'Recycle', failed: null },
];

/** The lead decides the exceptions; anyone may look. */
export function LeadPanel({ job, sender }: PanelProps) {
  const say = useSay();
  const { person, choose } = useSigning();
  const [decision, setDecision] = useState<LeadDecision | null>(null);
  const failed = job.state.verdict?.outcome === 'lead';
  const offered = DECISIONS.filter((d) => d.failed === null || d.failed === failed);
  return (
    <Card
      tone="stop"
      eyebrow="With the lead"
      title={
        failed ? 'It failed its test twice' : (job.state.escalation?.reason ?? 'Handed to the lead')
      }
    >
      {failed && (
        <ul className="text-lg">
          {job.state.verdict?.reasons.map((r) => (
            <li key={r}>{say(r)}</li>
          ))}
        </ul>
      )}
      {person?.role === 'lead' ? (
        <>
          <div className="flex flex-wrap gap-2" role="group" aria-label="Decision">
            {offered.map((d) => (
              <button
                key={d.decision}
                type="button"
                aria-pressed={decision === d.decision}
                className={`act-quiet ${decision === d.decision ? 'border-ink! bg-ink! text-sheet!' : ''}`}
                onClick={() => setDecision(d.decision)}
              >
                {d.label}
              </button>
            ))}
          </div>
          <ProblemLine sender={sender} />
          <ReasonDialog
            sender={sender}
            trigger={
              <button type="button" className="act" disabled={decision === null}>
                Decide
              </button>
            }
            title={offered.find((d) => d.decision === decision)?.label ?? 'Decide'}
            explain="The decision and its reason are signed and go on the sheet."
            act="Sign it"
            onConfirm={(reason) =>
              decision ? sender.send({ type: 'leadDecide', decision, reason }) : false
            }
          />
        </>
      ) : (
        <p className="text-lg">
          Only a lead decides this.{' '}
          <button type="button" className="wordlink min-h-11" onClick={choose}>
            Change who is at the bench
          </button>
        </p>
      )}
    </Card>
  );
}
