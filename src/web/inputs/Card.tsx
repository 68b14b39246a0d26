import { TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import type { JobWire } from '../../contract/wire.ts';
import type { HouseRules } from '../../core/house/rules.ts';
import type { Job } from '../../core/job/job.ts';
import type { Step } from '../../core/plan/procedure.ts';
import { HAZARDS } from '../../core/safety/hazards.ts';
import { StepDrawing } from '../drawings/StepDrawing.tsx';
import { useSay } from '../line/queries.ts';
import { useShowHow } from '../line/showHow.ts';
import type { JobSender } from '../line/sending.ts';

/** What every panel of a step works with. */
export interface PanelProps {
  job: Job;
  wire: JobWire;
  sender: JobSender;
  now: number;
  rules: HouseRules;
}

export type CardTone = 'plain' | 'live' | 'wet' | 'rested' | 'stop';
const EDGE: Record<CardTone, string> = {
  plain: 'border-ink',
  live: 'border-ember',
  wet: 'border-slate',
  rested: 'border-moss',
  stop: 'border-oxide',
};

interface CardProps {
  tone: CardTone;
  eyebrow: string;
  title: string;
  detail?: string;
  step?: Step;
  /** The words of the step are known by now; they fold away to leave room for the work. */
  folded?: boolean;
  children: ReactNode;
}

/** The frame of the step in hand; its edge says what the battery is doing. */
export function Card({ tone, eyebrow, title, detail, step, folded = false, children }: CardProps) {
  return (
    <section aria-label="Step in hand" className={`rounded-lg border-2 bg-sheet p-5 ${EDGE[tone]}`}>
      <p
        className={`eyebrow ${tone === 'stop' ? 'text-oxide' : tone === 'live' ? 'text-ember-ink' : 'text-soft'}`}
      >
        {eyebrow}
      </p>
      <h2 className="text-3xl">{title}</h2>
      {folded ? (
        <details className="mt-1">
          <summary className="wordlink min-h-11 w-fit cursor-pointer py-2 text-soft">
            How, and its cautions
          </summary>
          <Words detail={detail} step={step} />
        </details>
      ) : (
        <Words detail={detail} step={step} />
      )}
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] justify-items-start gap-4">
        {children}
      </div>
    </section>
  );
}

/** How a step is done and what may hurt: with its drawing for whoever wants to be shown, in two lines for whoever knows. */
function Words({ detail, step }: { detail: string | undefined; step: Step | undefined }) {
  const [shows, change] = useShowHow();
  const say = useSay();
  if (!step) return detail ? <p className="mt-2 max-w-[94ch] text-lg">{detail}</p> : null;
  const hazards = step.hazards ?? [];
  const toggle = (
    <button
      type="button"
      className="wordlink min-h-11 text-soft"
      aria-pressed={shows}
      onClick={() => change(!shows)}
    >
      {shows ? 'Show less' : 'Show me how'}
    </button>
  );
  if (!shows)
    return (
      <div className="mt-1">
        {detail && <p className="line-clamp-1 text-lg">{detail}</p>}
        <p className="flex flex-wrap items-center gap-x-3">
          {hazards.length > 0 && (
            <span className="flex items-center gap-2 font-semibold">
              <TriangleAlert size={20} className="shrink-0 text-ochre" aria-hidden />
              {hazards.map((key) => HAZARDS[key].title).join(' · ')}
            </span>
          )}
          {toggle}
        </p>
      </div>
    );
  return (
    <div className="mt-2 grid gap-x-6 gap-y-2 md:grid-cols-[minmax(0,1fr)_auto] [&>svg]:md:w-64">
      <div>
        {detail && <p className="max-w-[80ch] text-lg">{detail}</p>}
        {hazards.length > 0 && (
          <ul className="mt-3 grid gap-1.5">
            {hazards.map((key) => (
              <li key={key} className="flex max-w-[80ch] gap-2.5">
                <TriangleAlert size={20} className="mt-0.5 shrink-0 text-ochre" aria-hidden />
                <span>
                  <b>{HAZARDS[key].title}.</b> {say(HAZARDS[key].text)}
                </span>
              </li>
            ))}
          </ul>
        )}
        {toggle}
      </div>
      <StepDrawing step={step} />
    </div>
  );
}
