import { memo, useState } from 'react';
import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import type { FamilyKey, FamilyOdds } from '../../../../core/diagnosis/practice/families.ts';
import { type RouteKey, ROUTES } from '../../../../core/diagnosis/routes.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { offeredWakes } from '../../../../core/recovery/recovery.ts';
import type { RouteForecast } from '../../../../core/job/recoveryState.ts';
import { type WakeKey, WAKES } from '../../../../core/diagnosis/wakes.ts';
import { leadsNowhere } from '../../../../core/steps/stepsAhead.ts';
import { needsWaking } from '../../../../core/recovery/evidence.ts';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { AMomentLater } from '../../../parts/AMomentLater.tsx';
import { BeforeAfter } from '../../../drawings/BeforeAfter.tsx';
import { ChargerLine } from '../../../inputs/ChargerLine.tsx';
import { DiagnosisBoard, useJobDiagnosis } from './DiagnosisBoard.tsx';
import { FoundField, likelyFound } from './FoundField.tsx';
import { NextReadings } from './NextReadings.tsx';
import { RouteTable } from './RouteTable.tsx';

type Props = Omit<PanelProps, 'now' | 'wire'> & { step: StepOf<'diagnose'> };

/** The heart of a recovery: what is believed and why, what to measure, and the route that is chosen by it. */
export const DiagnosePanel = ({ step, job, sender, rules }: PanelProps & Props) => (
  <Diagnosing step={step} job={job} sender={sender} rules={rules} />
);

/** Nothing of it goes by the clock: it is not drawn anew with every tick. */
const Diagnosing = memo(function Diagnosing({ step, job, sender, rules }: Props) {
  const state = useJobDiagnosis(job, rules);
  const { diagnosis } = state;
  const proposed = diagnosis?.proposal.route ?? null;
  const [picked, setPicked] = useState<RouteKey | null>(null);
  const chosen = picked ?? proposed;
  const waking = job.state.attempt === 1 && needsWaking(job);
  const wakes = offeredWakes(job.plan.model.kind, job.plan.schools);
  const [wake, setWake] = useState<WakeKey>(waking ? (wakes[0] ?? 'none') : 'none');
  const never = diagnosis?.never ?? false;
  const awaitsAnswer = leadsNowhere(job) === null;

  const forecast = diagnosis && chosen ? forecastOf(diagnosis, chosen) : null;
  const choose = (reason?: string) =>
    chosen
      ? sender.send({
          type: 'chooseRoute',
          stepId: step.id,
          route: chosen,
          wake,
          forecast,
          ...(reason ? { reason } : {}),
        })
      : Promise.resolve(false);
  const against = chosen !== null && proposed !== chosen;
  const needsReason = against || (waking && wake === 'none');

  const takeIt =
    chosen === null ? null : needsReason ? (
      <ReasonDialog
        sender={sender}
        trigger={
          <button type="button" className="act">
            Take this route: {ROUTES[chosen].name}
          </button>
        }
        title={against ? 'Not what was proposed' : 'Not woken first'}
        explain={
          proposed && against
            ? `“${ROUTES[proposed].name}” was proposed. Your choice stands, with its reason.`
            : 'Your choice stands, with its reason.'
        }
        act="Take it"
        onConfirm={choose}
      />
    ) : (
      <button type="button" className="act" disabled={sender.busy} onClick={() => void choose()}>
        Take this route: {ROUTES[chosen].name}
      </button>
    );
  const recycle = (
    <Recycle
      step={step}
      sender={sender}
      said={diagnosis?.families ?? null}
      strong={never || (diagnosis !== null && proposed === null && picked === null)}
    />
  );

  return (
    // A screen's height is kept for an answer: what stands below it does not jump away when it comes.
    <div
      className={`grid w-full grid-cols-[minmax(0,1fr)] content-start gap-4 ${awaitsAnswer ? 'min-h-dvh' : ''}`}
    >
      {job.state.attempt > 1 && <BeforeAfter job={job} />}
      <DiagnosisBoard
        state={state}
        c20Ah={job.plan.model.c20Ah}
        acts={
          <>
            {waking && <WakeChoice wakes={wakes} wake={wake} onChoose={setWake} />}
            <div className="flex flex-wrap items-center gap-3">
              {takeIt}
              {recycle}
            </div>
            <ProblemLine sender={sender} />
            <NextReadings
              diagnosis={diagnosis?.stage === 'practice' ? null : diagnosis}
              job={job}
              sender={sender}
              rules={rules}
            />
          </>
        }
      />
      {diagnosis && !never && (
        <AMomentLater>
          <RouteTable
            diagnosis={diagnosis}
            chosen={chosen}
            proposed={proposed}
            onChoose={setPicked}
            rules={rules}
          />
          {chosen && (
            <p className="max-w-[94ch] text-lg">
              <b>{ROUTES[chosen].name}.</b> {ROUTES[chosen].plain}{' '}
              <span className="text-soft">Stop: {ROUTES[chosen].stop}</span>
            </p>
          )}
          {chosen && <ChargerLine job={job} />}
        </AMomentLater>
      )}
      {/* Where a plain rule decides, there is one thing left to do. */}
      {(never || state.failed) && (
        <>
          <ProblemLine sender={sender} />
          <div className="flex flex-wrap gap-3">{recycle}</div>
        </>
      )}
    </div>
  );
});

function forecastOf(diagnosis: Diagnosis, chosen: RouteKey): RouteForecast | null {
  const { learnt } = diagnosis;
  const odds = diagnosis.routes.find((r) => r.route === chosen);
  const [cause] = [...diagnosis.causes].sort((a, b) => b.gravest - a.gravest);
  return odds && cause
    ? {
        cause: cause.cause,
        causeOdds: cause.gravest,
        returns: odds.returns,
        light: odds.light,
        capacity: odds.capacity,
        hours: odds.hours,
        proposed: diagnosis.proposal.route,
        families: diagnosis.families,
        ...(learnt ? { learnt: { of: learnt.of, gain: learnt.gains[chosen] ?? 0 } } : {}),
      }
    : null;
}

function WakeChoice({
  wakes,
  wake,
  onChoose,
}: {
  wakes: readonly WakeKey[];
  wake: WakeKey;
  onChoose: (wake: WakeKey) => void;
}) {
  return (
    <fieldset className="w-full">
      <legend className="label mb-1">A charger would refuse it. How is it woken?</legend>
      <div className="flex flex-wrap gap-2">
        {[...wakes, 'none' as const].map((key) => (
          <button
            key={key}
            type="button"
            aria-pressed={wake === key}
            className={`act-quiet ${wake === key ? 'border-ink! bg-ink! text-sheet!' : ''}`}
            onClick={() => onChoose(key)}
          >
            {WAKES[key].name}
          </button>
        ))}
      </div>
      <p className="mt-1 text-soft">{WAKES[wake].plain}</p>
    </fieldset>
  );
}

function Recycle({
  step,
  sender,
  said,
  strong,
}: {
  step: StepOf<'diagnose'>;
  sender: PanelProps['sender'];
  /** What it is taken for, likeliest first; null before there is an answer. */
  said: FamilyOdds[] | null;
  strong: boolean;
}) {
  const [found, setFound] = useState<FamilyKey | null | undefined>(undefined);
  const was = found === undefined ? likelyFound(said) : found;
  return (
    <ReasonDialog
      sender={sender}
      trigger={
        <button type="button" className={strong ? 'act-stop' : 'act-quiet'}>
          To the recycler
        </button>
      }
      title="To the recycler?"
      explain="It is signed off for good and never charged again here. What goes with it, core, acid and soda, is put on its sheet."
      act="Sign it off"
      stop
      also={<FoundField value={was} onChange={setFound} />}
      onConfirm={(reason) =>
        sender.send({
          type: 'giveOutcome',
          stepId: step.id,
          outcome: 'recycle',
          found: was,
          ...(said ? { said } : {}),
          reason,
        })
      }
    />
  );
}
