import { memo, useState } from 'react';
import type { HouseRules } from '../../core/house/rules.ts';
import type { CellValues, Reading, ReadingValues } from '../../core/job/reading.ts';
import type { Job } from '../../core/job/job.ts';
import {
  fahrenheitFromCelsius,
  QUANTITIES,
  type TemperatureUnit,
} from '../../core/quantities/quantity.ts';
import { VALUE_FIELDS, fieldsFor } from '../../core/steps/readingFields.ts';
import { readingRemark, readingRole, readingText } from '../../core/paper/readingWords.ts';
import { sayIn } from '../../core/quantities/shopUnits.ts';
import { formatMoment } from '../../core/quantities/format.ts';
import type { JobSender } from '../line/sending.ts';
import { OpenDialog } from '../parts/DialogFrame.tsx';
import { ProblemLine } from './ProblemLine.tsx';
import { CellsForm } from './CellsForm.tsx';
import { Labelled } from '../parts/Labelled.tsx';
import { inDrill } from '../line/drillPlace.ts';
import { ReadingPictures } from './ReadingPictures.tsx';
import { ReadingForm } from './ReadingForm.tsx';
import type { Showing } from '../../core/chargers/showing.ts';
import { ShowingButtons } from './ShowingButtons.tsx';

interface Props {
  job: Job;
  sender: JobSender | null;
  rules: HouseRules;
  now: number;
  /** The battery, where pictures of its readings are shown and taken. */
  pictured?: { tag: string; jobId: string };
}

/** Values as they would be typed. */
function textsOf(
  values: ReadingValues,
  unit: TemperatureUnit,
): Partial<Record<keyof ReadingValues, string>> {
  return Object.fromEntries(
    (Object.entries(values) as [keyof ReadingValues, number][]).map(([field, value]) => {
      const { quantity } = VALUE_FIELDS[field];
      const shown = field === 'temperatureC' && unit === 'F' ? fahrenheitFromCelsius(value) : value;
      return [field, shown.toFixed(QUANTITIES[quantity].decimals)];
    }),
  );
}

/** Every reading as it was taken; a correction stands beside the value it replaces. */
export const Readings = memo(function Readings({ job, sender, rules, now, pictured }: Props) {
  const [correcting, setCorrecting] = useState<Reading | null>(null);
  const [reason, setReason] = useState('');
  const over = job.state.status === 'closed' || job.state.status === 'refused';
  const correct = async (
    values: Reading['values'],
    sure: boolean,
    cells?: CellValues[],
    showing?: Showing,
  ) => {
    if (!correcting || !sender) return false;
    const why = reason.trim();
    const done = await sender.send({
      type: 'correct',
      readingId: correcting.id,
      values,
      ...(cells ? { cells } : {}),
      ...(showing ? { showing } : {}),
      sure,
      ...(why ? { reason: why } : {}),
    });
    if (done) {
      setCorrecting(null);
      setReason('');
    }
    return done;
  };
  const newestFirst = job.state.readings.toReversed();
  const said = (r: Reading) => sayIn(readingText(r, rules.temperatureUnit), rules);
  return (
    <>
      <div className="relative overflow-x-auto">
        <table className="w-full text-left text-lg">
          <thead className="label border-b border-line max-md:sr-only">
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
              <ReadingRow
                key={r.id}
                reading={r}
                when={formatMoment(r.at, now, rules)}
                said={said(r)}
                {...(pictured && !inDrill ? { pictured } : {})}
                onCorrect={sender && (() => setCorrecting(r))}
              />
            ))}
          </tbody>
        </table>
      </div>
      {sender && correcting && (
        <OpenDialog
          onClose={() => setCorrecting(null)}
          title={`Correct the reading of ${formatMoment(correcting.at, now, rules)}`}
          description={`It said ${said(correcting)}. The old value stays on the record, struck through.`}
          width="max-w-2xl"
        >
          {over && (
            <div className="mb-3">
              <Labelled
                label="Why now? It was handed over with that reading; this is printed"
                message={sender.problem?.fields['reason']}
              >
                <input
                  className="field"
                  value={reason}
                  maxLength={500}
                  onChange={(e) => setReason(e.target.value)}
                />
              </Labelled>
            </div>
          )}
          {correcting.role === 'light' ? (
            job.state.charge?.charger?.own && (
              <ShowingButtons
                own={job.state.charge.charger.own}
                busy={sender.busy}
                onTap={(showing) => correct({}, false, undefined, showing)}
              />
            )
          ) : correcting.cells ? (
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
              initial={correcting}
              onSend={correct}
            />
          ) : (
            <ReadingForm
              {...fieldsFor(
                correcting.role as Exclude<typeof correcting.role, 'shelf'>,
                job.state.charge,
              )}
              act="Correct it"
              sender={sender}
              autoFocus
              initial={textsOf(correcting.values, rules.temperatureUnit)}
              onSend={(values, sure) => correct(values, sure)}
            />
          )}
          <ProblemLine sender={sender} />
        </OpenDialog>
      )}
    </>
  );
});

/** One reading; on a phone what it says stands under when it was taken. */
function ReadingRow({
  reading,
  when,
  said,
  pictured,
  onCorrect,
}: {
  reading: Reading;
  when: string;
  said: string;
  pictured?: { tag: string; jobId: string };
  /** Null where nobody corrects. */
  onCorrect: (() => void) | null;
}) {
  const remark = readingRemark(reading);
  return (
    <tr className="border-b border-hair max-md:grid max-md:grid-cols-[auto_minmax(0,1fr)_auto] max-md:items-center max-md:py-1">
      <td className="pr-4 whitespace-nowrap md:h-11">{when}</td>
      <td className="pr-4 text-soft md:whitespace-nowrap">{readingRole(reading)}</td>
      <td
        className={`pr-4 font-semibold max-md:col-span-2 max-md:row-start-2 ${reading.supersededBy ? 'text-soft line-through' : ''}`}
      >
        {said}
      </td>
      <td
        className={`text-soft ${remark ? 'max-md:col-span-full' : 'max-md:col-start-3 max-md:row-start-2'}`}
      >
        {remark}
        {pictured && (
          <ReadingPictures {...pictured} readingId={reading.id} what={`the reading of ${when}`} />
        )}
      </td>
      {onCorrect && (
        <td className="text-right max-md:col-start-3 max-md:row-start-1">
          {!reading.supersededBy && (
            <button type="button" className="wordlink min-h-11 px-2" onClick={onCorrect}>
              Correct
              <span className="sr-only"> the reading of {when}</span>
            </button>
          )}
        </td>
      )}
    </tr>
  );
}
