import { formatVolume } from '../../../../core/quantities/format.ts';
import { type FormEvent, useState } from 'react';
import { correctSg } from '../../../../core/electrolyte/concentration.ts';
import { SG_OFF } from '../../../../core/electrolyte/acidLines.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { type ParsedReading, parseReading } from '../../../../core/quantities/parseReading.ts';
import { useLots, useSay } from '../../../line/queries.ts';
import { useNow } from '../../../line/benchClock.ts';
import { Labelled } from '../../../parts/Labelled.tsx';
import { HoldLine } from '../../../inputs/Hold.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReasonField } from '../../../inputs/ReasonField.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { ScanButton } from '../../../parts/ScanButton.tsx';

/** Bulk acid before it goes in: its lot, its SG corrected while it is typed, and both temperatures. */
export function AcidPanel({ step, job, sender, rules }: PanelProps & { step: StepOf<'acid'> }) {
  const say = useSay();
  const now = useNow();
  const lots = (useLots().data?.lots ?? []).filter(
    (l) => l.kind === 'acid' && l.leftMl > 0 && (l.expiresAt === null || l.expiresAt > now),
  );
  const [lot, setLot] = useState('');
  const [texts, setTexts] = useState({ sg: '', acid: '', battery: '' });
  const [faults, setFaults] = useState<Partial<Record<keyof typeof texts, string>>>({});
  const [reason, setReason] = useState('');
  const wanted = job.plan.figures.fillSg.value;
  const sg = parseReading(texts.sg, 'specificGravity');
  const acid = parseReading(texts.acid, 'temperature', rules);
  const battery =
    texts.battery.trim() === '' ? null : parseReading(texts.battery, 'temperature', rules);
  const corrected = sg.ok && acid.ok ? correctSg(sg.value, acid.value) : null;
  const off = corrected === null ? null : corrected - wanted;
  const right = off !== null && Math.abs(off) <= SG_OFF + 1e-9;
  const set = (key: keyof typeof texts) => (text: string) => {
    setTexts((old) => ({ ...old, [key]: text }));
    setFaults({});
    sender.clear();
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const said = (p: ParsedReading | null) => (p && !p.ok ? p.message : undefined);
    const found = Object.fromEntries(
      Object.entries({ sg: said(sg), acid: said(acid), battery: said(battery) }).filter(
        ([, m]) => m,
      ),
    ) as typeof faults;
    setFaults(found);
    if (!sg.ok || !acid.ok || (battery && !battery.ok)) return;
    await sender.send({
      type: 'matchAcid',
      stepId: step.id,
      lot,
      specificGravity: sg.value,
      temperatureC: acid.value,
      ...(battery?.ok ? { batteryC: battery.value } : {}),
      ...(reason.trim() ? { reason: reason.trim() } : {}),
    });
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid w-full gap-3">
      <div className="flex flex-wrap items-start gap-3">
        <div className="w-52">
          <Labelled label="Lot of the acid" message={sender.problem?.fields['lot']}>
            <input
              className="field"
              list="acid-lots"
              autoComplete="off"
              autoFocus
              value={lot}
              onChange={(e) => setLot(e.target.value)}
            />
            <datalist id="acid-lots">
              {lots.map((l) => (
                <option key={l.code} value={l.code}>
                  SG {l.sg?.toFixed(3)}, {formatVolume(l.leftMl, rules.volumeUnit)} left
                </option>
              ))}
            </datalist>
          </Labelled>
        </div>
        <span className="mt-6">
          <ScanButton what="the lot" onCode={setLot} />
        </span>
        <ReadingField
          quantity="specificGravity"
          label="SG as read"
          value={texts.sg}
          onChange={set('sg')}
          message={faults.sg ?? sender.problem?.fields['specificGravity']}
        />
        <ReadingField
          quantity="temperature"
          label="Acid"
          value={texts.acid}
          onChange={set('acid')}
          message={faults.acid}
        />
        <ReadingField
          quantity="temperature"
          label="Battery"
          optional
          value={texts.battery}
          onChange={set('battery')}
          message={faults.battery}
        />
        <button
          type="submit"
          className="act mt-6 min-h-12!"
          disabled={sender.busy || lot.trim() === ''}
        >
          It may go in
        </button>
      </div>
      <HoldLine what="lot" code={lot.trim()} />
      {corrected !== null && off !== null && (
        <p className={`rounded-md px-4 py-2 text-lg ${right ? 'bg-moss-pale' : 'bg-ochre-pale'}`}>
          {right ? '✓ ' : '✕ '}
          <b>
            SG {corrected.toFixed(3)} at {say('25 °C')}
          </b>
          : {say('0.0007 for each °C')} away. {wanted.toFixed(3)} is wanted
          {right
            ? '.'
            : `, so it is ${Math.abs(off).toFixed(3)} too ${off > 0 ? 'strong' : 'weak'}. Mix it right in the wet room.`}
        </p>
      )}
      <ProblemLine sender={sender} />
      <ReasonField sender={sender} reason={reason} onReason={setReason} />
    </form>
  );
}
