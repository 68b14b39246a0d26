import { joiResolver } from '@hookform/resolvers/joi';
import { useQuery } from '@tanstack/react-query';
import Joi from 'joi';
import { useEffect, useMemo, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { takeInSchema } from '../../../contract/schemas.ts';
import { leadAcidKind } from '../../../core/batteries/kinds.ts';
import { followingTag, normaliseTag } from '../../../core/batteries/tag.ts';
import { procedureFor } from '../../../core/catalogue/catalogue.ts';
import { PURPOSE_WORDS, type Purpose } from '../../../core/plan/procedure.ts';
import { jobPlan } from '../../../core/plan/plan.ts';
import { plannedTimeline } from '../../../core/watch/timeline.ts';
import { momentOfWallTime, wallTimeOf } from '../../../core/quantities/zonedTime.ts';
import { ProblemError, ask } from '../../line/api.ts';
import { useNow } from '../../line/benchClock.ts';
import { keepDraft, keptDraft } from '../../line/draft.ts';
import { newId } from '../../line/newId.ts';
import { useHands, useModels, useRules } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Empty } from '../../line/States.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { AddModelDialog } from './AddModelDialog.tsx';
import { LifeRibbon, PlanFigures, ReadyLine } from '../../inputs/PlanPanel.tsx';

interface Form {
  tag: string;
  modelId: string;
  dateCode: string;
  owner: string;
  promise: string;
  purpose: Purpose;
  count: number;
}

/** What a battery that comes through the door may come for; a recharge begins at the shelf. */
const COMES_FOR: readonly Purpose[] = ['commission', 'recover', 'display', 'service'];

/** The same rules as the server's edge, for the fields a person types. */
const formSchema = (takeInSchema as Joi.ObjectSchema).fork(['commandId', 'by', 'promisedAt'], (s) => s.optional()).keys({ promise: Joi.string().allow('') });

const DRAFT = 'intake';
const BLANK: Form = { tag: '', modelId: '', dateCode: '', owner: '', promise: '', purpose: 'commission', count: 1 };

/** What came in: one battery or a tray of equal ones, their model, whom it is for, and the whole plan before anything is opened. */
export function Intake() {
  const now = useNow();
  const rules = useRules();
  const hands = useHands();
  const navigate = useNavigate();
  const { sign } = useSigning();
  const { data: models = [], isSuccess } = useModels();
  const { data: next } = useQuery({ queryKey: ['nextTag'], queryFn: () => ask('nextTag'), staleTime: 0 });
  const [commandId] = useState(newId);
  const [adding, setAdding] = useState(false);
  const [found] = useState(() => keptDraft<Form>(DRAFT));
  const { register, handleSubmit, control, reset, setValue, getValues, setError, formState } = useForm<Form>({
    resolver: joiResolver(formSchema, { abortEarly: false }),
    defaultValues: found ?? BLANK,
  });
  useEffect(() => {
    // The suggestion may come late; it never replaces a tag that somebody typed.
    if (next && getValues('tag') === '') setValue('tag', next.tag);
  }, [next, getValues, setValue]);
  const typed = useWatch({ control });
  const { modelId, promise, purpose = 'commission', count = 1, tag = '' } = typed;
  // What is typed here is found again after a reload, until it is sent or thrown away.
  const worthKeeping = formState.isDirty || found !== null;
  useEffect(() => keepDraft(DRAFT, worthKeeping ? typed : null), [typed, worthKeeping]);
  const model = models.find((m) => m.id === modelId);
  const promisedAt = promise ? momentOfWallTime(promise, rules.timeZone) : null;
  const plan = useMemo(() => (model ? jobPlan(model, rules, purpose) : null), [model, rules, purpose]);
  const lastTag = lastOfTray(tag, count);

  const submit = handleSubmit(async ({ promise: _, ...form }) => {
    const by = await sign();
    if (!by) return;
    try {
      const { jobId } = await ask('takeIn', { body: { commandId, by, ...form, promisedAt } });
      keepDraft(DRAFT, null);
      void navigate(`/jobs/${jobId}`);
    } catch (error) {
      const fields = error instanceof ProblemError ? Object.entries(error.problem.fields) : [];
      for (const [field, message] of fields) setError((field === 'promisedAt' ? 'promise' : field) as keyof Form, { message });
      if (fields.length === 0) setError('root', { message: (error as Error).message });
    }
  });
  const message = (field: keyof Form) => formState.errors[field]?.message;
  const kind = model ? leadAcidKind(model.kind) : null;
  const segments = plan && kind ? plannedTimeline(procedureFor(kind.key, purpose), plan, now, hands) : [];
  const ready = segments.at(-1)?.to ?? null;

  return (
    <div className="grid gap-x-8 p-4 md:p-6 lg:grid-cols-[minmax(19rem,24rem)_1fr]">
      <form onSubmit={(e) => void submit(e)} noValidate className="grid content-start gap-3">
        <div className="flex items-center justify-between gap-3">
          <h1 className="text-3xl">Take a battery in</h1>
          {found && (
            <button
              type="button"
              className="wordlink min-h-11 text-soft"
              onClick={() => {
                keepDraft(DRAFT, null);
                reset(BLANK);
                if (next) setValue('tag', next.tag);
              }}
            >
              Start empty
            </button>
          )}
          <button type="button" className="wordlink min-h-11 text-soft" onClick={() => setAdding(true)}>
            Add a model
          </button>
        </div>
        <Labelled label="Model" message={message('modelId')}>
          <select className="field" {...register('modelId')} aria-invalid={!!message('modelId')}>
            <option value="">Choose from the catalogue</option>
            {models.map((m) => (
              <option key={m.id} value={m.id}>
                {m.code} · {m.name} · {m.nominalV} V {m.c20Ah} Ah
              </option>
            ))}
          </select>
        </Labelled>
        {kind && (
          <p className="-mt-1.5 text-[15px] leading-snug text-soft">
            <b className="text-ink">{kind.name}.</b> {kind.arrives}
          </p>
        )}
        <fieldset>
          <legend className="label mb-1">What it comes for</legend>
          <div className="flex flex-wrap gap-2">
            {COMES_FOR.map((p) => (
              <label
                key={p}
                className={`act-quiet cursor-pointer px-3! has-focus-visible:outline-3 has-focus-visible:outline-slate ${purpose === p ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              >
                <input type="radio" value={p} className="sr-only" {...register('purpose')} />
                {PURPOSE_WORDS[p]}
              </label>
            ))}
          </div>
        </fieldset>
        <div className="grid grid-cols-[1fr_5.5rem_1fr] gap-3">
          <Labelled label={count > 1 ? 'First tag' : 'Tag'} message={message('tag')}>
            <input
              className="field font-label text-2xl! font-semibold uppercase"
              autoComplete="off"
              {...register('tag', { setValueAs: (v: string) => v.trim().toUpperCase() })}
              aria-invalid={!!message('tag')}
            />
          </Labelled>
          <Labelled label="How many" message={message('count')}>
            <input
              type="number"
              min={1}
              max={48}
              className="field font-label text-2xl! font-semibold"
              {...register('count', { valueAsNumber: true })}
              aria-invalid={!!message('count')}
            />
          </Labelled>
          <Labelled label="Date code" message={message('dateCode')}>
            <input className="field" autoComplete="off" placeholder="2025-11" {...register('dateCode')} aria-invalid={!!message('dateCode')} />
          </Labelled>
        </div>
        {lastTag && (
          <p className="-mt-2 text-soft">
            A tray of {count}: tags run on to <b className="text-ink">{lastTag}</b>. They can be stepped together while they are alike.
          </p>
        )}
        <Labelled label="Who it is for" message={message('owner')}>
          <input className="field" autoComplete="off" placeholder="Groomer 2, or Shelf stock" {...register('owner')} aria-invalid={!!message('owner')} />
        </Labelled>
        <Labelled label="Promised for (empty: shelf stock)" message={message('promise')}>
          <input type="datetime-local" className="field" min={wallTimeOf(now, rules.timeZone)} {...register('promise')} aria-invalid={!!message('promise')} />
        </Labelled>
        {ready !== null && (
          <button
            type="button"
            className="wordlink min-h-11 justify-self-start text-left"
            onClick={() => setValue('promise', wallTimeOf(Math.ceil((ready + 1_800_000) / 1_800_000) * 1_800_000, rules.timeZone), { shouldDirty: true })}
          >
            Promise the first half hour it can be ready
          </button>
        )}
        {formState.errors.root && (
          <p role="alert" className="text-oxide">
            {formState.errors.root.message}
          </p>
        )}
        <button type="submit" className="act min-h-13! text-xl!" disabled={formState.isSubmitting}>
          {count > 1 ? `Take ${count} in and open their jobs` : 'Take it in and open the job'}
        </button>
      </form>

      <section aria-label="The plan" className="min-w-0 max-lg:mt-8">
        {plan && ready !== null ? (
          <div className="grid gap-4 rounded-lg border border-line bg-sheet p-5">
            <div className="flex flex-wrap items-start justify-between gap-4">
              <h2 className="text-2xl">
                The whole plan
                <span className="block text-lg font-medium text-soft">
                  {plan.model.code}, {plan.model.name}
                </span>
              </h2>
              <ReadyLine readyAt={ready} promisedAt={promisedAt} now={now} timeZone={rules.timeZone} />
            </div>
            <LifeRibbon segments={segments} now={now} promisedAt={promisedAt} readyAt={ready} timeZone={rules.timeZone} />
            <PlanFigures plan={plan} />
          </div>
        ) : (
          <Empty title={isSuccess && models.length === 0 ? 'The catalogue is empty' : 'The plan appears here'}>
            <p>
              {isSuccess && models.length === 0
                ? 'Add the first model as its maker prints it. From that come the fill, the waits, the charge and the hour it is ready.'
                : 'Choose the model. Fill, waits, charge, pass line and the earliest hour it is ready are worked out before anything is opened.'}
            </p>
          </Empty>
        )}
      </section>
      {adding && (
        <AddModelDialog
          onClose={() => setAdding(false)}
          onAdded={(id) => {
            setAdding(false);
            setValue('modelId', id, { shouldDirty: true, shouldValidate: true });
          }}
        />
      )}
    </div>
  );
}

/** The last tag of a tray, or null for a single battery or a tag that is none. */
function lastOfTray(first: string, count: number): string | null {
  let tag = normaliseTag(first);
  if (tag === null || !(count > 1 && count <= 48)) return null;
  for (let i = 1; i < count; i++) tag = followingTag(tag);
  return tag;
}
