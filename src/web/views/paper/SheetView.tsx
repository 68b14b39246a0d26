import { SmallPicture } from '../../inputs/SmallPicture.tsx';
import { Link, useParams } from 'react-router';
import { formatStamp } from '../../../core/quantities/format.ts';
import { useNow } from '../../line/benchClock.ts';
import { signerName } from '../../../core/job/signers.ts';
import { jobOf, useJob, useNotes, useRules, useSheet, useShop } from '../../line/queries.ts';
import { Loading, NotFetched } from '../../line/States.tsx';
import { pathTo } from '../../line/api.ts';

/** The handover sheet and the tag, set for the browser's printer. */
export function SheetView() {
  const { id = '' } = useParams();
  const { data, error, refetch } = useJob(id);
  const now = useNow();
  const rules = useRules();
  const { data: told } = useSheet(id);
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data || !told) return <Loading />;
  const { battery } = data.job;
  const job = jobOf(data.job, data.procedure, now);
  const { sheet, keptAt, since } = told;
  const tagSvg = pathTo('tagSvg', { params: { tag: battery.tag } });

  return (
    <div className="p-4 md:p-6 print:p-0">
      <div className="no-print mb-4 flex flex-wrap gap-3">
        <Link to={`/jobs/${id}`} className="act-quiet">
          Back to the job
        </Link>
        <button type="button" className="act" onClick={() => print()}>
          Print
        </button>
        <a className="act-quiet" href={pathTo('sheetPdf', { params: { id } })}>
          Sheet as PDF
        </a>
        <a className="act-quiet" href={pathTo('tagPdf', { params: { tag: battery.tag } })}>
          Tag as PDF
        </a>
      </div>
      <article className="mx-auto grid max-w-[46rem] gap-5 border border-line bg-white p-4 text-[15px] sm:p-8 print:max-w-none print:border-0 print:p-0">
        <header className="flex flex-wrap items-start justify-between gap-x-6 gap-y-3 border-b border-line pb-4 sm:flex-nowrap">
          <div className="min-w-0">
            <h1 className="text-4xl leading-none">{battery.tag}</h1>
            <p className="mt-2 text-soft">
              For {battery.owner} · date code {battery.dateCode} · taken in{' '}
              {formatStamp(battery.takenInAt, rules)}
            </p>
          </div>
          <figure aria-label="Tag" className="shrink-0 border border-line p-2 text-center">
            <div className="flex items-center gap-2">
              <img src={tagSvg} alt={`Code 128: ${battery.tag}`} className="h-12 w-44" />
              <img
                src={pathTo('tagQr', { params: { tag: battery.tag } })}
                alt={`QR: ${battery.tag}`}
                className="size-16"
              />
            </div>
            <figcaption className="font-label text-lg font-semibold">{battery.tag}</figcaption>
          </figure>
        </header>
        <section aria-label="Verdict">
          <h2 className={`text-3xl ${job.state.refusal ? 'text-oxide' : ''}`}>{sheet.verdict}</h2>
          {since.map((line) => (
            <p key={line} className="border-l-4 border-oxide pl-3 text-lg">
              Since it was handed over: {line}
            </p>
          ))}
          {keptAt !== null && (
            <p className="text-soft">As it was kept on {formatStamp(keptAt, rules)}.</p>
          )}
          {sheet.reasons.map((r) => (
            <p key={r} className="text-lg">
              {r}
            </p>
          ))}
          {sheet.headline.length > 0 && (
            <dl className="mt-3 grid grid-cols-2 gap-4 sm:grid-cols-3">
              {sheet.headline.map(({ label, value }) => (
                <div key={label}>
                  <dt className="label">{label}</dt>
                  <dd className="big">{value}</dd>
                </div>
              ))}
            </dl>
          )}
        </section>
        <dl className="grid grid-cols-[7rem_1fr] gap-y-1">
          {sheet.facts.map(({ label, value }) => (
            <div key={label} className="contents">
              <dt className="text-soft">{label}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
        {sheet.charges.map((charge) => (
          <section key={charge.title} aria-label={charge.title}>
            <h3 className="mb-1 text-xl">{charge.title}</h3>
            <ol className="list-decimal pl-5">
              {charge.said.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ol>
            <p className="text-soft">{charge.ended}</p>
          </section>
        ))}
        {sheet.decisions.length > 0 && (
          <section aria-label="Decided by the lead">
            <h3 className="mb-1 text-xl">Decided by the lead</h3>
            {sheet.decisions.map((d) => (
              <p key={d.when + d.what}>
                <span className="text-soft">{d.when}</span> {d.what}. <b>Reason:</b> {d.reason} (
                {d.by})
              </p>
            ))}
          </section>
        )}
        <section aria-label="Deviations">
          <h3 className="mb-1 text-xl">Deviations</h3>
          {sheet.deviations.length === 0 && <p className="text-soft">None.</p>}
          {sheet.deviations.map((d) => (
            <p key={d.when + d.what}>
              <span className="text-soft">{d.when}</span> {d.what}. <b>Reason:</b> {d.reason} (
              {d.by})
            </p>
          ))}
        </section>
        <Table
          title="Readings"
          rows={sheet.readings.map((r) => [r.when, r.what, r.values, r.remark])}
          struck={(i) => sheet.readings[i]?.corrected ?? false}
        />
        <Table
          title="Steps"
          rows={sheet.steps.map((s) => [s.when, s.title, s.remark, s.by])}
          struck={() => false}
        />
        {sheet.notes.length > 0 && (
          <Table
            title="Notes"
            rows={sheet.notes.map((n) => [n.when, n.text, n.by])}
            struck={() => false}
          />
        )}
        <SheetMargin tag={battery.tag} jobId={id} />
        <footer className="border-t border-line pt-3 text-soft">
          {rules.shopName}. Printed {formatStamp(now, rules)}. In a machine: negative off first, on
          last. The maker's instructions and local rules come first.
        </footer>
      </article>
    </div>
  );
}

/** Notes and pictures of the job, as they go on paper: small, with when and by whom. */
function SheetMargin({ tag, jobId }: { tag: string; jobId: string }) {
  const wall = useRules();
  const people = useShop().data?.people ?? [];
  const notes = (useNotes(tag).data?.notes ?? []).filter((n) => n.jobId === jobId && !n.takenBack);
  const pictured = notes.filter((n) => n.picture);
  const said = (at: number, by: string, text: string) =>
    `${formatStamp(at, wall)}, ${signerName(by, people)}${text ? `: ${text}` : ''}`;
  return (
    <>
      <Table
        title="Notes in the margin"
        rows={notes
          .filter((n) => !n.picture)
          .map((n) => [formatStamp(n.at, wall), n.text, signerName(n.by, people)])}
        struck={() => false}
      />
      {pictured.length > 0 && (
        <section aria-label="Pictures">
          <h3 className="mb-1 text-xl">Pictures</h3>
          <ul className="grid grid-cols-2 gap-3 sm:grid-cols-4">
            {pictured.map((n) => (
              <li key={n.id} className="break-inside-avoid">
                <SmallPicture
                  note={n}
                  alt={n.text || 'Picture'}
                  className="h-28 w-full border border-line object-contain"
                />
                <span className="text-[13px] leading-tight text-soft">
                  {said(n.at, n.by, n.text)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function Table({
  title,
  rows,
  struck,
}: {
  title: string;
  rows: readonly (readonly string[])[];
  struck: (i: number) => boolean;
}) {
  if (rows.length === 0) return null;
  return (
    <section aria-label={title}>
      <h3 className="mb-1 text-xl">{title}</h3>
      <table className="w-full text-left">
        <tbody>
          {rows.map((cells, i) => (
            <tr key={i} className="border-b border-hair align-top">
              {cells.map((cell, j) => (
                <td
                  key={j}
                  className={`py-0.5 pr-3 ${j === 0 ? 'min-w-24 text-soft sm:whitespace-nowrap' : ''} ${struck(i) && j === 2 ? 'line-through' : ''}`}
                >
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
