import { Popover } from 'radix-ui';
import { lazy, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { RecordWire } from '../../../contract/wire.ts';
import { buildOf } from '../../../core/batteries/builds.ts';
import { liveChargesOf } from '../../../core/job/job.ts';
import { OUTCOME_WORDS } from '../../../core/job/outcome.ts';
import { timeline } from '../../../core/watch/timeline.ts';
import { formatStamp } from '../../../core/quantities/format.ts';
import { signerName } from '../../../core/job/signers.ts';
import { useMinute } from '../../line/benchClock.ts';
import { jobOf, useRecord, useRules, useShop } from '../../line/queries.ts';
import { Loading, NotFetched } from '../../line/States.tsx';
import { PortStrip } from '../../drawings/PortStrip.tsx';
import { stripLook } from '../../drawings/portState.ts';
import { LifeRibbon } from '../../inputs/PlanPanel.tsx';
import { Readings } from '../../inputs/Readings.tsx';
import { standingOf } from '../../../core/storage/stock.ts';
import { BeforeAfter } from '../../drawings/BeforeAfter.tsx';
import { OpenJobButton } from '../../inputs/OpenJob.tsx';
import { WhenSeen } from '../../parts/WhenSeen.tsx';
import { ImportLogDialog } from './ImportLogDialog.tsx';
import { refusalWords } from '../../../core/job/refusalWords.ts';
import { pathTo } from '../../line/api.ts';
import { eventWords } from './eventWords.ts';
import { ShelfReadings } from './ShelfReadings.tsx';
import { sizeWords } from '../../../core/batteries/model.ts';
import { stepById } from '../../../core/plan/procedure.ts';
import { fillText } from '../../../core/plan/words.ts';
import { claimable } from '../../../core/claims/claim.ts';
import { ClaimButton } from '../../inputs/ClaimButton.tsx';
import { Margin } from '../../inputs/Margin.tsx';
import { PlaceButton } from '../../inputs/PlaceDialog.tsx';

const ReadingsChart = lazy(() => import('../../drawings/ReadingsChart.tsx'));
const ShelfChart = lazy(async () => ({ default: (await import('./ShelfChart.tsx')).ShelfChart }));
const LogChart = lazy(async () => ({ default: (await import('./LogChart.tsx')).LogChart }));
const ChargeTrace = lazy(async () => ({
  default: (await import('./ChargeTrace.tsx')).ChargeTrace,
}));

const ALONG = 'flex min-h-11 items-center rounded-md px-3 text-left hover:bg-hair';

/** A battery's life: each job, every reading drawn and listed, and every event as it was logged. */
export function BatteryRecord() {
  const { tag = '' } = useParams();
  const { data, error, refetch } = useRecord(tag);
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  return <OpenRecord record={data} />;
}

function OpenRecord({ record }: { record: RecordWire }) {
  const { battery } = record;
  // As it stood at the last full minute, or after its last event where that is younger.
  const now = Math.max(useMinute(), record.events.at(-1)?.at ?? 0);
  const rules = useRules();
  const people = useShop().data?.people ?? [];
  const nameOf = (id: string) => signerName(id, people);
  const jobs = record.jobs.map((wire) => ({
    wire,
    job: jobOf(wire, record.procedures[wire.procedureId] as never, now),
  }));
  const latest = jobs.at(-1);
  const readings = jobs.flatMap(({ job }) => job.state.readings);
  const open = jobs.some(
    ({ job }) => job.state.status === 'running' || job.state.status === 'with-lead',
  );
  const ended = latest?.job.state.outcome;
  const [bringing, setBringing] = useState(false);
  const model = latest?.job.plan.model ?? record.model;

  const standing =
    record.stock && record.stock.jobId === null ? standingOf(record.stock, rules, now) : null;

  return (
    <div className="p-4 md:p-6">
      <header className="mb-5 flex flex-wrap items-center gap-x-8 gap-y-3">
        <div>
          <p className="eyebrow text-soft">Record</p>
          <h1 className="text-4xl leading-none">{battery.tag}</h1>
        </div>
        {latest && <PortStrip look={stripLook(latest.job)} width={180} />}
        <dl className="flex flex-wrap gap-x-6 gap-y-2">
          {[
            ['For', battery.owner],
            ['Model', `${battery.modelCode}, ${battery.modelName}`],
            [
              'Rating',
              `${model.nominalV} V, ${sizeWords(model)}${model.cca ? `, ${model.cca} A CCA ${model.ccaStandard}` : ''}`,
            ],
            ['Built for', buildOf(model).name],
            ['Date code', battery.dateCode],
            ['Taken in', formatStamp(battery.takenInAt, rules)],
          ].map(([label, value]) => (
            <div key={label}>
              <dt className="label">{label}</dt>
              <dd className="max-w-72 truncate text-lg" title={value}>
                {value}
              </dd>
            </div>
          ))}
          <div>
            <dt className="label">Place</dt>
            <dd>
              <PlaceButton tag={battery.tag} place={battery.place} />
            </dd>
          </div>
        </dl>
        <div className="flex flex-wrap items-center gap-2 md:ml-auto">
          {!open && ended !== 'recycle' && ended !== 'refused' && (
            <>
              {!latest && !record.stock && (
                <OpenJobButton
                  tag={battery.tag}
                  purpose="commission"
                  label="Commission it"
                  quiet={false}
                />
              )}
              <OpenJobButton tag={battery.tag} purpose="recharge" label="Recharge" />
              <OpenJobButton tag={battery.tag} purpose="service" label="Service" />
              <OpenJobButton tag={battery.tag} purpose="recover" quiet={ended !== 'recover'} />
            </>
          )}
          <Popover.Root>
            <Popover.Trigger className="act-quiet">Export and print</Popover.Trigger>
            <Popover.Portal>
              <Popover.Content
                align="end"
                sideOffset={4}
                className="z-50 grid w-72 rounded-lg border border-ink bg-sheet p-2 text-lg"
              >
                <a
                  className={ALONG}
                  href={pathTo('exportBattery', { params: { tag: battery.tag } })}
                >
                  Everything, JSON
                </a>
                <a className={ALONG} href={pathTo('readingsCsv', { params: { tag: battery.tag } })}>
                  Readings, CSV
                </a>
                <a
                  className={ALONG}
                  href={pathTo('tagSheetPdf', { query: { code: 'qr', tags: battery.tag } })}
                >
                  Date tag with QR, PDF
                </a>
                <a className={ALONG} href={pathTo('tagPdf', { params: { tag: battery.tag } })}>
                  Single tag, PDF
                </a>
                {battery.trayId && (
                  <a className={ALONG} href={pathTo('trayPdf', { params: { id: battery.trayId } })}>
                    Its tray on one page, PDF
                  </a>
                )}
                <button type="button" className={ALONG} onClick={() => setBringing(true)}>
                  Import a charger’s log
                </button>
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        </div>
      </header>
      {bringing && <ImportLogDialog tag={battery.tag} onClose={() => setBringing(false)} />}
      {standing && (
        <p className="mb-5 rounded-md border-l-8 border-moss bg-moss-pale px-4 py-2 text-lg">
          On the shelf since {formatStamp(standing.item.since, rules)}: by forecast{' '}
          <b>{standing.forecast.percent.mid.toFixed(0)} %</b> (
          {standing.forecast.percent.low.toFixed(0)}–{standing.forecast.percent.high.toFixed(0)})
          and {standing.forecast.volts.mid.toFixed(2)} V today, losing about{' '}
          {(100 * standing.forecast.lossPerMonth).toFixed(1)} % a month
          {standing.forecast.learntFrom > 0
            ? `, learnt from ${standing.forecast.learntFrom} of its own readings`
            : ', usual for its kind'}
          .{' '}
          {standing.wants === 'charge'
            ? `Charge it: ${standing.because}.`
            : standing.wants === 'check'
              ? 'It is to be read.'
              : ''}
        </p>
      )}

      {jobs.map(({ wire, job }) => (
        <section
          key={wire.id}
          aria-label={job.procedure.name}
          className="mb-5 rounded-lg border border-line bg-sheet p-5"
        >
          <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
            <h2 className="text-2xl">
              {job.procedure.name}
              <span className="block text-lg font-medium text-soft">
                {job.state.outcome
                  ? OUTCOME_WORDS[job.state.outcome]
                  : job.state.status === 'with-lead'
                    ? 'With the lead'
                    : 'In process'}
                {job.state.refusal && `: ${refusalWords(job, job.state.refusal)}`}
              </span>
            </h2>
            <div className="flex flex-wrap gap-2">
              {claimable(job) && <ClaimButton battery={battery} job={job} jobId={wire.id} />}
              <Link to={`/jobs/${wire.id}`} className={job.state.outcome ? 'act-quiet' : 'act'}>
                {job.state.outcome ? 'Job' : 'Go on with the job'}
              </Link>
              <Link to={`/jobs/${wire.id}/sheet`} className="act-quiet">
                Sheet and tag
              </Link>
            </div>
          </div>
          {job.procedure.purpose === 'recover' && (
            <div className="mb-4">
              <BeforeAfter job={job} />
            </div>
          )}
          <LifeRibbon
            segments={timeline(job, now)}
            now={job.state.closedAt ?? now}
            promisedAt={null}
            readyAt={null}
            wall={rules}
          />
        </section>
      ))}

      {jobs.flatMap(({ job }) =>
        liveChargesOf(job.state).map((charge) => (
          <WhenSeen key={charge.chargeId} height={380}>
            <ChargeTrace {...charge} wall={rules} />
          </WhenSeen>
        )),
      )}
      {record.logs.map(({ id, name, addedAt, by, log }) => (
        <section
          key={id}
          aria-label={`Log ${name}`}
          className="mb-5 rounded-lg border border-line bg-sheet p-5"
        >
          <div className="flex flex-wrap items-start justify-between gap-3">
            <h2 className="text-2xl">
              {name}
              <span className="block text-lg font-medium text-soft">
                {log.startedAt === null
                  ? 'It is not known when it began'
                  : `Begun ${formatStamp(log.startedAt, rules)}`}
                . Imported by {nameOf(by)}, {formatStamp(addedAt, rules)}: {log.ahIn.toFixed(2)} Ah
                in
                {log.ahOut > 0.005 && `, ${log.ahOut.toFixed(2)} Ah out`}. {log.notices.join(' ')}
              </span>
            </h2>
            <a href={pathTo('logCsv', { params: { id } })} className="act-quiet">
              CSV
            </a>
          </div>
          <WhenSeen height={log.temperatureC ? 420 : 303}>
            <LogChart log={log} />
          </WhenSeen>
        </section>
      ))}
      <section aria-label="Readings" className="mb-5 rounded-lg border border-line bg-sheet p-5">
        <h2 className="mb-2 text-2xl">Readings over time</h2>
        {readings.length === 0 && !record.stock && (
          <p className="text-lg text-soft">None yet. They are drawn here from the first one on.</p>
        )}
        {readings.length > 1 && latest && (
          <WhenSeen height={200}>
            <ReadingsChart
              readings={readings}
              rules={rules}
              ceilingV={latest.job.plan.figures.ceilingV.value}
              passV={latest.job.plan.figures.passV.value}
            />
          </WhenSeen>
        )}
        {record.stock && (
          <WhenSeen height={300}>
            <ShelfChart item={record.stock} rules={rules} now={now} />
          </WhenSeen>
        )}
        {record.shelfReadings.length > 0 && <ShelfReadings record={record} wall={rules} />}
        {jobs.map(
          ({ wire, job }) =>
            job.state.readings.length > 0 && (
              <Readings
                key={wire.id}
                job={job}
                sender={null}
                rules={rules}
                now={now}
                pictured={{ tag: battery.tag, jobId: wire.id }}
              />
            ),
        )}
      </section>

      <div className="mb-5">
        <Margin
          tag={battery.tag}
          about={{}}
          stepName={(stepId, jobId) => {
            const job = jobs.find((j) => j.wire.id === jobId)?.job;
            return job && stepId
              ? fillText(stepById(job.procedure, stepId).title, job.plan, rules)
              : null;
          }}
        />
      </div>

      <section aria-label="Events" className="rounded-lg border border-line bg-sheet p-5">
        <h2 className="mb-2 text-2xl">
          Every event{' '}
          <span className="text-lg font-medium text-soft">
            as it was logged; nothing is ever taken out
          </span>
        </h2>
        <ol>
          {record.events.map((e) => (
            <li
              key={e.seq}
              className="grid grid-cols-[9.5rem_1fr] gap-x-4 border-b border-hair py-1.5 text-lg sm:grid-cols-[9.5rem_1fr_auto]"
            >
              <span className="text-base text-soft">{formatStamp(e.at, rules)}</span>
              <span className="min-w-0 break-words">
                {eventWords(e, jobs.find((j) => j.wire.id === e.jobId)?.job, rules)}
              </span>
              <span className="text-base text-soft max-sm:col-start-2">{nameOf(e.by)}</span>
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}
