import { GRAMS_PER_POUND } from '../../../../core/quantities/quantity.ts';
import { useState } from 'react';
import type { EyeColour } from '../../../../core/diagnosis/evidence.ts';
import { STORIES, STORY_KEYS, type StoryKey } from '../../../../core/diagnosis/stories.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { type ParsedSpan, parseSpan } from '../../../../core/quantities/parseSpan.ts';
import { Labelled } from '../../../parts/Labelled.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';

const numberOf = (text: string): number | null => {
  const value = Number(text.trim().replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
};

/** What its owner tells: the story, how long it stood, its age. Empty means nobody knows. */
export function StoryPanel({ step, sender, rules }: PanelProps & { step: StepOf<'story'> }) {
  const [story, setStory] = useState<StoryKey | null>(null);
  const pounds = rules.volumeUnit === 'oz';
  const [texts, setTexts] = useState({ days: '', years: '', coldest: '', mass: '', crank: '' });
  const [white, setWhite] = useState(false);
  const [eye, setEye] = useState<EyeColour | null>(null);
  const [faults, setFaults] = useState<Partial<Record<keyof typeof texts, string>>>({});
  const field = (key: keyof typeof texts, label: string, unit: string) => (
    <Labelled label={label} message={faults[key]}>
      <span className="relative block">
        <input
          className="field pr-14"
          inputMode="decimal"
          autoComplete="off"
          value={texts[key]}
          onChange={(e) => {
            setTexts({ ...texts, [key]: e.target.value });
            setFaults({});
          }}
        />
        <span aria-hidden className="absolute top-1/2 right-3 -translate-y-1/2 text-soft">
          {unit}
        </span>
      </span>
    </Labelled>
  );
  const coldest = numberOf(texts.coldest);
  /** What was typed and cannot be read is said, and never passed over as not known. */
  const read = () => {
    const spans = {
      days: texts.days.trim() ? parseSpan(texts.days, 'days') : null,
      years: texts.years.trim() ? parseSpan(texts.years, 'years') : null,
    };
    const found: typeof faults = {};
    for (const key of ['days', 'years'] as const) {
      const span = spans[key];
      if (span?.ok === false) found[key] = span.message;
    }
    for (const key of ['coldest', 'mass', 'crank'] as const)
      if (texts[key].trim() && numberOf(texts[key]) === null) found[key] = 'Not a number.';
    setFaults(found);
    const daysOf = (span: ParsedSpan | null) => (span?.ok ? span.days : null);
    return Object.keys(found).length > 0
      ? null
      : { days: daysOf(spans.days), years: daysOf(spans.years) };
  };
  const tell = () => {
    const spans = read();
    if (!story || !spans) return false;
    const mass = numberOf(texts.mass);
    return sender.send({
      type: 'tellStory',
      stepId: step.id,
      story: {
        story,
        standingDays: spans.days,
        ageYears: spans.years === null ? null : Math.round((spans.years / 365.25) * 100) / 100,
        coldestC:
          coldest === null
            ? null
            : rules.temperatureUnit === 'F'
              ? ((coldest - 32) * 5) / 9
              : coldest,
        whitePost: white,
        eye,
        crankV: numberOf(texts.crank),
        wetMassG: mass === null ? null : mass * (pounds ? GRAMS_PER_POUND : 1000),
      },
    });
  };
  return (
    <>
      <div
        role="group"
        aria-label="What happened"
        className="grid w-full gap-2 grid-cols-2 lg:grid-cols-4"
      >
        {STORY_KEYS.map((key) => (
          <button
            key={key}
            type="button"
            aria-pressed={story === key}
            className={`flex min-h-16 flex-col justify-start rounded-md border px-3 py-2 text-left ${story === key ? 'border-ink bg-ink text-sheet' : 'border-line hover:bg-hair'}`}
            onClick={() => setStory(key)}
          >
            <b className="block font-label text-lg leading-tight">{STORIES[key].name}</b>
            <span
              className={`mt-0.5 text-[15px] leading-tight ${story === key ? '' : 'text-soft'}`}
            >
              {STORIES[key].plain}
            </span>
          </button>
        ))}
        <button
          type="button"
          aria-pressed={white}
          className={`flex min-h-16 flex-col justify-start rounded-md border px-3 py-2 text-left ${white ? 'border-ink bg-ink text-sheet' : 'border-line hover:bg-hair'}`}
          onClick={() => setWhite(!white)}
        >
          <b className="block font-label text-lg leading-tight">
            White growth on the positive post
          </b>
          <span className={`mt-0.5 text-[15px] leading-tight ${white ? '' : 'text-soft'}`}>
            It stood undercharged. May be chosen besides the others.
          </span>
        </button>
      </div>
      <div className="grid w-full grid-cols-2 gap-x-3 gap-y-2 sm:grid-cols-3">
        {field('days', 'Days unused, if known', 'days')}
        {field('years', 'Its age, if known', 'years')}
        {field('coldest', 'Coldest it was, if known', `°${rules.temperatureUnit}`)}
        {field('mass', 'Weight by its label, filled', pounds ? 'lb' : 'kg')}
        {field('crank', 'Minimum voltage cranking, if read', 'V')}
        <Labelled label="Charge eye, if it has one">
          <select
            className="field"
            value={eye ?? ''}
            onChange={(e) => setEye((e.target.value || null) as EyeColour | null)}
          >
            <option value="">None, or not looked at</option>
            <option value="full">Says full</option>
            <option value="low">Says low</option>
            <option value="no-acid">Says no acid</option>
          </select>
        </Labelled>
      </div>
      <ProblemLine sender={sender} />
      <button
        type="button"
        className="act"
        disabled={story === null || sender.busy}
        onClick={() => void tell()}
      >
        Save
      </button>
    </>
  );
}
