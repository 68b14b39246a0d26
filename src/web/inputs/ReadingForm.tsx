import { type FormEvent, useState } from 'react';
import type { ReadingValues } from '../../core/job/reading.ts';
import { VALUE_FIELDS } from '../../core/steps/readingFields.ts';
import { parseReading } from '../../core/quantities/parseReading.ts';
import { fahrenheitFromCelsius, QUANTITIES } from '../../core/quantities/quantity.ts';
import { addPictures } from '../line/pictures.ts';
import { newId } from '../line/newId.ts';
import { useSigning } from '../line/signing.tsx';
import { inDrill } from '../line/drillPlace.ts';
import { PrintOut } from './PrintOut.tsx';
import { useDraft } from '../line/draft.ts';
import type { JobSender } from '../line/sending.ts';
import { useRules } from '../line/queries.ts';
import { ReadingField } from './ReadingField.tsx';
import { TakeFrom } from './TakeFrom.tsx';

export type ValueField = keyof ReadingValues;

interface Props {
  must: readonly ValueField[];
  may?: readonly ValueField[];
  labels?: Partial<Record<ValueField, string>>;
  act: string;
  sender: JobSender;
  /** Sends the values; `sure` when an unusual value was confirmed. The reading gets the id. */
  onSend: (values: ReadingValues, sure: boolean, cells: undefined, id: string) => Promise<boolean>;
  autoFocus?: boolean;
  initial?: Partial<Record<ValueField, string>>;
  quiet?: boolean;
  /** Place of the battery: instruments that serve it can be read instead of typed from. */
  place?: number | undefined;
  /** Whose reading it is, where an instrument's print-out may be photographed with it. */
  printOut?: { tag: string; jobId: string };
}

/** Takes readings as they are said, asks once about an unusual one, and keeps the text until it is accepted. */
export function ReadingForm({
  must,
  may = [],
  labels = {},
  act,
  sender,
  onSend,
  autoFocus = false,
  initial = {},
  quiet = false,
  place,
  printOut,
}: Props) {
  const rules = useRules();
  const { temperatureUnit } = rules;
  const [photos, setPhotos] = useState<File[]>([]);
  const { person } = useSigning();
  const fields = [...must, ...may];
  const [texts, setTexts, sent] = useDraft<Partial<Record<ValueField, string>>>(
    `${act} ${fields.join(' ')} ${JSON.stringify(initial)}`,
    initial,
  );
  const [faults, setFaults] = useState<Partial<Record<ValueField, string>>>({});
  const asking = sender.problem?.code === 'ask';

  const submit = async (sure: boolean) => {
    const values: ReadingValues = {};
    const found: typeof faults = {};
    for (const field of fields) {
      const text = texts[field] ?? '';
      if (text.trim() === '' && may.includes(field)) continue;
      const parsed = parseReading(text, VALUE_FIELDS[field].quantity, rules);
      if (parsed.ok) values[field] = parsed.value;
      else found[field] = parsed.message;
    }
    setFaults(found);
    if (Object.keys(found).length > 0) return;
    const id = newId();
    if (!(await onSend(values, sure, undefined, id))) return;
    sent();
    if (printOut && photos.length > 0) {
      const { tag, jobId } = printOut;
      const about = { jobId, readingId: id };
      await addPictures(photos, { tag, about, by: person?.id ?? '', text: 'Print-out' });
      setPhotos([]);
    }
  };
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    void submit(asking);
  };
  const change = (field: ValueField, text: string) => {
    setTexts((old) => ({ ...old, [field]: text }));
    setFaults((old) => ({ ...old, [field]: undefined }));
    sender.clear();
  };

  const take = (measured: ReadingValues) => {
    const { temperatureC, ...others } = measured;
    const shown = {
      ...others,
      ...(temperatureC === undefined
        ? {}
        : {
            temperatureC:
              temperatureUnit === 'F' ? fahrenheitFromCelsius(temperatureC) : temperatureC,
          }),
    };
    for (const field of fields) {
      const value = shown[field];
      if (value !== undefined)
        change(field, value.toFixed(QUANTITIES[VALUE_FIELDS[field].quantity].decimals));
    }
  };

  return (
    <form onSubmit={onSubmit} noValidate className="grid gap-3">
      <div className="flex flex-wrap items-start gap-3">
        {fields.map((field, i) => (
          <ReadingField
            key={field}
            quantity={VALUE_FIELDS[field].quantity}
            label={labels[field] ?? VALUE_FIELDS[field].label}
            value={texts[field] ?? ''}
            onChange={(text) => change(field, text)}
            message={faults[field] ?? (asking ? undefined : sender.problem?.fields[field])}
            autoFocus={autoFocus && i === 0}
            optional={may.includes(field)}
          />
        ))}
        <button
          type="submit"
          className={`${quiet ? 'act-quiet' : 'act'} mt-6 min-h-12!`}
          disabled={sender.busy}
        >
          {asking ? 'Yes, save it' : act}
        </button>
      </div>
      {place !== undefined && <TakeFrom place={place} fields={fields} onTaken={take} />}
      {printOut && !inDrill && <PrintOut photos={photos} onChange={setPhotos} />}
      {asking && (
        <p role="alert" className="rounded-md bg-ochre-pale px-3 py-2 text-lg">
          {sender.problem?.message}
        </p>
      )}
    </form>
  );
}
