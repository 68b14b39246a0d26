import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { CHEMISTRIES } from '../../../core/batteries/chemistry.ts';
import type { ChargePlan } from '../../../core/charging/chargePlan.ts';
import { fitPlan } from '../../../core/charging/fitPlan.ts';
import type { Comparison } from '../../../core/rehearsal/compare.ts';
import { conditionOf, missingAh } from '../../../core/rehearsal/condition.ts';
import type { Job } from '../../../core/job/job.ts';
import { momentOfAct } from '../../line/benchClock.ts';
import { jobOf, useBench, useJob, usePlans, useRules } from '../../line/queries.ts';
import { Loading } from '../../line/States.tsx';
import { KeepPlanDialog, SendPlanDialog } from './PlanDialogs.tsx';
import { Charts } from './Charts.tsx';
import { OutcomeTable } from './OutcomeTable.tsx';
import { DESCRIBED, ownPlanOf, type RehearsalSubject, subjectOfJob, usualWays } from './subject.ts';
import { ShopChargers } from './ShopChargers.tsx';
import { SubjectForm } from './SubjectForm.tsx';
import { useRehearsal } from './useRehearsal.ts';
import { WayCard } from './WayCard.tsx';
import { MOST_WAYS } from './ways.ts';

/** Try a charge on the battery's simulated twin before it is done, up to three ways side by side. */
export function Rehearsal() {
  const [params, setParams] = useSearchParams();
  const jobId = params.get('job');
  const { data, isPending, isError } = useJob(jobId ?? '');
  if (jobId && isPending) return <Loading />;
  const known =
    jobId !== null && !isError && data
      ? { id: jobId, job: jobOf(data.job, data.procedure, momentOfAct()) }
      : null;
  const choose = (id: string | null) => setParams(id ? { job: id } : {}, { replace: true });
  return <Stage key={known?.id ?? ''} known={known} onJob={choose} />;
}

const TWIN_COUNTS = [40, 400, 2000];

function Stage({
  known,
  onJob,
}: {
  known: { id: string; job: Job } | null;
  onJob: (id: string | null) => void;
}) {
  const rules = useRules();
  const { data: plans } = usePlans();
  const { data: bench } = useBench();
  const [subject, setSubject] = useState<RehearsalSubject>(() =>
    known ? subjectOfJob(known.id, known.job) : { ...DESCRIBED, roomC: rules.roomC },
  );
  const jobPlan = useMemo(() => ownPlanOf(known?.job ?? null), [known]);
  const [ways, setWays] = useState<ChargePlan[]>(() =>
    [
      ...(known?.job.state.chargePlan ? [known.job.state.chargePlan] : []),
      ...usualWays(subject.battery.chemistry, jobPlan),
    ].slice(0, MOST_WAYS),
  );
  const [twins, setTwins] = useState(TWIN_COUNTS[0] as number);
  const [keeping, setKeeping] = useState<ChargePlan | null>(null);
  const [sending, setSending] = useState<ChargePlan | null>(null);
  const { battery } = subject;

  const fits = useMemo(() => ways.map((plan) => fitPlan(plan, battery)), [ways, battery]);
  const comparison = useMemo<Comparison | null>(() => {
    const fitted = fits.flatMap((f) => (f.fitted ? [f.fitted] : []));
    if (fitted.length === 0) return null;
    const chemistry = CHEMISTRIES[battery.chemistry];
    return {
      battery: { chemistry: battery.chemistry, cells: battery.cells, c20Ah: battery.c20Ah },
      condition: conditionOf(subject.condition, battery.cells, chemistry),
      ambientC: subject.roomC,
      missingAh: missingAh(subject.condition, battery, chemistry),
      plans: fitted,
    };
  }, [fits, battery, subject]);
  const { drawn, odds, done, failed, cancel, chargers } = useRehearsal(comparison, twins);

  /** Where a way's plan stands among those that were rehearsed; −1 while it has faults. */
  const placeOf = (way: number): number =>
    fits[way]?.fitted ? fits.slice(0, way).filter((f) => f.fitted).length : -1;
  const results = ways.map((plan, i) => ({
    index: i,
    plan,
    rehearsal: drawn?.rehearsals[placeOf(i)] ?? null,
    odds: odds?.[placeOf(i)] ?? null,
  }));
  const choices = [
    ...(jobPlan ? [{ group: 'This job', plans: [jobPlan] }] : []),
    ...(plans?.own.length
      ? [
          {
            group: 'Kept by this shop',
            plans: plans.own.filter((p) => p.kinds.includes(battery.chemistry)),
          },
        ]
      : []),
    {
      group: 'Usual plans',
      plans: (plans?.standard ?? []).filter((p) => p.kinds.includes(battery.chemistry)),
    },
  ];
  const change = (i: number, plan: ChargePlan) => setWays(ways.map((w, k) => (k === i ? plan : w)));
  const jobs = (bench?.jobs ?? []).map((j) => ({
    id: j.id,
    name: `${j.battery.tag} · ${j.battery.owner}`,
  }));
  if (known && !jobs.some((j) => j.id === known.id))
    jobs.unshift({ id: known.id, name: `${known.job.plan.model.code} of this job` });

  return (
    <div className="p-4 md:px-6">
      <h1 className="mb-2 text-3xl">
        Rehearsal{' '}
        <span className="text-xl font-medium text-soft">
          on a simulated twin: nothing here touches a battery
        </span>
      </h1>
      <SubjectForm
        subject={subject}
        jobs={jobs}
        temperatureUnit={rules.temperatureUnit}
        onJob={onJob}
        onChange={(next) => {
          setSubject(next);
          if (next.battery.chemistry !== battery.chemistry)
            setWays(usualWays(next.battery.chemistry, next.jobId ? jobPlan : null));
          if (next.jobId === null && subject.jobId !== null) onJob(null);
        }}
      />
      {failed && (
        <p
          role="alert"
          className="mt-3 rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg"
        >
          The rehearsal stopped: {failed}
        </p>
      )}
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-[minmax(0,33rem)_minmax(0,1fr)]">
        <div className="grid content-start gap-3">
          {results.map(({ index, plan, rehearsal, odds: mine }) => (
            <WayCard
              key={index}
              index={index}
              plan={plan}
              choices={choices}
              battery={battery}
              fit={fits[index] as (typeof fits)[number]}
              summary={rehearsal?.summary ?? null}
              odds={mine}
              onChange={(next) => change(index, next)}
              onRemove={ways.length > 1 ? () => setWays(ways.filter((_, k) => k !== index)) : null}
              onSave={() => setKeeping(plan)}
              onSend={() => setSending(plan)}
            />
          ))}
          {ways.length < MOST_WAYS && (
            <button
              type="button"
              className="act-quiet justify-self-start"
              onClick={() =>
                setWays([
                  ...ways,
                  choices.flatMap((c) => c.plans).find((p) => !ways.some((w) => w.id === p.id)) ??
                    (ways[0] as ChargePlan),
                ])
              }
            >
              Try another way beside {ways.length === 1 ? 'it' : 'them'}
            </button>
          )}
        </div>
        <div className="grid content-start gap-4 lg:sticky lg:top-18 lg:max-h-[calc(100dvh-5rem)] lg:overflow-y-auto">
          <Charts results={results} units={rules} />
          <OutcomeTable
            results={results}
            battery={battery}
            rules={rules}
            benchJobs={bench?.jobs ?? []}
          />
          <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-soft">
            <label className="flex items-center gap-2">
              Odds from
              <select
                className="field w-auto!"
                value={twins}
                onChange={(e) => setTwins(Number(e.target.value))}
              >
                {TWIN_COUNTS.map((n) => (
                  <option key={n} value={n}>
                    {n.toLocaleString('en-GB')} twins
                  </option>
                ))}
              </select>
            </label>
            {done !== null && (
              <>
                <progress
                  className="h-2 w-40 accent-ink"
                  value={done}
                  max={twins}
                  aria-label="Twins rehearsed"
                />
                <span>
                  {done} of {twins}
                </span>
                <button type="button" className="act-quiet" onClick={cancel}>
                  Enough
                </button>
              </>
            )}
            <p className="max-w-[60ch] text-[15px]">
              Twins differ as real batteries of this kind do, and as little is known of its
              condition. Small numbers: where eight of ten lie. What is assumed and what is
              published stands in the model’s own page.
            </p>
          </div>
        </div>
      </div>
      <div className="mt-4">
        <ShopChargers
          comparison={comparison}
          work={chargers}
          temperatureUnit={rules.temperatureUnit}
        />
      </div>
      {keeping && <KeepPlanDialog plan={keeping} onClose={() => setKeeping(null)} />}
      {sending && (
        <SendPlanDialog plan={sending} jobId={subject.jobId} onClose={() => setSending(null)} />
      )}
    </div>
  );
}
