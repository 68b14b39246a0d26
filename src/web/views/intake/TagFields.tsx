import { normaliseTag } from '../../../core/batteries/tag.ts';
import { Labelled } from '../../parts/Labelled.tsx';
import { ScanButton } from '../../parts/ScanButton.tsx';

interface Values {
  tag: string;
  count: number;
  dateCode: string;
}

/** Tag, how many of them, and the date code; with a camera for whoever holds a phone. */
export function TagFields({
  tag,
  count,
  dateCode,
  message,
  onChange,
}: Values & {
  message: (field: keyof Values) => string | undefined;
  onChange: (changed: Partial<Values>) => void;
}) {
  return (
    <>
      <div className="grid grid-cols-[1fr_auto_5.5rem] items-start gap-2">
        <Labelled label={count > 1 ? 'First tag' : 'Tag'} message={message('tag')}>
          <input
            className="field font-label text-2xl! font-semibold uppercase"
            autoComplete="off"
            value={tag}
            onChange={(e) => onChange({ tag: e.target.value })}
            aria-invalid={!!message('tag')}
          />
        </Labelled>
        <span className="mt-6">
          <ScanButton
            what="a tag"
            onCode={(code) => onChange({ tag: normaliseTag(code) ?? code.slice(0, 24) })}
          />
        </span>
        <Labelled label="How many" message={message('count')}>
          <input
            type="number"
            min={1}
            max={48}
            className="field font-label text-2xl! font-semibold"
            value={Number.isNaN(count) ? '' : count}
            onChange={(e) => onChange({ count: e.target.valueAsNumber })}
            aria-invalid={!!message('count')}
          />
        </Labelled>
      </div>
      <div className="grid grid-cols-[1fr_auto] items-start gap-2">
        <Labelled label="Date code" message={message('dateCode')}>
          <input
            className="field"
            autoComplete="off"
            placeholder="2025-11"
            value={dateCode}
            onChange={(e) => onChange({ dateCode: e.target.value })}
            aria-invalid={!!message('dateCode')}
          />
        </Labelled>
        <span className="mt-6">
          <ScanButton
            what="the date code or serial number"
            onCode={(code) => onChange({ dateCode: code.slice(0, 20) })}
          />
        </span>
      </div>
      {dateCode === '' && (
        <button
          type="button"
          className="wordlink -mt-3 min-h-11 w-fit text-soft"
          onClick={() => onChange({ dateCode: 'not readable' })}
        >
          Date code not readable
        </button>
      )}
    </>
  );
}
