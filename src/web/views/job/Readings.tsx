import { useState } from 'react';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Job, Reading } from '../../../core/procedures/job.ts';
import { ROLE_FIELDS } from '../../../core/procedures/readings.ts';
import { readingRemark, readingRole, readingText } from '../../../core/procedures/sheet.ts';
import { formatMoment } from '../../../core/quantities/format.ts';
import type { JobSender } from '../../app/sending.ts';
import { DialogFrame } from '../../inputs/DialogFrame.tsx';
import { ProblemLine } from '../../inputs/ProblemLine.tsx';
import { CellsForm } from '../../inputs/CellsForm.tsx';
import { ReadingForm } from '../../inputs/ReadingForm.tsx';

interface Props {
  job: Job;
  sender: JobSender | null;
  rules: HouseRules;
  now: number;
}

/** Every reading as it was taken; a correction stands beside the value it replaces. */
export function Readings({ job, sender, rules, now }: Props) {
  const [correcting, setCorrecting] = useState<Reading | null>(null);
  const newestFirst = job.state.readings.toReversed();
  return (
    <>
      <div className="relative overflow-x-auto">
        <table className="w-full text-left text-lg">
          <thead className="label border-b border-line">
            <tr>
              <th className="py-1 font-medium">When</th>
              <th className="font-medium">What</th>
              <th className="font-medium">Reading</th>
              <th className="font-medium">Remark</th>
              {sender && <th className="sr-only">Correct</th>}
            </tr>
          </thead>
          <tbody>
            {newestFirst.map((r) => (
              <tr key={r.id} className="border-b border-hair">
                <td className="h-11 pr-4 whitespace-nowrap">{formatMoment(r.at, now, rules.timeZone)}</td>
                <td className="pr-4 whitespace-nowrap text-soft">{readingRole(r)}</td>
                <td className={`pr-4 font-semibold ${r.supersededBy ? 'text-soft line-through' : ''}`}>{readingText(r, rules.temperatureUnit)}</td>
                <td className="text-soft">{readingRemark(r)}</td>
                {sender && (
                  <td className="text-right">
                    {!r.supersededBy && (
                      <button type="button" className="wordlink min-h-11 px-2" onClick={() => setCorrecting(r)}>
                        Correct<span className="sr-only"> the reading of {formatMoment(r.at, now, rules.timeZone)}</span>
                      </button>
                    )}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {sender && correcting && (
        <DialogFrame
          open
          onOpenChange={(open) => !open && setCorrecting(null)}
          title={`Correct the reading of ${formatMoment(correcting.at, now, rules.timeZone)}`}
          description={`It said ${readingText(correcting, rules.temperatureUnit)}. The old value stays on the record, struck through.`}
          width="max-w-2xl"
        >
          {correcting.cells ? (
            <CellsForm
              cells={correcting.cells.length}
              ask={
                correcting.cells[0]?.bubbling !== undefined
                  ? ['bubbling']
                  : correcting.cells[0]?.level
                    ? ['level']
                    : correcting.cells[0]?.voltageV === undefined
                      ? ['specificGravity']
                      : ['voltageV']
              }
              act="Correct it"
              sender={sender}
              onSend={async (cells, values, sure) => {
                const done = await sender.send({ type: 'correct', readingId: correcting.id, values, cells, sure });
                if (done) setCorrecting(null);
                return done;
              }}
            />
          ) : (
            <ReadingForm
              {...ROLE_FIELDS[correcting.role as Exclude<typeof correcting.role, 'shelf'>]}
              act="Correct it"
              sender={sender}
              autoFocus
              onSend={async (values, sure) => {
                const done = await sender.send({ type: 'correct', readingId: correcting.id, values, sure });
                if (done) setCorrecting(null);
                return done;
              }}
            />
          )}
          <ProblemLine sender={sender} />
        </DialogFrame>
      )}
    </>
  );
}
