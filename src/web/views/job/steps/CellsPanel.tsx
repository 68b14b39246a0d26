import { useSay } from '../../../line/queries.ts';
import { correctSg } from '../../../../core/electrolyte/concentration.ts';
import { standingReadings } from '../../../../core/job/job.ts';
import { CellsForm } from '../../../inputs/CellsForm.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { sendReading } from '../../../line/sendReading.ts';

/** SG of every cell; the last ones read stand beside it, corrected to the shop's reference. */
export function CellsPanel({ job, sender, rules }: PanelProps) {
  const say = useSay();
  const last = standingReadings(job.state, 'cells').findLast((r) =>
    r.cells?.some((c) => c.specificGravity !== undefined),
  );
  const celsius = last?.values.temperatureC;
  return (
    <>
      <CellsForm
        cells={job.plan.model.cells}
        ask={['specificGravity', 'level', 'voltageV']}
        act="Save cells"
        sender={sender}
        onSend={sendReading(sender, 'cells')}
      />
      {last?.cells && celsius !== undefined && (
        <p className="text-lg text-soft">
          Last time:{' '}
          {last.cells
            .map((c) =>
              c.specificGravity === undefined
                ? '–'
                : correctSg(c.specificGravity, celsius, rules.sgReferenceC).toFixed(3),
            )
            .join('  ')}{' '}
          at {say(`${rules.sgReferenceC} °C`)}.
        </p>
      )}
      <ProblemLine sender={sender} />
    </>
  );
}
