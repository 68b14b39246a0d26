import { useState } from 'react';
import { ask } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { useSigning } from '../../line/signing.tsx';

/** The feed a calendar can follow, by an address of one's own. */
export function Calendar() {
  const { person, sign } = useSigning();
  const [path, setPath] = useState<{ of: string; path: string } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const show = async (renew: boolean) => {
    const by = await sign();
    if (!by) return;
    try {
      setPath({
        of: by,
        path: (await ask('calendarAddress', { body: { commandId: newId(), by, renew } })).path,
      });
      setFault(null);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  const shown = path && path.of === person?.id ? path.path : null;
  return (
    <section aria-labelledby="calendar">
      <h2 id="calendar" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
        Calendar
      </h2>
      <p className="text-soft">
        Things to do, promises and the shelf’s dates, for any calendar that follows an iCalendar
        address. Each person has their own; who has it can read them.
      </p>
      {shown ? (
        <>
          <input
            className="field mt-2"
            readOnly
            value={location.origin + shown}
            aria-label="Address of your feed"
            onFocus={(e) => e.target.select()}
          />
          <div className="flex flex-wrap gap-x-5">
            <a href={shown} className="wordlink inline-flex min-h-11 items-center">
              Open it once
            </a>
            <button type="button" className="wordlink min-h-11" onClick={() => void show(true)}>
              End this address, give me a new one
            </button>
          </div>
        </>
      ) : (
        <button type="button" className="act-quiet mt-2" onClick={() => void show(false)}>
          Show my address
        </button>
      )}
      {fault && (
        <p role="alert" className="mt-1 text-oxide">
          {fault}
        </p>
      )}
    </section>
  );
}
