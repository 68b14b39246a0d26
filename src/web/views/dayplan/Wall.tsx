import { chanceWords } from '../../../core/quantities/chance.ts';
import { useEffect } from 'react';
import { leavings, nextClosing, SAFE, UNSAFE } from '../../../core/dayplan/planWords.ts';
import { personLines } from '../../../core/dayplan/personLines.ts';
import { formatClock, formatDay, formatMomentShort } from '../../../core/quantities/format.ts';
import { useNow } from '../../line/benchClock.ts';
import { followChanges } from '../../line/following.ts';
import { useDayPlan, useRules } from '../../line/queries.ts';

/** As much as is read from four metres off. */
const LINES = 6;

/** The day plan for a screen on the wall: what is next, what is promised, what to see to before leaving. Nothing to press. */
export function Wall() {
  const rules = useRules();
  const now = useNow();
  const { data } = useDayPlan();
  useEffect(() => followChanges(() => undefined), []);
  const plan = data?.plan;
  const head = (
    <header className="flex items-baseline justify-between border-b-4 border-ink pb-[1vh]">
      <h1 className="text-[4.2vw] leading-none">{rules.shopName}</h1>
      <p className="font-label text-[4.2vw] leading-none font-semibold">
        <span className="font-medium text-soft">{formatDay(now, rules)}</span>{' '}
        {formatClock(now, rules)}
      </p>
    </header>
  );
  if (!plan)
    return (
      <main className="grid min-h-dvh content-start gap-[3vh] p-[2vw]">
        {head}
        <p className="text-[3vw] text-soft">{data ? 'No day plan just now.' : 'Planning …'}</p>
      </main>
    );
  const minute = (now - plan.from) / 60_000;
  const said = (at: number): string => formatMomentShort(plan.from + at * 60_000, now, rules);
  const next = personLines(plan)
    .filter((l) => l.to > minute)
    .slice(0, LINES);
  const name = (id: string): string =>
    plan.people.find((p) => p.id === id)?.name.split(' ')[0] ?? '';
  const promises = plan.works
    .filter((w) => w.promisedAt !== null && w.promisedAt > minute)
    .toSorted((a, b) => (a.promisedAt ?? 0) - (b.promisedAt ?? 0))
    .slice(0, LINES);
  const closing = nextClosing(plan);
  const off = leavings(plan).filter((l) => l.what === 'off');
  return (
    <main className="grid min-h-dvh grid-rows-[auto_1fr_auto] gap-[2.5vh] p-[2vw]">
      {head}
      <div className="grid grid-cols-[3fr_2fr] gap-[3vw]">
        <section>
          <h2 className="pb-[1vh] text-[2.4vw] text-soft">Next</h2>
          <ul className="grid gap-[1.6vh] text-[2.1vw] leading-tight">
            {next.map((line) => (
              <li key={`${line.personId} ${line.from} ${line.what}`} className="flex gap-[1.5vw]">
                <b className="w-[9vw] shrink-0 font-label text-[2.6vw]">
                  {line.from <= minute ? 'now' : said(line.from)}
                </b>
                <span>
                  <b>{line.works.map((w) => w.tag).join(', ')}</b> {line.what}{' '}
                  <span className="text-soft">{name(line.personId)}</span>
                </span>
              </li>
            ))}
          </ul>
          {next.length === 0 && <p className="text-[2.1vw] text-soft">Nothing to do.</p>}
        </section>
        <section>
          <h2 className="pb-[1vh] text-[2.4vw] text-soft">Promised</h2>
          <ul className="grid gap-[1.6vh] text-[2.1vw] leading-tight">
            {promises.map((work) => (
              <li key={work.id} className="flex justify-between gap-[1.5vw]">
                <span className="min-w-0">
                  <b className="block truncate">{work.whose}</b>
                  <span className="text-soft">
                    {work.tag}, {said(work.promisedAt ?? 0)}
                  </span>
                </span>
                <b
                  className={`shrink-0 font-label text-[2.6vw] ${work.kept === null || work.kept >= SAFE ? '' : work.kept < UNSAFE ? 'text-oxide' : 'text-ochre'}`}
                >
                  {work.kept === null ? '' : chanceWords(work.kept)}
                </b>
              </li>
            ))}
          </ul>
          {promises.length === 0 && <p className="text-[2.1vw] text-soft">Nothing is promised.</p>}
        </section>
      </div>
      <footer className="border-t-4 border-ink pt-[1vh] text-[2.1vw]">
        {closing !== null && `Closing ${said(closing)}. `}
        {off.length === 0
          ? 'Nothing has to come off before.'
          : `Off before: ${off.map((l) => l.work.tag).join(', ')}.`}
      </footer>
    </main>
  );
}
