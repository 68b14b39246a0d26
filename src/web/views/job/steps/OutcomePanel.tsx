import { useSay } from '../../../line/queries.ts';
import { useMemo, useState } from 'react';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { OUTCOMES, type RecoveryOutcome } from '../../../../core/job/recoveryState.ts';
import { disposalOf, judgeRecovery, outcomeAllowed } from '../../../../core/recovery/judging.ts';
import type { FamilyKey } from '../../../../core/diagnosis/practice/families.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import type { Job } from '../../../../core/job/job.ts';
import { accountOf } from '../../../../core/recovery/account.ts';
import { familiesAtOnce } from '../../../../core/recovery/question.ts';
import { FoundField, likelyFound } from '../diagnosis/FoundField.tsx';
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
export function OutcomePanel({
  step,
  job,
  sender,
  rules,
}: PanelProps & { step: StepOf<'outcome'> }) {
  const say = useSay();
  const verdict = judgeRecovery(job);
  const [picked, setPicked] = useState<RecoveryOutcome>(verdict.suggested);
  const disposal = disposalOf(job);
  const likely = useMemo(() => likelyFound(familiesAtOnce(job)), [job]);
  const [found, setFound] = useState<FamilyKey | null | undefined>(undefined);
  const was = found === undefined ? likely : found;
  const send = (reason?: string) =>
    sender.send({
      type: 'giveOutcome',
      stepId: step.id,
      outcome: picked,
      ...(picked === 'another' ? {} : { found: was }),
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
      {picked !== 'another' && <FoundField value={was} onChange={setFound} />}
      <Account job={job} rules={rules} />
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

/** What the recovery took, and what the battery is worth by it. */
function Account({ job, rules }: { job: Job; rules: HouseRules }) {
  const { hours, handsMin, cost, worthBefore, worthNow } = accountOf(job, rules.stakes);
  const { currency } = rules.stakes;
  const money = (amount: number): string => `${amount.toFixed(0)} ${currency}`;
  return (
    <dl aria-label="What it took" className="flex flex-wrap gap-x-10 gap-y-2">
      {[
        ['On the charger', `${hours.toFixed(0)} h`],
        ['Hands, about', `${handsMin.toFixed(0)} min`],
        ['Cost of both', money(cost)],
        [
          'Worth by its capacity',
          worthNow === null
            ? 'not tested'
            : worthBefore === null
              ? money(worthNow)
              : `${money(worthBefore)} → ${money(worthNow)}`,
        ],
      ].map(([label, value]) => (
        <div key={label} className="leading-tight">
          <dt className="label">{label}</dt>
          <dd className="font-label text-xl font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
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
