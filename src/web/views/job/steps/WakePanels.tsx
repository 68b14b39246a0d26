import { useEffect, useMemo, useState } from 'react';
import { wakeCourse } from '../../../../core/diagnosis/parallelWake.ts';
import {
  wakeCurrents,
  type WakePair,
  GAUGES_MM2,
} from '../../../../core/diagnosis/wakeCurrents.ts';
import { type ChemistryKey, forCells } from '../../../../core/batteries/chemistry.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { recoveryOf, type Job } from '../../../../core/job/job.ts';
import { WAKES } from '../../../../core/diagnosis/wakes.ts';
import { jobChemistry } from '../../../../core/job/verdict.ts';
import { Labelled } from '../../../parts/Labelled.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { wakePair } from '../../../../core/recovery/evidence.ts';
import { useToday } from '../../../line/benchClock.ts';
import { useChargers, useRules } from '../../../line/queries.ts';
import { settingWords } from '../../../../core/chargers/fitWords.ts';
import type { ChargerOption } from '../../../../core/chargers/fit.ts';
import { useWakeOffer } from '../../../inputs/chargersBeside.ts';

const numberOf = (text: string): number => Number(text.trim().replace(',', '.'));
const USUAL_WAKE_A = 10;
const USUAL_LEADS_MM2 = [16, 25, 35] as const;
/** A full donor. V per 12 V */
const FULL_DONOR_12V = 12.7;

/** Before the clips go on: what will rush through them, and whether the leads carry it. */
export function WakePanel({ step, job, sender, rules }: PanelProps & { step: StepOf<'wake'> }) {
  const { model } = job.plan;
  const way = recoveryOf(job).routes.at(-1)?.wake ?? 'parallel';
  const beside = way === 'parallel';
  const [texts, setTexts] = useState({
    donorV: '',
    donorAh: String(model.c20Ah),
    leadM: '1',
    chargerA: String(
      beside ? Math.min(USUAL_WAKE_A, 0.2 * model.c20Ah) : Math.round(0.5 * model.c20Ah) / 10,
    ),
    donorTag: '',
  });
  const [chosenMm2, setLeadMm2] = useState<number | null>(null);
  const [charger, setCharger] = useState('');
  const set = (key: keyof typeof texts) => (text: string) => {
    setTexts((old) => ({ ...old, [key]: text }));
    sender.clear();
  };
  const [donorV, donorAh, leadM, chargerA] = [
    numberOf(texts.donorV),
    numberOf(texts.donorAh),
    numberOf(texts.leadM),
    numberOf(texts.chargerA),
  ];
  const known =
    beside && texts.donorV.trim() !== '' && [donorV, donorAh, leadM, chargerA].every((n) => n > 0);
  // Until somebody says what the leads are: the usual ones that carry it.
  const leadMm2 =
    chosenMm2 ??
    USUAL_LEADS_MM2.find(
      (mm2) =>
        wakeCurrents(
          wakePair(job, {
            donorV: donorV > 0 ? donorV : forCells(FULL_DONOR_12V, model.cells),
            donorAh: donorAh > 0 ? donorAh : model.c20Ah,
            leadM: leadM > 0 ? leadM : 1,
            leadMm2: mm2,
            chargerA: 1,
          }),
        ).problems.length === 0,
    ) ??
    USUAL_LEADS_MM2[0];
  const pair = wakePair(job, { donorV, donorAh, leadM, leadMm2, chargerA });
  const currents = known ? wakeCurrents(pair) : null;
  const send = () =>
    sender.send({
      type: 'wake',
      stepId: step.id,
      chargerA,
      ...(charger ? { charger } : {}),
      ...(beside ? { donorV, donorAh, leadM, leadMm2 } : {}),
      ...(texts.donorTag.trim() ? { donorTag: texts.donorTag.trim().toUpperCase() } : {}),
    });
  return (
    <>
      <p className="text-lg">
        <b>{WAKES[way].name}.</b> {WAKES[way].plain}
      </p>
      <div className="grid w-full gap-3 sm:grid-cols-3">
        {beside && (
          <>
            <ReadingField
              quantity="voltage"
              label="Donor reads"
              value={texts.donorV}
              onChange={set('donorV')}
              autoFocus
            />
            <Labelled label="Donor holds, Ah">
              <input
                className="field"
                inputMode="decimal"
                value={texts.donorAh}
                onChange={(e) => set('donorAh')(e.target.value)}
              />
            </Labelled>
            <Labelled label="Its tag, if it has one">
              <input
                className="field uppercase"
                value={texts.donorTag}
                onChange={(e) => set('donorTag')(e.target.value)}
              />
            </Labelled>
            <Labelled label="Each lead, m">
              <input
                className="field"
                inputMode="decimal"
                value={texts.leadM}
                onChange={(e) => set('leadM')(e.target.value)}
              />
            </Labelled>
            <Labelled label="Its copper">
              <select
                className="field"
                value={leadMm2}
                onChange={(e) => setLeadMm2(Number(e.target.value))}
              >
                {GAUGES_MM2.map((mm2) => (
                  <option key={mm2} value={mm2}>
                    {mm2} mm²
                  </option>
                ))}
              </select>
            </Labelled>
          </>
        )}
        <WakeCharger
          job={job}
          donorV={beside && donorV > 0 ? donorV : null}
          donorAh={beside && donorAh > 0 ? donorAh : 0}
          value={charger}
          onChoose={(name, amps) => {
            setCharger(name);
            if (amps !== null) set('chargerA')(String(Number(amps.toFixed(1))));
          }}
        />
        <ReadingField
          quantity="current"
          label="Charger set to"
          value={texts.chargerA}
          onChange={set('chargerA')}
        />
      </div>
      {currents && (
        <div
          className={`w-full rounded-md border-l-8 px-4 py-3 ${currents.problems.length > 0 ? 'border-oxide bg-oxide-pale' : 'border-slate bg-slate-pale'}`}
          aria-label="Currents"
        >
          <div className="flex flex-wrap gap-x-8 gap-y-2">
            <Figure
              label="When the clips go on"
              value={`${currents.inrushA.toFixed(0)} A`}
              more={`to ${currents.worstA.toFixed(0)} A`}
            />
            <Figure
              label="Copper that carries it"
              value={currents.gaugeMm2 === null ? 'none usual' : `${currents.gaugeMm2} mm²`}
            />
            <Course pair={pair} chemistry={jobChemistry(job).key} roomC={rules.roomC} />
          </div>
          {currents.problems.map(({ sentence }) => (
            <p key={sentence} className="mt-2 text-lg">
              ✕ {sentence}
            </p>
          ))}
          {currents.warnings.map((w) => (
            <p key={w} className="mt-2 text-lg">
              ! {w}
            </p>
          ))}
          <p className="mt-2 text-[15px] text-soft">
            Difference of volts over what is in the way: both batteries (5 mΩ for 60 Ah full, three
            times that flat), copper both ways, 4 mΩ of clips. Known to a factor of two.
          </p>
        </div>
      )}
      <ProblemLine sender={sender} />
      <button
        type="button"
        className="act"
        disabled={sender.busy || (beside && (!known || (currents?.problems.length ?? 0) > 0))}
        onClick={() => void send()}
      >
        Clips on, charger on
      </button>
    </>
  );
}

/** Which of the shop's chargers wakes it: it must start at what the clips read, and give no more than both may take. */
function WakeCharger({
  job,
  donorV,
  donorAh,
  value,
  onChoose,
}: {
  job: Job;
  /** What the clips read beside a donor, V; null where there is none. */
  donorV: number | null;
  donorAh: number;
  value: string;
  /** @param amps what it gives; null for one that is not on the wall */
  onChoose: (name: string, amps: number | null) => void;
}) {
  const { data } = useChargers();
  const today = useToday(useRules().timeZone);
  const offered = useWakeOffer(data?.chargers, job, donorV, donorAh, today);
  // What was chosen at other volts may not be offered at these.
  const gone = offered !== null && value !== '' && !offered.some((o) => nameOf(o) === value);
  useEffect(() => {
    if (gone) onChoose('', null);
  });
  if (!data?.chargers.length) return null;
  const options = offered ?? [];
  return (
    <div className="sm:col-span-2">
      <Labelled label="Charger">
        <select
          className="field"
          value={value}
          onChange={(e) => {
            const option = options.find((o) => nameOf(o) === e.target.value);
            onChoose(e.target.value, option?.amps ?? null);
          }}
        >
          <option value="">Not on the wall</option>
          {offered === null && value && <option value={value}>{value}</option>}
          {options.map((o) => (
            <option key={o.charger.id} value={nameOf(o)}>
              {nameOf(o)}
            </option>
          ))}
        </select>
      </Labelled>
      {offered?.length === 0 && (
        <p className="mt-1 text-[15px] text-soft">
          None of the shop’s chargers starts here at so low a current.
        </p>
      )}
    </div>
  );
}

const nameOf = (o: ChargerOption): string => `${o.charger.name}, ${settingWords(o)}`;

/** Who carries what, after ten minutes and after the hour. */
function Course({
  pair,
  chemistry,
  roomC,
}: {
  pair: WakePair;
  chemistry: ChemistryKey;
  roomC: number;
}) {
  const asked = JSON.stringify(pair);
  const course = useMemo(
    () => wakeCourse(JSON.parse(asked) as WakePair, chemistry, roomC),
    [asked, chemistry, roomC],
  );
  return course.map((m) => (
    <Figure
      key={m.minutes}
      label={`After ${m.minutes === 60 ? 'an hour' : `${m.minutes} min`} it takes`}
      value={`${m.sleeperA.toFixed(1)} A`}
      more={
        m.donorGivesA > 0.05
          ? `${m.donorGivesA.toFixed(1)} of it from the donor`
          : `the donor takes ${Math.max(0, -m.donorGivesA).toFixed(1)} A`
      }
    />
  ));
}

function Figure({ label, value, more }: { label: string; value: string; more?: string }) {
  return (
    <p className="leading-tight">
      <span className="label block">{label}</span>
      <b className="font-label text-2xl font-semibold">{value}</b>
      {more && <span className="text-soft"> {more}</span>}
    </p>
  );
}
