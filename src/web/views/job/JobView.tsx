import { chanceWords } from '../../../core/quantities/chance.ts';
import { Ellipsis } from 'lucide-react';
import { lazy, useCallback, useDeferredValue, useMemo } from 'react';
import { Link, useParams } from 'react-router';
import type { JobWire } from '../../../contract/wire.ts';
import type { Job } from '../../../core/job/job.ts';

import { formatMoment, formatMomentShort } from '../../../core/quantities/format.ts';
import { DraftScope } from '../../line/draft.ts';
import { toTheQuarter, useNow } from '../../line/benchClock.ts';
import { inDrill } from '../../line/drillPlace.ts';
import { usePlannedLife } from '../../line/planned.ts';
import { jobOf, useJob, useRules } from '../../line/queries.ts';
import { useWhole } from '../../line/whole.ts';
import { useJobSender } from '../../line/sending.ts';
import { useTogether } from '../../line/together.ts';
import { OpensLater } from '../../parts/OpensLater.tsx';
import { WhenSeen } from '../../parts/WhenSeen.tsx';
import { Loading, NotFetched } from '../../line/States.tsx';
import { PortStrip } from '../../drawings/PortStrip.tsx';
import { stripLook } from '../../drawings/portState.ts';
import { LifeRibbon, PlanFigures } from '../../inputs/PlanPanel.tsx';
import { Readings } from '../../inputs/Readings.tsx';
import { StepList } from './StepList.tsx';
import { StepPanel } from './StepPanel.tsx';
import { TrayBar } from './TrayBar.tsx';
import { hasRole, stepById } from '../../../core/plan/procedure.ts';
import { fillText } from '../../../core/plan/words.ts';
import { Margin } from '../../inputs/Margin.tsx';
import { SizeLine } from './SizeLine.tsx';

const ChargeSays = lazy(async () => ({
  default: (await import('./charge/ChargeSays.tsx')).ChargeSays,
}));
const JobMenu = lazy(async () => ({ default: (await import('./JobMenu.tsx')).JobMenu }));
const ReadingsChart = lazy(() => import('../../drawings/ReadingsChart.tsx'));

/** A narrower band of times is one time. */
const BAND_SHOWN_MS = 20 * 60_000;

/** A job in hand: what to do now, with everything it needs around it. */
export function JobView() {
  const { id = '' } = useParams();
  const { data, error, refetch } = useJob(id);
  const now = useNow();
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  return <OpenJob wire={data.job} job={jobOf(data.job, data.procedure, now)} now={now} />;
}

function OpenJob({ wire, job, now: exactly }: { wire: JobWire; job: Job; now: number }) {
  const { battery } = wire;
  // What is to be done now is drawn with every tick; what stands around it, to the quarter minute.
  const now = toTheQuarter(exactly);
  const rules = useRules();
  const sender = useJobSender(wire.id);
  const together = useTogether(wire, job, sender);
  const { segments, ready, band, kept } = usePlannedLife(wire.id, job, now);
  // The chart may follow a moment later; the answer to a tap may not wait for it.
  const drawn = useDeferredValue(job.state.readings);
  // What to do now is drawn first; what stands below and beside it comes a frame later.
  const whole = useWhole();
  const pictured = useMemo(() => ({ tag: battery.tag, jobId: wire.id }), [battery.tag, wire.id]);
  const stepId = job.state.current?.stepId;
  const about = useMemo(
    () => ({ jobId: wire.id, ...(stepId ? { stepId } : {}) }),
    [wire.id, stepId],
  );
  const stepName = useCallback(
    (id: string) => (id ? fillText(stepById(job.procedure, id).title, job.plan, rules) : null),
    [job, rules],
  );
  const late = ready !== null && battery.promisedAt !== null && ready > battery.promisedAt;

  return (
    <div className="p-4 md:px-6">
      <header className="mb-2 flex flex-wrap items-start gap-x-6 gap-y-3 sm:items-center">
        <div className="min-w-0">
          <h1 className="text-4xl leading-none">{battery.tag}</h1>
          <p className="mt-1 max-w-[30ch] truncate text-soft" title={battery.owner}>
            {battery.modelCode} · {battery.owner}
          </p>
          {job.plan.model.estimate && <SizeLine model={job.plan.model} sender={together.sender} />}
        </div>
        <div className="max-sm:basis-full">
          <PortStrip look={stripLook(job)} width={200} />
        </div>
        {ready !== null && (
          <p className="text-lg leading-tight">
            <span className="label block">Ready</span>
            <b className={`font-label text-2xl font-semibold ${late ? 'text-oxide' : ''}`}>
              {formatMoment(ready, now, rules)}
            </b>
            {band && band.high - band.low > BAND_SHOWN_MS && (
              <span className="block text-[15px] text-soft">
                {formatMomentShort(band.low, now, rules)} to{' '}
                {formatMomentShort(band.high, now, rules)}
              </span>
            )}
          </p>
        )}
        {battery.promisedAt !== null && (
          <p className="text-lg leading-tight">
            <span className="label block">{late ? '✕ Promised, will be late' : 'Promised'}</span>
            <b className="font-label text-2xl font-semibold">
              {formatMoment(battery.promisedAt, now, rules)}
            </b>
            {kept !== null && battery.promisedAt > now && (
              <Link to="/plan" className="wordlink block text-[15px] text-soft">
                kept: {chanceWords(kept)}
              </Link>
            )}
          </p>
        )}
        <div className="ml-auto flex flex-wrap gap-2">
          {!inDrill && (
            <>
              <Link to={`/jobs/${wire.id}/sheet`} className="act-quiet">
                Sheet and tag
              </Link>
              <Link to={`/batteries/${battery.tag}`} className="act-quiet">
                Record
              </Link>
            </>
          )}
          {(job.state.status === 'running' || job.state.status === 'with-lead') && (
            <OpensLater
              className="act-quiet px-3!"
              label="More for this job"
              menu={(button) => <JobMenu {...button} job={job} sender={sender} />}
            >
              <Ellipsis size={22} aria-hidden />
            </OpensLater>
          )}
        </div>
      </header>
      <LifeRibbon
        segments={segments}
        now={now}
        promisedAt={battery.promisedAt}
        readyAt={ready}
        wall={rules}
      />

      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-[minmax(0,1fr)_300px]">
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-5">
          <TrayBar trayId={battery.trayId} {...together} />
          <DraftScope value={`${wire.id} ${job.state.current?.stepId ?? ''} ${job.state.attempt}`}>
            <StepPanel
              key={`${job.state.current?.stepId}${job.state.attempt}${job.state.status}`}
              job={job}
              wire={wire}
              sender={together.sender}
              now={exactly}
              rules={rules}
            />
          </DraftScope>
          {job.procedure.purpose === 'recover' &&
            hasRole(job.procedure, job.state.current?.stepId, 'main-charge') && (
              <WhenSeen height={240}>
                <ChargeSays job={job} rules={rules} />
              </WhenSeen>
            )}
          {whole && job.state.readings.length > 0 && (
            <section
              aria-label="Readings"
              className="rounded-lg border border-line bg-sheet p-5 [content-visibility:auto] [contain-intrinsic-height:auto_480px]"
            >
              <h2 className="mb-2 text-2xl">Readings</h2>
              {drawn.length > 1 && (
                <WhenSeen height={200}>
                  <ReadingsChart
                    readings={drawn}
                    rules={rules}
                    ceilingV={job.plan.figures.ceilingV.value}
                    passV={job.plan.figures.passV.value}
                  />
                </WhenSeen>
              )}
              <Readings job={job} sender={sender} rules={rules} now={now} pictured={pictured} />
            </section>
          )}
          {whole && !inDrill && <Margin tag={battery.tag} about={about} stepName={stepName} />}
          {whole && (
            <section
              aria-label="Numbers of this plan"
              className="rounded-lg border border-line bg-sheet p-5 [content-visibility:auto] [contain-intrinsic-height:auto_640px]"
            >
              <h2 className="mb-2 text-2xl">Numbers of this plan</h2>
              <PlanFigures plan={job.plan} />
            </section>
          )}
        </div>
        {whole && <StepList job={job} sender={sender} now={now} rules={rules} />}
      </div>
    </div>
  );
}
