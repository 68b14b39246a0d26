import { sayIn } from '../../../core/quantities/shopUnits.ts';
import { lazy, memo, Suspense } from 'react';
import { Link } from 'react-router';
import { stepById } from '../../../core/plan/procedure.ts';
import { OUTCOME_WORDS } from '../../../core/job/outcome.ts';
import { fillText } from '../../../core/plan/words.ts';
import { tellsACase } from '../../../core/drill/tellsACase.ts';
import { mayTakeBack } from '../../../core/job/misTap.ts';
import { leadsNowhere } from '../../../core/steps/stepsAhead.ts';
import { formatMoment } from '../../../core/quantities/format.ts';
import { inDrill } from '../../line/drillPlace.ts';
import { useSigning } from '../../line/signing.tsx';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';
import { Card, type PanelProps } from '../../inputs/Card.tsx';
import { claimable } from '../../../core/claims/claim.ts';
import { ClaimButton } from '../../inputs/ClaimButton.tsx';
import { OpenJobButton } from '../../inputs/OpenJob.tsx';
import { LeadPanel } from './steps/DecisionPanels.tsx';
import { faceOf } from './panels.tsx';
import { refusalWords } from '../../../core/job/refusalWords.ts';

// A recovery's panels are fetched by jobs that recover: most never do.
const BeforeAfter = lazy(async () => ({
  default: (await import('../../drawings/BeforeAfter.tsx')).BeforeAfter,
}));

/** The step in hand: what to do, why, what can hurt, and the act itself. */
export const StepPanel = memo(function StepPanel(props: PanelProps) {
  const { job, sender, now, rules } = props;
  const { state } = job;
  const { person } = useSigning();
  if (state.status === 'refused' && state.refusal) {
    return (
      <Card tone="stop" eyebrow="Refused" title={refusalWords(job, state.refusal)}>
        <p className="text-lg">
          {formatMoment(state.refusal.at, now, rules)}. No one can override this. Keep the battery
          and its packing together{claimable(job) ? ' for the claim' : ''}.
        </p>
        {claimable(job) && !inDrill && (
          <ClaimButton battery={props.wire.battery} job={job} jobId={props.wire.id} />
        )}
        <MakeDrillCase {...props} />
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
      <Card
        tone="rested"
        eyebrow="Closed"
        title={state.outcome ? OUTCOME_WORDS[state.outcome] : 'Closed'}
      >
        {state.verdict?.reasons.map((r) => (
          <p key={r} className="text-lg">
            {sayIn(r, rules)}
          </p>
        ))}
        {job.procedure.purpose === 'recover' && (
          <Suspense fallback={<div className="min-h-80" />}>
            <BeforeAfter job={job} />
          </Suspense>
        )}
        <div className="flex flex-wrap gap-3">
          {claimable(job) && !inDrill && (
            <ClaimButton battery={props.wire.battery} job={job} jobId={props.wire.id} />
          )}
          {state.outcome === 'recover' && (
            <OpenJobButton
              tag={props.wire.battery.tag}
              purpose="recover"
              label="Begin its recovery"
              quiet={false}
            />
          )}
          <MakeDrillCase {...props} />
          {!inDrill && (
            <Link
              to={`/jobs/${props.wire.id}/sheet`}
              className={state.outcome === 'recover' || claimable(job) ? 'act-quiet' : 'act'}
            >
              Sheet and tag
            </Link>
          )}
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
        <p className="text-lg text-soft">
          Waits go on while it is paused. Next step when you resume:{' '}
          {fillText(step.title, job.plan, rules)}.
        </p>
        <button
          type="button"
          className="act"
          disabled={sender.busy}
          onClick={() => void sender.send({ type: 'resume' })}
        >
          Resume
        </button>
      </Card>
    );
  }
  const { Panel, tone, folded } = faceOf(step);
  return (
    <Card
      tone={tone?.(state.charge) ?? 'plain'}
      eyebrow={`Now${state.attempt > 1 ? `, attempt ${state.attempt}` : ''}`}
      title={fillText(step.title, job.plan, rules)}
      detail={leadsNowhere(job) ?? fillText(step.detail, job.plan, rules)}
      step={step}
      folded={folded?.(state.charge) ?? false}
    >
      <Suspense fallback={<div className="min-h-dvh" />}>
        <Panel step={step} {...props} />
      </Suspense>
    </Card>
  );
});

/** What a lead may make of a finished job. */
function MakeDrillCase({ job, wire }: Pick<PanelProps, 'job' | 'wire'>) {
  const { person } = useSigning();
  if (person?.role !== 'lead' || inDrill || !tellsACase(job)) return null;
  return (
    <Link to={`/drill/write?job=${wire.id}`} className="act-quiet">
      Make a drill case of it
    </Link>
  );
}
