import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import { type Step, stepById } from '../../../core/procedures/procedure.ts';
import { OUTCOME_WORDS } from '../../../core/procedures/sheet.ts';
import { fillText } from '../../../core/procedures/words.ts';
import { mayTakeBack } from '../../../core/procedures/misTap.ts';
import { formatMoment } from '../../../core/quantities/format.ts';
import { useSigning } from '../../app/signing.tsx';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';
import { Card, type PanelProps } from './Card.tsx';
import { ChargePanel } from './ChargePanel.tsx';
import { OpenJob } from '../shelf/Shelf.tsx';
import { AcidPanel } from './AcidPanel.tsx';
import { CellsPanel } from './CellsPanel.tsx';
import { AcknowledgePanel, ChecksPanel, DoPanel, PackPanel } from './CheckPanels.tsx';
import { HandoverPanel, LeadPanel, VerdictPanel } from './DecisionPanels.tsx';
import { ArrivalPanel, LoadPanel, MeasurePanel } from './MeasurePanels.tsx';
import { PortsPanel } from './PortsPanel.tsx';
import { WaitPanel } from './WaitPanel.tsx';

// A recovery's panels are fetched by jobs that recover: most never do.
const BeforeAfter = lazy(async () => ({ default: (await import('../recovery/BeforeAfter.tsx')).BeforeAfter }));
const CapacityPanel = lazy(async () => ({ default: (await import('../recovery/CapacityPanel.tsx')).CapacityPanel }));
const DiagnosePanel = lazy(async () => ({ default: (await import('../recovery/DiagnosePanel.tsx')).DiagnosePanel }));
const HoldPanel = lazy(async () => ({ default: (await import('../recovery/OutcomePanel.tsx')).HoldPanel }));
const OutcomePanel = lazy(async () => ({ default: (await import('../recovery/OutcomePanel.tsx')).OutcomePanel }));
const StoryPanel = lazy(async () => ({ default: (await import('../recovery/StoryPanel.tsx')).StoryPanel }));
const WakePanel = lazy(async () => ({ default: (await import('../recovery/WakePanels.tsx')).WakePanel }));
const WakeCheckPanel = lazy(async () => ({ default: (await import('../recovery/WakePanels.tsx')).WakeCheckPanel }));

/** The step in hand: what to do, why, what can hurt, and the act itself. */
export function StepPanel(props: PanelProps) {
  const { job, sender, now, rules } = props;
  const { state } = job;
  const { person } = useSigning();
  if (state.status === 'refused' && state.refusal) {
    return (
      <Card tone="stop" eyebrow="Refused" title={state.refusal.reason}>
        <p className="text-lg">
          {formatMoment(state.refusal.at, now, rules.timeZone)}. Nobody can wave this through. Keep the battery and its packing together for the claim.
        </p>
        {person && mayTakeBack(job, now, person) && (
          <ReasonDialog
            sender={sender}
            trigger={
              <button type="button" className="act-quiet">
                Tapped by mistake
              </button>
            }
            title="Was it tapped by mistake?"
            explain="The answer is asked again. That it was refused and put right stays on the record and is printed. Ten minutes after a refusal it stands for good."
            act="Ask it again"
            onConfirm={(reason) => sender.send({ type: 'takeBackRefusal', reason })}
          />
        )}
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
        {job.procedure.purpose === 'recover' && (
          <Suspense fallback={<div className="min-h-80" />}>
            <BeforeAfter job={job} />
          </Suspense>
        )}
        <div className="flex flex-wrap gap-3">
          {state.outcome === 'recover' && <OpenJob tag={props.wire.battery.tag} purpose="recover" label="Begin its recovery" quiet={false} />}
          <Link to={`/jobs/${props.wire.id}/sheet`} className={state.outcome === 'recover' ? 'act-quiet' : 'act'}>
            Sheet and tag
          </Link>
        </div>
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
      tone={
        step.kind === 'charge'
          ? state.charge?.mode === 'halted'
            ? 'stop'
            : state.charge?.mode === 'running'
              ? 'live'
              : 'plain'
          : step.kind === 'wait'
            ? 'wet'
            : 'plain'
      }
      eyebrow={`Now${state.attempt > 1 ? `, attempt ${state.attempt}` : ''}`}
      title={fillText(step.title, job.plan)}
      detail={fillText(step.detail, job.plan)}
      step={step}
      folded={step.kind === 'charge' && state.charge !== null && state.charge.mode !== 'ended'}
    >
      <Suspense fallback={<div className="min-h-dvh" />}>
        <PanelOf step={step} {...props} />
      </Suspense>
    </Card>
  );
}

function PanelOf({ step, ...props }: PanelProps & { step: Step }) {
  switch (step.kind) {
    case 'acknowledge':
      return <AcknowledgePanel step={step} {...props} />;
    case 'checks':
      return <ChecksPanel step={step} {...props} />;
    case 'pack':
      return <PackPanel step={step} {...props} />;
    case 'acid':
      return <AcidPanel step={step} {...props} />;
    case 'arrival':
      return <ArrivalPanel {...props} />;
    case 'cells':
      return <CellsPanel {...props} />;
    case 'do':
      return <DoPanel step={step} {...props} />;
    case 'ports':
      return <PortsPanel step={step} {...props} />;
    case 'wait':
      return <WaitPanel step={step} {...props} />;
    case 'charge':
      return <ChargePanel step={step} {...props} />;
    case 'measure':
      return <MeasurePanel {...props} />;
    case 'load':
      return <LoadPanel {...props} />;
    case 'verdict':
      return <VerdictPanel step={step} {...props} />;
    case 'story':
      return <StoryPanel step={step} {...props} />;
    case 'diagnose':
      return <DiagnosePanel step={step} {...props} />;
    case 'wake':
      return <WakePanel step={step} {...props} />;
    case 'wake-check':
      return <WakeCheckPanel step={step} {...props} />;
    case 'capacity':
      return <CapacityPanel step={step} {...props} />;
    case 'hold-measure':
      return <HoldPanel {...props} />;
    case 'outcome':
      return <OutcomePanel step={step} {...props} />;
    case 'handover':
      return <HandoverPanel step={step} {...props} />;
  }
}
