import { useSay } from '../../../line/queries.ts';
import { useState } from 'react';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { OUTCOMES, type RecoveryOutcome } from '../../../../core/job/recoveryState.ts';
import { disposalOf, judgeRecovery, outcomeAllowed } from '../../../../core/recovery/judging.ts';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingForm } from '../../../inputs/ReadingForm.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { BeforeAfter } from '../../../drawings/BeforeAfter.tsx';
import { sendReading } from '../../../line/sendReading.ts';

const KEYS = Object.keys(OUTCOMES) as RecoveryOutcome[];
const TONE: Record<RecoveryOutcome, string> = {
  return: 'border-moss bg-moss-pale',
  light: 'border-slate bg-slate-pale',
  another: 'border-ochre bg-ochre-pale',
  recycle: 'border-oxide bg-oxide-pale',
};

/** What the numbers say becomes of it, why, and the signature under it. */
export function OutcomePanel({ step, job, sender }: PanelProps & { step: StepOf<'outcome'> }) {
  const say = useSay();
  const verdict = judgeRecovery(job);
  const [picked, setPicked] = useState<RecoveryOutcome>(verdict.suggested);
  const disposal = disposalOf(job);
  const send = (reason?: string) =>
    sender.send({
      type: 'giveOutcome',
      stepId: step.id,
      outcome: picked,
      ...(reason ? { reason } : {}),
    });
  const act = (
    <button
      type="button"
      className={picked === 'recycle' ? 'act-stop' : 'act'}
      disabled={sender.busy}
      onClick={picked === verdict.suggested ? () => void send() : undefined}
    >
      Sign: {OUTCOMES[picked].name.toLowerCase()}
    </button>
  );
  return (
    <>
      <BeforeAfter job={job} />
      <div className={`w-full rounded-md border-l-8 px-4 py-3 ${TONE[verdict.suggested]}`}>
        <p className="font-label text-2xl font-semibold">{OUTCOMES[verdict.suggested].name}</p>
        <ul className="mt-1 text-lg">
          {verdict.reasons.map((r) => (
            <li key={r}>{say(r)}</li>
          ))}
        </ul>
        {verdict.warnings.map((w) => (
          <p key={w} className="mt-1 text-lg font-semibold">
            {say(w)}
          </p>
        ))}
      </div>
      <div role="group" aria-label="Verdict" className="grid w-full gap-2 sm:grid-cols-4">
        {KEYS.map((key) => {
          const allowed = outcomeAllowed(verdict, key);
          return (
            <button
              key={key}
              type="button"
              aria-pressed={picked === key}
              disabled={!allowed}
              className={`min-h-20 rounded-md border px-3 py-2 text-left ${picked === key ? 'border-ink bg-ink text-sheet' : allowed ? 'border-ink hover:bg-hair' : 'border-line text-soft'}`}
              onClick={() => {
                sender.clear();
                setPicked(key);
              }}
            >
              <b className="block font-label text-lg leading-tight">{OUTCOMES[key].name}</b>
              <span className="text-[15px] leading-tight">
                {allowed ? OUTCOMES[key].plain : 'The numbers do not carry it.'}
              </span>
            </button>
          );
        })}
      </div>
      {picked === 'recycle' && (
        <p className="text-lg">
          To the recycler: {disposal.core}, about {say(`${disposal.acidL.toFixed(1)} L of acid`)} in
          it; {say(`${disposal.bicarbonateKg.toFixed(1)} kg of bicarbonate`)} at hand. Upright,
          posts covered, in a tub; local rules first.
        </p>
      )}
      <ProblemLine sender={sender} />
      {picked === verdict.suggested ? (
        act
      ) : (
        <ReasonDialog
          sender={sender}
          trigger={act}
          title={`${OUTCOMES[picked].name}, though the numbers say ${OUTCOMES[verdict.suggested].name.toLowerCase()}`}
          explain="Signed, and printed with its reason."
          act="Sign it"
          onConfirm={send}
        />
      )}
    </>
  );
}

/** Rest voltage after the week. */
export function HoldPanel({ sender }: PanelProps) {
  const say = useSay();
  return (
    <>
      <div className="w-full max-w-xl">
        <ReadingForm
          must={['voltageV']}
          may={['temperatureC']}
          labels={{ temperatureC: 'It stood at' }}
          act="Save reading"
          sender={sender}
          autoFocus
          onSend={sendReading(sender, 'hold')}
        />
      </div>
      <p className="max-w-[70ch] text-soft">
        {say(
          'Warm, it loses more: the rate doubles each 10 °C, and the temperature is taken out of it.',
        )}
      </p>
      <ProblemLine sender={sender} />
    </>
  );
}
