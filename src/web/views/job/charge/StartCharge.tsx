import { type FormEvent, type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import type { Problem } from '../../../../contract/wire.ts';
import type { StartLive } from '../../../../contract/asks.ts';
import { firstChargePlan } from '../../../../core/charging/jobChargePlan.ts';
import { discharges } from '../../../../core/charging/testPlan.ts';
import { shareAtFirst } from '../../../../core/job/chargeExpected.ts';
import { instrumentAt } from '../../../../core/house/instruments.ts';
import { jobChemistry } from '../../../../core/job/verdict.ts';
import { ask, problemOf } from '../../../line/api.ts';
import { newId } from '../../../line/newId.ts';
import { queryClient, useBench } from '../../../line/queries.ts';
import { useSigning } from '../../../line/signing.tsx';
import { Labelled } from '../../../parts/Labelled.tsx';
import { PlanSentences } from '../../../inputs/PlanSentences.tsx';
import type { ChargeProps, StartProps } from './props.ts';
import { HandStart } from './HandStart.tsx';

/** Which place, and who watches: its charger by a plan, or a person with a reading each hour. */
export function StartCharge(props: ChargeProps) {
  const { wire, rules } = props;
  const { data } = useBench();
  const taken = new Set(
    (data?.jobs ?? [])
      .filter((j) => j.id !== wire.id && j.state.charge && j.state.charge.mode !== 'ended')
      .map((j) => j.state.charge?.place),
  );
  const places = Array.from({ length: rules.places }, (_, i) => i + 1);
  // A plan that discharges wants an electronic load beside the charger.
  const wantsLoad = props.job.state.chargePlan !== null && discharges(props.job.state.chargePlan);
  const has = (kind: 'charger' | 'load', place: number) =>
    instrumentAt(rules.instruments, kind, place) !== null;
  const served = (place: number) => has('charger', place) && (!wantsLoad || has('load', place));
  const free = places.filter((p) => !taken.has(p));
  const [place, setPlace] = useState<number | null>(null);
  const [byHand, setByHand] = useState(false);
  const chosen = place ?? free.find(served) ?? free[0] ?? 1;
  const live = served(chosen) && !byHand;
  const anyServed = places.some(served);
  return (
    <div className="grid w-full gap-4">
      <fieldset>
        <legend className="label mb-1">
          Charging place
          {anyServed && '; a dot marks those with a charger that is watched by itself'}
        </legend>
        <div className="flex flex-wrap gap-2">
          {places.map((p) => (
            <button
              key={p}
              type="button"
              aria-pressed={p === chosen}
              disabled={taken.has(p)}
              onClick={() => setPlace(p)}
              className={`act-quiet relative min-w-12 px-2! ${p === chosen ? 'border-ink! bg-ink! text-sheet!' : ''}`}
            >
              {p}
              {served(p) && (
                <span
                  aria-hidden
                  className="absolute top-1 right-1 size-2 rounded-full bg-current"
                />
              )}
              {served(p) && <span className="sr-only"> with a charger</span>}
              {taken.has(p) && <span className="sr-only"> taken</span>}
            </button>
          ))}
        </div>
      </fieldset>
      {live ? (
        <LiveStart
          key={chosen}
          {...props}
          place={chosen}
          aside={<Switch onClick={() => setByHand(true)}>Charge by hand here instead</Switch>}
        />
      ) : (
        <HandStart
          key={chosen}
          {...props}
          place={chosen}
          aside={
            served(chosen) && (
              <Switch onClick={() => setByHand(false)}>Let the charger watch it</Switch>
            )
          }
        />
      )}
    </div>
  );
}

function Switch({ onClick, children }: { onClick: () => void; children: ReactNode }) {
  return (
    <button type="button" className="wordlink min-h-11 text-soft" onClick={onClick}>
      {children}
    </button>
  );
}

function LiveStart({ step, job, wire, place, aside }: StartProps) {
  const { sign } = useSigning();
  const { model, figures } = job.plan;
  const plan =
    job.state.chargePlan ??
    firstChargePlan(model, jobChemistry(job).key, figures.chargeA.value, figures.ceilingV.value);
  const [percent, setPercent] = useState(() => (100 * shareAtFirst(job)).toFixed(0));
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState<Problem | null>(null);
  const [checking, setChecking] = useState(false);
  const charge = percent.trim() === '' ? null : Number(percent.replace(',', '.')) / 100;
  const off = charge !== null && !(charge >= 0 && charge <= 1);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (off) return;
    const by = await sign();
    if (!by) return;
    setChecking(true);
    setProblem(null);
    const body: StartLive = {
      commandId: newId(),
      by,
      stepId: step.id,
      place,
      charge,
      ...(reason.trim() ? { reason: reason.trim() } : {}),
    };
    try {
      await ask('startLive', { params: { id: wire.id }, body });
      await queryClient.invalidateQueries({ queryKey: ['job', wire.id] });
    } catch (error) {
      setProblem(problemOf(error));
    } finally {
      setChecking(false);
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-36">
          <Labelled label="Its charge now, %" message={off ? '0 to 100' : undefined}>
            <input
              className="field font-label text-2xl! font-semibold"
              inputMode="decimal"
              autoComplete="off"
              placeholder="not known"
              value={percent}
              aria-invalid={off}
              onChange={(e) => setPercent(e.target.value)}
            />
          </Labelled>
        </div>
        {problem?.fields['reason'] && (
          <label className="min-w-60 flex-1">
            <span className="label">Reason, for the sheet</span>
            <input className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
        )}
        <button type="submit" className="act min-h-12!" disabled={checking}>
          {checking ? 'Checking the clips' : 'Check the clips and start'}
        </button>
        {aside}
      </div>
      <p className="text-soft">
        Clips on at place {place}, plus on plus. Volts, polarity and temperature are checked with
        everything off. Current flows only if they agree.
      </p>
      {problem && (
        <p
          role="alert"
          className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg"
        >
          {problem.message}
        </p>
      )}
      <section aria-label="Charge plan" className="rounded-md bg-hair px-4 py-3">
        <div className="mb-1 flex flex-wrap items-baseline justify-between gap-x-4">
          <h3 className="text-xl">{plan.name}</h3>
          <Link
            to={`/rehearsal?job=${wire.id}`}
            className="wordlink inline-flex min-h-11 items-center"
          >
            Rehearse or change it
          </Link>
        </div>
        <PlanSentences plan={plan} scale={model} />
      </section>
    </form>
  );
}
