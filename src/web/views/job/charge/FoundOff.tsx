import { chargeOffSince, type ChargeState } from '../../../../core/job/chargeState.ts';
import { formatMoment } from '../../../../core/quantities/format.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import type { JobSender } from '../../../line/sending.ts';
import { SendingDialog } from '../../../inputs/SendingDialog.tsx';
import { DialogBack } from '../../../parts/DialogFrame.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';

/** A charger that is found without current: since about when? It is connected again with the answer. */
export function FoundOff({
  charge,
  stepId,
  sender,
  now,
  lastLookAt,
  rules,
}: {
  charge: ChargeState;
  stepId: string;
  sender: JobSender;
  now: number;
  /** When somebody last saw current flow, ms. */
  lastLookAt: number;
  rules: HouseRules;
}) {
  if (chargeOffSince(charge) !== null) return null;
  const clock = (at: number) => formatMoment(at, now, rules);
  const choices = [
    { at: now - Math.min(60_000, now - lastLookAt), label: 'Just now' },
    { at: (now + lastLookAt) / 2, label: `About half of the time since the last look` },
    { at: lastLookAt, label: `Since the last look` },
  ];
  return (
    <SendingDialog
      sender={sender}
      trigger={
        <button type="button" className="act-quiet">
          Found unplugged
        </button>
      }
      title="Off since about when?"
      description="Connect it again first. Hours and Ah without current are not counted, and the time is printed as a deviation."
    >
      {(close) => (
        <div className="grid gap-2">
          {choices.map(({ at, label }) => (
            <button
              key={label}
              type="button"
              className="act-quiet min-h-14! justify-between text-left"
              disabled={sender.busy}
              onClick={() =>
                void sender
                  .send({ type: 'foundOff', stepId, sinceAt: Math.round(at) })
                  .then((kept) => kept && close())
              }
            >
              <span>{label}</span>
              <b className="whitespace-nowrap">{clock(at)}</b>
            </button>
          ))}
          <ProblemLine sender={sender} />
          <DialogBack className="act-quiet mt-2">It is still on: back</DialogBack>
        </div>
      )}
    </SendingDialog>
  );
}
