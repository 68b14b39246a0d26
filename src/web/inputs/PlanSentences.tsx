import { Fragment, type ReactNode } from 'react';
import type { ChargePlan } from '../../core/charging/chargePlan.ts';
import type { PlanFault } from '../../core/charging/fitPlan.ts';
import { type PlanScale, stageSentence, withNumber } from '../../core/charging/planSentences.ts';
import { SentenceNumber } from './SentenceNumber.tsx';

interface Props {
  plan: ChargePlan;
  scale: PlanScale;
  faults?: readonly PlanFault[];
  /** Without it the sentences are only read. */
  onChange?: (plan: ChargePlan) => void;
  /** What stands beside a stage: how far it is, or what can be done with it. */
  beside?: (stage: number) => ReactNode;
}

/** A charge plan as a technician would say it, a sentence a stage; its numbers can be changed where they stand. */
export function PlanSentences({ plan, scale, faults = [], onChange, beside }: Props) {
  return (
    <ol className="grid gap-1.5">
      {plan.stages.map((stage, i) => {
        const mine = faults.filter((f) => f.stage === i);
        return (
          <li key={i} className="flex items-start gap-2">
            <div className="min-w-0 flex-1">
              <p className="text-lg leading-[2.1rem]">
                {stageSentence(stage, i, scale).map((part, k) =>
                  part.kind === 'text' ? (
                    <Fragment key={k}>
                      {part.text.startsWith(',') ? `${part.text} ` : ` ${part.text} `}
                    </Fragment>
                  ) : onChange ? (
                    <SentenceNumber
                      key={k}
                      part={part}
                      wrong={mine.some((f) => part.path.slice(2).join('.').startsWith(f.part))}
                      onChange={(shown) => onChange(withNumber(plan, part, shown))}
                    />
                  ) : (
                    <b key={k} className="font-label text-xl font-semibold whitespace-nowrap">
                      {part.value.toFixed(part.decimals)}{' '}
                      <small className="text-[15px] font-medium text-soft">{part.unit}</small>
                    </b>
                  ),
                )}
                .
              </p>
              {mine.map((fault) => (
                <p key={fault.part + fault.sentence} role="alert" className="text-oxide">
                  ✕ {fault.sentence}
                </p>
              ))}
            </div>
            {beside?.(i)}
          </li>
        );
      })}
    </ol>
  );
}
