import { TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { JobWire } from '../../../contract/wire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Job } from '../../../core/procedures/job.ts';
import { type Step, stepById } from '../../../core/procedures/procedure.ts';
import { OUTCOME_WORDS } from '../../../core/procedures/sheet.ts';
import { fillText } from '../../../core/procedures/words.ts';
import { formatMoment } from '../../../core/quantities/format.ts';
import { HAZARDS } from '../../../core/safety/hazards.ts';
import type { JobSender } from '../../app/sending.ts';
import { ChargePanel } from './ChargePanel.tsx';
import { AcknowledgePanel, ChecksPanel, DoPanel, PackPanel } from './CheckPanels.tsx';
import { HandoverPanel, LeadPanel, VerdictPanel } from './DecisionPanels.tsx';
import { LoadPanel, MeasurePanel } from './MeasurePanels.tsx';
import { PortsPanel } from './PortsPanel.tsx';
import { WaitPanel } from './WaitPanel.tsx';

export interface PanelProps {
  job: Job;
  wire: JobWire;
  sender: JobSender;
  now: number;
  rules: HouseRules;
}

/** The step in hand: what to do, why, what can hurt, and the act itself. */
export function StepPanel(props: PanelProps) {
  const { job, sender, now, rules } = props;
  const { state } = job;
  if (state.status === 'refused' && state.refusal) {
    return (
      <Card tone="stop" eyebrow="Refused" title={state.refusal.reason}>
        <p className="text-lg">
          {formatMoment(state.refusal.at, now, rules.timeZone)}. Nobody can wave this through. Keep the battery and its packing together for the claim.
        </p>
      </Card>
    );
  }
  if (state.status === 'closed') {
    return (
      <Card tone="rested" eyebrow="Closed" title={state.outcome ? OUTCOME_WORDS[state.outcome] : 'Closed'}>
        {state.verdict?.reasons.map((r) => (
          <p key={r} className="text-lg">
            {r}
          </p>
        ))}
        <Link to={`/jobs/${props.wire.id}/sheet`} className="act">
          Sheet and tag
        </Link>
      </Card>
    );
  }
  if (state.status === 'with-lead') return <LeadPanel {...props} />;
  if (!state.current) return null;
  const step = stepById(job.procedure, state.current.stepId);
  if (state.paused) {
    return (
      <Card tone="wet" eyebrow="Paused" title={state.paused.reason}>
        <p className="text-lg text-soft">Clocks go on: acid does not stop drinking. In hand when you resume: {fillText(step.title, job.plan)}.</p>
        <button type="button" className="act" disabled={sender.busy} onClick={() => void sender.send({ type: 'resume' })}>
          Resume
        </button>
      </Card>
    );
  }
  return (
    <Card
      tone={step.kind === 'charge' ? (state.charge?.mode === 'halted' ? 'stop' : state.charge?.mode === 'running' ? 'live' : 'plain') : step.kind === 'wait' ? 'wet' : 'plain'}
      eyebrow={`Now${state.attempt > 1 ? `, attempt ${state.attempt}` : ''}`}
      title={fillText(step.title, job.plan)}
      detail={fillText(step.detail, job.plan)}
      step={step}
      folded={step.kind === 'charge' && state.charge !== null && state.charge.mode !== 'ended'}
    >
      <PanelOf step={step} {...props} />
    </Card>
  );
}

function PanelOf({ step, ...props }: PanelProps & { step: Step }) {
  switch (step.kind) {
    case 'acknowledge': return <AcknowledgePanel step={step} {...props} />;
    case 'checks': return <ChecksPanel step={step} {...props} />;
    case 'pack': return <PackPanel step={step} {...props} />;
    case 'do': return <DoPanel step={step} {...props} />;
    case 'ports': return <PortsPanel step={step} {...props} />;
    case 'wait': return <WaitPanel step={step} {...props} />;
    case 'charge': return <ChargePanel step={step} {...props} />;
    case 'measure': return <MeasurePanel {...props} />;
    case 'load': return <LoadPanel {...props} />;
    case 'verdict': return <VerdictPanel step={step} {...props} />;
    case 'handover': return <HandoverPanel step={step} {...props} />;
  }
}

type CardTone = 'plain' | 'live' | 'wet' | 'rested' | 'stop';
const EDGE: Record<CardTone, string> = { plain: 'border-ink', live: 'border-ember', wet: 'border-slate', rested: 'border-moss', stop: 'border-oxide' };

interface CardProps {
  tone: CardTone;
  eyebrow: string;
  title: string;
  detail?: string;
  step?: Step;
  /** The words of the step are known by now; they fold away to leave room for the work. */
  folded?: boolean;
  children: ReactNode;
}

export function Card({ tone, eyebrow, title, detail, step, folded = false, children }: CardProps) {
  return (
    <section aria-label="Step in hand" className={`rounded-lg border-2 bg-sheet p-5 ${EDGE[tone]}`}>
      <p className={`eyebrow ${tone === 'stop' ? 'text-oxide' : tone === 'live' ? 'text-ember-ink' : 'text-soft'}`}>{eyebrow}</p>
      <h2 className="text-3xl">{title}</h2>
      {folded ? (
        <details className="mt-1">
          <summary className="wordlink min-h-11 w-fit cursor-pointer py-2 text-soft">How, and its cautions</summary>
          <Words detail={detail} step={step} />
        </details>
      ) : (
        <Words detail={detail} step={step} />
      )}
      <div className="mt-4 grid justify-items-start gap-4">{children}</div>
    </section>
  );
}

function Words({ detail, step }: { detail: string | undefined; step: Step | undefined }) {
  return (
    <>
      {detail && <p className="mt-2 max-w-[72ch] text-lg">{detail}</p>}
      {step?.hazards && (
        <ul className="mt-3 grid gap-1.5">
          {step.hazards.map((key) => (
            <li key={key} className="flex max-w-[72ch] gap-2.5">
              <TriangleAlert size={20} className="mt-0.5 shrink-0 text-ochre" aria-hidden />
              <span>
                <b>{HAZARDS[key].title}.</b> {HAZARDS[key].text}
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** The server's no, in words. */
export function ProblemLine({ sender }: { sender: JobSender }) {
  if (!sender.problem || sender.problem.code === 'ask') return null;
  return (
    <p role="alert" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
      {sender.problem.message}
    </p>
  );
}
