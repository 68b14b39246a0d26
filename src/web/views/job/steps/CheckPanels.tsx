import { checksOf } from '../../../../core/plan/checks.ts';
import { type FormEvent, useState } from 'react';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { fillText } from '../../../../core/plan/words.ts';
import { formatMoment, formatVolume } from '../../../../core/quantities/format.ts';
import { parseReading } from '../../../../core/quantities/parseReading.ts';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import { HoldLine } from '../../../inputs/Hold.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { ScanButton } from '../../../parts/ScanButton.tsx';

export function AcknowledgePanel({ step, sender }: PanelProps & { step: StepOf<'acknowledge'> }) {
  return (
    <>
      <ProblemLine sender={sender} />
      <button
        type="button"
        className="act"
        disabled={sender.busy}
        onClick={() => void sender.send({ type: 'acknowledge', stepId: step.id })}
      >
        All of it is in place
      </button>
    </>
  );
}

/** Yes-or-no checks; a no ends the job, so it is asked once whether it is meant. */
export function ChecksPanel({ step, job, sender, rules }: PanelProps & { step: StepOf<'checks'> }) {
  const [answers, setAnswers] = useState<Record<string, boolean>>({});
  const failed = step.checks.find((c) => answers[c.id] === false && c.refusal);
  const held = step.checks.find((c) => answers[c.id] === false && c.hold);
  const checks = checksOf(step, job.plan);
  const complete = checks.every((c) => answers[c.id] !== undefined);
  const send = () => sender.send({ type: 'answerChecks', stepId: step.id, answers });
  return (
    <>
      <ul className="grid w-full max-w-2xl gap-2">
        {checks.map((check) => (
          <li
            key={check.id}
            className="flex flex-wrap items-center gap-3 border-b border-hair pb-2"
          >
            <span className="min-w-52 flex-1 text-lg">{fillText(check.text, job.plan, rules)}</span>
            <span
              role="group"
              aria-label={fillText(check.text, job.plan, rules)}
              className="flex gap-2"
            >
              {check.answers.map((word, i) => {
                const value = i === 0;
                const chosen = answers[check.id] === value;
                return (
                  <button
                    key={word}
                    type="button"
                    aria-pressed={chosen}
                    className={`act-quiet min-w-28 ${chosen ? (value ? 'border-moss! bg-moss! text-white!' : 'border-oxide! bg-oxide! text-white!') : ''}`}
                    onClick={() => setAnswers((old) => ({ ...old, [check.id]: value }))}
                  >
                    {chosen && (value ? '✓ ' : '✕ ')}
                    {word}
                  </button>
                );
              })}
            </span>
          </li>
        ))}
      </ul>
      {held && !failed && (
        <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
          {fillText(held.hold ?? '', job.plan, rules)}
        </p>
      )}
      <ProblemLine sender={sender} />
      {failed ? (
        <ReasonDialog
          sender={sender}
          trigger={
            <button type="button" className="act-stop">
              Refuse this battery
            </button>
          }
          title="Refuse this battery?"
          explain={`${fillText(failed.refusal ?? '', job.plan, rules)} This ends the job, and no one can override it.`}
          act="Refuse it"
          stop
          reasonLabel={null}
          onConfirm={send}
        />
      ) : (
        <button
          type="button"
          className="act"
          disabled={!complete || held !== undefined || sender.busy}
          onClick={() => void send()}
        >
          Checked
        </button>
      )}
    </>
  );
}

/** The code on the pack against the code the model calls for. */
export function PackPanel({
  step,
  job,
  sender,
  now,
  rules,
}: PanelProps & { step: StepOf<'pack'> }) {
  const [code, setCode] = useState('');
  const [lot, setLot] = useState('');
  const wanted = job.plan.model.electrolyteCode;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await sender.send({ type: 'matchPack', stepId: step.id, code, lot })) setCode('');
  };
  const refused = job.state.refusedPacks;
  return (
    <form onSubmit={(e) => void submit(e)} className="grid w-full max-w-2xl gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <p>
          <span className="label block">The model calls for</span>
          <b className="big">{wanted}</b>
        </p>
        <label className="min-w-36 flex-1">
          <span className="label">Code on the pack</span>
          <input
            className="field font-label text-2xl! font-semibold"
            autoFocus
            autoComplete="off"
            value={code}
            onChange={(e) => setCode(e.target.value)}
            aria-invalid={!!sender.problem?.fields['command.code']}
          />
        </label>
        <label className="min-w-36 flex-1">
          <span className="label">Lot</span>
          <input
            className="field"
            autoComplete="off"
            value={lot}
            onChange={(e) => setLot(e.target.value)}
          />
        </label>
        <ScanButton what="the lot" onCode={setLot} />
        <button
          type="submit"
          className="act min-h-12!"
          disabled={sender.busy || code.trim() === '' || lot.trim() === ''}
        >
          Match
        </button>
      </div>
      <HoldLine what="lot" code={lot.trim()} />
      <ProblemLine sender={sender} />
      {refused.length > 0 && (
        <div
          role="alert"
          className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-3 text-lg"
        >
          {refused.map((p) => (
            <p key={p.at}>
              <b>✕ {p.code} refused</b> at {formatMoment(p.at, now, rules)}. Another code is another
              quantity of acid.
            </p>
          ))}
          <p>Fetch the pack marked {wanted}. No one can override this.</p>
        </div>
      )}
    </form>
  );
}

/** Something done by hand, with the temperature where it matters and the amount where some was used. */
export function DoPanel({ step, job, sender, rules }: PanelProps & { step: StepOf<'do'> }) {
  const expected = step.amount && job.plan.figures[step.amount.expected];
  const [text, setText] = useState('');
  const [amount, setAmount] = useState('');
  const [reason, setReason] = useState('');
  const [faults, setFaults] = useState<{ temperature?: string; amount?: string }>({});
  const needsReason = sender.problem?.fields['reason'] !== undefined;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const celsius = step.temperature ? parseReading(text, 'temperature', rules) : null;
    const ml = step.amount ? parseReading(amount, 'volume', rules) : null;
    const found = {
      ...(celsius?.ok === false ? { temperature: celsius.message } : {}),
      ...(ml?.ok === false ? { amount: ml.message } : {}),
    };
    setFaults(found);
    if (Object.keys(found).length > 0) return;
    await sender.send({
      type: 'confirmDone',
      stepId: step.id,
      ...(celsius?.ok ? { temperatureC: celsius.value } : {}),
      ...(ml?.ok ? { amountMl: ml.value } : {}),
      ...(reason.trim() ? { reason: reason.trim() } : {}),
    });
  };
  const asks = step.temperature ?? step.amount;
  return (
    <form
      onSubmit={(e) => void submit(e)}
      noValidate
      className="flex w-full max-w-2xl flex-wrap items-start gap-3"
    >
      {step.temperature && (
        <div className="max-w-48">
          <ReadingField
            quantity="temperature"
            label={step.temperature.label}
            value={text}
            autoFocus
            onChange={(t) => {
              setText(t);
              setFaults({});
            }}
            message={faults.temperature}
          />
        </div>
      )}
      {step.amount && (
        <div className="max-w-60">
          <ReadingField
            quantity="volume"
            label={`${step.amount.label}${expected ? `, about ${formatVolume(expected.value, rules.volumeUnit)}` : ''}`}
            value={amount}
            autoFocus
            onChange={(t) => {
              setAmount(t);
              setFaults({});
            }}
            message={faults.amount ?? sender.problem?.fields['command.amountMl']}
          />
        </div>
      )}
      <button
        type="submit"
        className={`act min-h-12! ${asks ? 'mt-6' : ''}`}
        disabled={sender.busy}
      >
        {step.act}
      </button>
      <div className="grid w-full gap-2">
        <ProblemLine sender={sender} />
        {needsReason && (
          <label>
            <span className="label">Reason, for the sheet</span>
            <input className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
        )}
      </div>
    </form>
  );
}
