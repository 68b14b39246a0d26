import { sayAllIn } from '../../../core/quantities/shopUnits.ts';
import { useRules } from '../../line/queries.ts';
import { useEffect, useMemo, useState } from 'react';
import { PROCEDURE_PAGES } from '../../../core/guide/procedures.ts';
import { explained, Procedures } from './Procedures.tsx';
import { flushSync } from 'react-dom';
import { useLocation } from 'react-router';
import { HOW_TO } from '../../../core/guide/howTo.ts';
import { SIGNS } from '../../../core/guide/symbols.ts';
import { TERMS } from '../../../core/guide/terms.ts';
import { LabelSign } from '../../drawings/LabelSign.tsx';

const SORTED = TERMS.toSorted((a, b) => a.term.localeCompare(b.term, 'en'));
const ALL = { pages: HOW_TO, signs: SIGNS, terms: SORTED };
const SECTIONS = [
  ['how', 'How it is done'],
  ['procedures', 'Procedures'],
  ['signs', 'Signs on a label'],
  ['terms', 'Terms'],
] as const;
const nameOf = (key: string): string => TERMS.find((t) => t.key === key)?.term ?? key;

/** Terms, signs and how it is done: for somebody in the second week. */
export function Guide() {
  const [words, setWords] = useState('');
  const { hash } = useLocation();
  useEffect(() => {
    if (hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: 'start' });
  }, [hash]);
  const rules = useRules();
  const guide = sayAllIn(ALL, rules);
  const explainedAll = useMemo(
    () => sayAllIn(PROCEDURE_PAGES, rules).map((page) => explained(page, rules)),
    [rules],
  );
  const [printing, setPrinting] = useState(false);
  const printAll = () => {
    flushSync(() => setPrinting(true));
    print();
    setPrinting(false);
  };
  const asked = words.trim().toLowerCase();
  const meets = (...texts: readonly string[]): boolean =>
    asked === '' || texts.join(' ').toLowerCase().includes(asked);
  const pages = guide.pages.filter((p) => meets(p.title, p.why, ...p.steps, ...p.slips));
  const signs = guide.signs.filter((s) => meets(s.name, s.text));
  const terms = guide.terms.filter((t) => meets(t.term, t.text));
  const procedures = explainedAll.filter((p) =>
    meets(p.title, p.why, ...p.slips, ...p.steps.flatMap((s) => [s.title, s.detail])),
  );
  const nothing = pages.length + signs.length + terms.length + procedures.length === 0;
  return (
    <div className="mx-auto grid max-w-6xl gap-6 p-4 md:p-6">
      <div className="no-print flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-3xl">Field guide</h1>
        <div className="flex flex-wrap items-end gap-3">
          <label>
            <span className="label block">Find a word</span>
            <input
              type="search"
              className="field w-64"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
          </label>
          <button type="button" className="act-quiet" onClick={printAll}>
            Print
          </button>
        </div>
      </div>
      {asked === '' && (
        <nav aria-label="In this guide" className="no-print -my-2 flex flex-wrap gap-x-6 text-lg">
          {SECTIONS.map(([id, name]) => (
            <a key={id} className="wordlink min-h-11 content-center" href={`#${id}`}>
              {name}
            </a>
          ))}
        </nav>
      )}
      {nothing && (
        <p className="text-lg">
          Nothing here has “{words}” in it. Try another word, or ask whoever is at the bench.
        </p>
      )}
      {pages.length > 0 && (
        <section aria-label="How it is done" id="how" className="scroll-mt-20">
          <h2 className="mb-2 border-b-2 border-ink pb-1 text-2xl">How it is done</h2>
          <div className="grid gap-4 lg:grid-cols-2">
            {pages.map((page) => (
              <article
                key={page.key}
                id={page.key}
                className="scroll-mt-20 rounded-lg border border-line bg-sheet p-4"
              >
                <h3 className="text-xl">{page.title}</h3>
                <p className="text-lg text-soft">{page.why}</p>
                <ol className="mt-2 list-decimal pl-6 text-lg">
                  {page.steps.map((step) => (
                    <li key={step}>{step}</li>
                  ))}
                </ol>
                <ul className="mt-2 text-[15px] text-soft">
                  {page.slips.map((slip) => (
                    <li key={slip}>◆ {slip}</li>
                  ))}
                </ul>
              </article>
            ))}
          </div>
        </section>
      )}
      {procedures.length > 0 && (
        <Procedures
          pages={procedures}
          open={printing || asked !== '' || procedures.some((p) => `#${p.key}` === hash)}
        />
      )}
      {signs.length > 0 && (
        <section aria-label="Signs on a label" id="signs" className="scroll-mt-20">
          <h2 className="mb-2 border-b-2 border-ink pb-1 text-2xl">Signs on a label</h2>
          <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
            {signs.map(({ key, name, text }) => (
              <li key={key} id={`sign-${key}`} className="flex scroll-mt-20 gap-3">
                <LabelSign sign={key} name={name} />
                <p className="text-lg leading-snug">
                  <b>{name}.</b> {text}
                </p>
              </li>
            ))}
          </ul>
        </section>
      )}
      {terms.length > 0 && (
        <section aria-label="Terms" id="terms" className="scroll-mt-20">
          <h2 className="mb-2 border-b-2 border-ink pb-1 text-2xl">Terms</h2>
          <dl className="grid gap-x-8 gap-y-4 lg:grid-cols-2">
            {terms.map(({ key, term, text, see = [] }) => (
              <div key={key} id={key} className="scroll-mt-20">
                <dt className="font-label text-xl font-semibold">{term}</dt>
                <dd className="text-lg leading-snug">
                  {text}{' '}
                  {see.length > 0 && (
                    <span className="text-soft">
                      See{' '}
                      {see.map((other, i) => (
                        <span key={other}>
                          {i > 0 && ', '}
                          <a className="wordlink" href={`#${other}`}>
                            {nameOf(other)}
                          </a>
                        </span>
                      ))}
                      .
                    </span>
                  )}
                </dd>
              </div>
            ))}
          </dl>
        </section>
      )}
    </div>
  );
}
