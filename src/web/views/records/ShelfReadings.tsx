import { useState } from 'react';
import { CorrectShelf } from '../../inputs/CorrectShelf.tsx';
import type { RecordWire } from '../../../contract/wire.ts';
import { formatStamp, type WallStyle } from '../../../core/quantities/format.ts';

/** What was read on rounds of the shelf; corrected where it stands while the battery is there. */
export function ShelfReadings({ record, wall }: { record: RecordWire; wall: WallStyle }) {
  const [correcting, setCorrecting] = useState<{ id: string; voltageV: number } | null>(null);
  return (
    <div className="mb-2 flex flex-wrap items-baseline gap-x-4 text-lg">
      <span className="text-soft">On the shelf:</span>
      {record.shelfReadings.map(({ id, at, values: { voltageV = 0 }, supersededBy }) => (
        <span key={id}>
          <span className={supersededBy ? 'text-soft line-through' : ''}>
            {voltageV.toFixed(2)} V
          </span>{' '}
          on {formatStamp(at, wall)}
          {!supersededBy && record.stock && (
            <button
              type="button"
              className="wordlink ml-2 min-h-11 text-soft"
              onClick={() => setCorrecting({ id, voltageV })}
            >
              Correct<span className="sr-only"> the reading of {formatStamp(at, wall)}</span>
            </button>
          )}
        </span>
      ))}
      {correcting && (
        <CorrectShelf
          tag={record.battery.tag}
          reading={correcting}
          onDone={() => setCorrecting(null)}
          onClose={() => setCorrecting(null)}
        />
      )}
    </div>
  );
}
