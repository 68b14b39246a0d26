import type { AskedWire } from '../../../contract/dayPlanWire.ts';
import type { WallStyle } from '../../../core/quantities/format.ts';
import type { JobPlan } from '../../../core/plan/jobPlan.ts';
import type { Procedure } from '../../../core/plan/procedure.ts';
import type { Segment } from '../../../core/watch/timeline.ts';
import { LifeRibbon, PlanFigures } from '../../inputs/PlanPanel.tsx';
import { openJob } from '../../../core/steps/openJob.ts';
import { useMemo } from 'react';
import { ChargerLine } from '../../inputs/ChargerLine.tsx';
import { PromiseAsked } from './Promise.tsx';
import { Empty } from '../../line/States.tsx';
import { sizeWords } from '../../../core/batteries/model.ts';

interface Props {
  plan: JobPlan | null;
  procedure: Procedure | null;
  segments: Segment[];
  promisedAt: number | null;
  now: number;
  wall: WallStyle;
  emptyCatalogue: boolean;
  /** What the day plan says of it. */
  asked: AskedWire | null;
}

/** The whole plan of what is taken in, before anything is opened. */
export function PlanPreview({
  plan,
  procedure,
  segments,
  promisedAt,
  now,
  wall,
  emptyCatalogue,
  asked,
}: Props) {
  const ready = segments.at(-1)?.to ?? null;
  const job = useMemo(
    () => (plan && procedure ? openJob(procedure, plan, 0, '') : null),
    [plan, procedure],
  );
  return (
    <section aria-label="The plan" className="min-w-0 max-lg:mt-8">
      {plan && ready !== null ? (
        <div className="grid gap-4 rounded-lg border border-line bg-sheet p-5">
          <div className="flex flex-wrap items-start justify-between gap-4">
            <h2 className="text-2xl">
              The whole plan
              <span className="block text-lg font-medium text-soft">
                {plan.model.code}, {plan.model.name}, {sizeWords(plan.model)}
              </span>
            </h2>
          </div>
          <PromiseAsked asked={asked} promisedAt={promisedAt} now={now} wall={wall} />
          <div>
            <p className="label">If nothing else were on the bench</p>
            <LifeRibbon
              segments={segments}
              now={now}
              promisedAt={promisedAt}
              readyAt={ready}
              wall={wall}
            />
          </div>
          <PlanFigures plan={plan} />
          {job && <ChargerLine job={job} />}
        </div>
      ) : (
        <Empty title={emptyCatalogue ? 'The catalogue is empty' : 'The plan appears here'}>
          <p>
            {emptyCatalogue
              ? 'Add the first model as its maker prints it. From that come the fill, the waits, the charge and the hour it is ready.'
              : 'Choose the model. Fill, waits, charge, pass line and the earliest hour it is ready are worked out before anything is opened.'}
          </p>
        </Empty>
      )}
    </section>
  );
}
