import { type FormEvent, useState } from 'react';
import { discharges } from '../../../../core/charging/testPlan.ts';
import { compensatedCeilingV } from '../../../../core/charging/limits.ts';
import { handSettings } from '../../../../core/recovery/recovery.ts';
import { parseReading } from '../../../../core/quantities/parseReading.ts';
import { useToday } from '../../../line/benchClock.ts';
import { useChargers, useRules, useSay } from '../../../line/queries.ts';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReasonField } from '../../../inputs/ReasonField.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import type { StartProps } from './props.ts';
import { useBenchMoment } from '../../../line/benchItems.ts';
import { fits, type ChargerOption, tagsByCharger } from '../../../../core/chargers/fit.ts';
import type { ChargerOffer } from '../../../../core/recovery/chargerOffer.ts';
import { useChargerOffer } from '../../../inputs/chargersBeside.ts';
import { ChargerPicks } from './ChargerPicks.tsx';

/** A charge by hand begins: on which charger, set how. */
export function HandStart(props: StartProps) {
  const { data } = useChargers();
  const bench = useBenchMoment();
  const today = useToday(useRules().timeZone);
  const inUse = tagsByCharger(
    (bench?.open ?? [])
      .filter(({ wire, job }) => wire.id !== props.wire.id && job.state.charge?.mode !== 'ended')
      .map(({ wire, job }) => ({
        chargerId: job.state.charge?.charger?.id,
        tag: wire.battery.tag,
      })),
  );
  const offer = useChargerOffer(data?.chargers, props.job, today, JSON.stringify([...inUse]));
  return offer ? <HandSettings {...props} offer={offer} /> : <div className="min-h-80" />;
}

function HandSettings({
  step,
  job,
  sender,
  place,
  aside,
  offer,
}: StartProps & { offer: ChargerOffer }) {
  const say = useSay();
  const { ceilingV } = job.plan.figures;
  const settings = handSettings(job);
  const [option, setOption] = useState<ChargerOption | null>(() => {
    const best = offer.choices[0]?.option;
    return best && fits(best) ? best : null;
  });
  const ampsFor = (on: ChargerOption | null) => (on?.amps ?? settings.setA).toFixed(2);
  const voltsFor = (on: ChargerOption | null) =>
    Math.min(on?.volts ?? settings.setV, settings.setV).toFixed(2);
  const [amps, setAmps] = useState(ampsFor(option));
  const [volts, setVolts] = useState(voltsFor(option));
  /** A question about this charger was answered with yes. */
  const [sure, setSure] = useState(false);
  const [reason, setReason] = useState('');
  const [faults, setFaults] = useState<{ amps?: string; volts?: string }>({});
  const choose = (next: ChargerOption | null) => {
    setOption(next);
    setSure(false);
    sender.clear();
    setAmps(ampsFor(next));
    setVolts(voltsFor(next));
  };
  const byItself = option !== null && option.charger.range === null;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const setA = parseReading(amps, 'current');
    const setV = parseReading(volts, 'voltage');
    setFaults({
      ...(setA.ok ? {} : { amps: setA.message }),
      ...(setV.ok ? {} : { volts: setV.message }),
    });
    if (!setA.ok || !setV.ok) return;
    const why = reason.trim();
    const confirmed = sure || sender.problem?.code === 'ask';
    setSure(confirmed);
    await sender.send({
      type: 'startCharge',
      stepId: step.id,
      place,
      setA: setA.value,
      setV: setV.value,
      ...(option
        ? {
            charger: {
              id: option.charger.id,
              ...(option.setting ? { setting: option.setting.name } : {}),
              ...(option.program ? { program: option.program.name } : {}),
            },
          }
        : {}),
      ...(confirmed ? { sure: true } : {}),
      ...(why ? { reason: why } : {}),
    });
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
      {offer.choices.length > 0 && <ChargerPicks offer={offer} chosen={option} onChoose={choose} />}
      <div className="flex max-w-2xl flex-wrap items-start gap-3">
        {!byItself && (
          <>
            <ReadingField
              quantity="current"
              label="Charger set to"
              value={amps}
              onChange={setAmps}
              message={faults.amps ?? sender.problem?.fields['setA']}
            />
            <ReadingField
              quantity="voltage"
              label="Ceiling set to"
              value={volts}
              onChange={setVolts}
              message={faults.volts ?? sender.problem?.fields['setV']}
            />
          </>
        )}
        <button
          type="submit"
          className={`act min-h-12! ${byItself ? '' : 'mt-6'}`}
          disabled={sender.busy}
        >
          {sender.problem?.code === 'ask' ? 'Yes, current is on' : 'Current is on'}
        </button>
      </div>
      {aside}
      {job.state.chargePlan !== null && discharges(job.state.chargePlan) && (
        <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
          By hand the discharge of its plan is left out: this charge tests no capacity.
        </p>
      )}
      {byItself && !option.charger.shows.includes('amps') && (
        <p className="text-soft">
          {option.charger.name} shows no current: tap its light at each look. What has gone in is
          then an estimate.
        </p>
      )}
      {!byItself && (
        <p className="text-soft">
          In a room at {say(`${job.plan.roomC} °C`)} the ceiling is{' '}
          {compensatedCeilingV(ceilingV.value, job.plan.model.cells, job.plan.roomC).toFixed(2)} V
          if the charger corrects for temperature; without correction set{' '}
          {ceilingV.value.toFixed(2)} V.
        </p>
      )}
      <ProblemLine sender={sender} />
      <ReasonField sender={sender} reason={reason} onReason={setReason} />
    </form>
  );
}
