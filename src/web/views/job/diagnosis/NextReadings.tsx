import type { ReactNode } from 'react';
import { leadAcidKind } from '../../../../core/batteries/kinds.ts';
import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import { EVIDENCE, type EvidenceKind } from '../../../../core/diagnosis/evidence.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import type { Job } from '../../../../core/job/job.ts';
import type { JobSender } from '../../../line/sending.ts';
import { type Opener, SendingDialog } from '../../../inputs/SendingDialog.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingForm } from '../../../inputs/ReadingForm.tsx';
import { CellReading } from '../../../inputs/CellReading.tsx';
import { SpotReading } from '../../../inputs/SpotReading.tsx';
import { sendReading } from '../../../line/sendReading.ts';

interface Props {
  diagnosis: Diagnosis | null;
  job: Job;
  sender: JobSender;
  rules: HouseRules;
}

/** How a reading is entered: cell by cell, under load, or whatever else a meter shows. */
type Entry = 'cells' | 'load' | 'spot';
const ENTRIES: readonly Entry[] = ['cells', 'load', 'spot'];
/** Readings that a technician may take here, and how they are entered. */
const ENTERED: Partial<Record<EvidenceKind, Entry>> = {
  levels: 'cells',
  'cell-sg': 'cells',
  'cell-volts': 'cells',
  load: 'load',
  cca: 'spot',
  resistance: 'spot',
  mass: 'spot',
  'rest-volts': 'spot',
};
const SHOWN = 3;

/** What to measure next: worth most a minute first, and when to stop. */
export function NextReadings({ diagnosis, job, sender, rules }: Props) {
  const next = (diagnosis?.next ?? []).filter((n) => ENTERED[n.kind]);
  const worth = next.filter((n) => n.perMinute > 0);
  const shown = (worth.length > 0 ? worth : next).slice(0, SHOWN);
  const first = worth[0]?.kind;
  // In the order they are worth it, what is not named after what is.
  const entries = [...new Set([...shown.flatMap((n) => ENTERED[n.kind] ?? []), ...ENTRIES])];
  const open = leadAcidKind(job.plan.model.kind).ports === 'serviceable';
  const otherwise: Record<Entry, string> = {
    cells: open ? 'Cells' : 'Cell volts',
    load: 'Load test',
    spot: 'Volts, CCA, resistance, mass',
  };
  return (
    <section aria-label="Measure next" className="w-full rounded-md bg-hair px-4 py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h3 className="text-xl">
          {worth.length > 0 ? 'Measure next' : diagnosis ? 'Enough measured' : 'Measure'}
        </h3>
        <p className="text-[15px] text-soft">
          {worth.length > 0
            ? 'Worth most a minute first'
            : diagnosis
              ? 'A further reading would cost more of your time than it is likely to save.'
              : 'Cheapest first; any of them, in any order.'}
        </p>
      </div>
      <div className="mt-2 flex flex-wrap gap-2">
        {entries.map((entry) => {
          const named = shown.filter((n) => ENTERED[n.kind] === entry);
          return (
            <EntryDialog
              key={entry}
              entry={entry}
              job={job}
              sender={sender}
              trigger={(begin) =>
                named.length === 0 ? (
                  <Begin isFirst={false} begin={begin}>
                    {otherwise[entry]}
                  </Begin>
                ) : (
                  named.map((n) => (
                    <Begin key={n.kind} isFirst={n.kind === first} begin={begin}>
                      <span className="text-left leading-tight">
                        {EVIDENCE[n.kind].name}
                        <span
                          className={`block text-[15px] font-normal ${n.kind === first ? '' : 'text-soft'}`}
                        >
                          {n.minutes} min
                          {n.gain >= 0.5
                            ? `, saves about ${n.gain.toFixed(0)} ${rules.stakes.currency}`
                            : ''}
                          {n.clears >= 0.02
                            ? `, ${(100 * n.clears).toFixed(0)} % surer of the cause`
                            : ''}
                        </span>
                      </span>
                    </Begin>
                  ))
                )
              }
            />
          );
        })}
      </div>
    </section>
  );
}

function Begin({
  isFirst,
  begin,
  children,
}: {
  isFirst: boolean;
  begin: () => void;
  children: ReactNode;
}) {
  return (
    <button type="button" className={`${isFirst ? 'act' : 'act-quiet'} min-h-14!`} onClick={begin}>
      {children}
    </button>
  );
}

/**
 * The dialog that readings of an entry are typed into. It stays open, with what is typed, while the diagnosis settles and its
 * buttons change.
 */
function EntryDialog({
  entry,
  job,
  sender,
  trigger,
}: {
  entry: Entry;
  job: Job;
  sender: JobSender;
  trigger: Opener;
}) {
  const done = () => undefined;
  switch (entry) {
    case 'cells':
      return <CellReading job={job} sender={sender} trigger={trigger} onKept={done} />;
    case 'load':
      return <LoadReading job={job} sender={sender} trigger={trigger} />;
    case 'spot':
      return <SpotReading sender={sender} trigger={trigger} onKept={done} place={undefined} />;
  }
}

/** A load test before anything is charged: it tells the causes apart and passes nothing. */
function LoadReading({ job, sender, trigger }: { job: Job; sender: JobSender; trigger: Opener }) {
  const { loadA, loadS } = job.plan.figures;
  return (
    <SendingDialog
      sender={sender}
      trigger={trigger}
      title={`Load test: ${loadA.value.toFixed(0)} A for ${loadS.value} s`}
      description="Volts before, at the end with the load still on, and half a minute after it came off."
      width="max-w-3xl"
    >
      {(close) => (
        <>
          <ReadingForm
            must={['voltageV', 'temperatureC']}
            may={['beforeV', 'afterV']}
            labels={{ voltageV: `Volts at ${loadS.value} s`, beforeV: 'Before', afterV: 'After' }}
            act="Save"
            sender={sender}
            autoFocus
            onSend={sendReading(sender, 'load', close)}
          />
          <div className="mt-3">
            <ProblemLine sender={sender} />
          </div>
        </>
      )}
    </SendingDialog>
  );
}
