import { joiResolver } from '@hookform/resolvers/joi';
import { useQuery } from '@tanstack/react-query';
import Joi from 'joi';
import { useEffect, useMemo, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { takeInSchema } from '../../../contract/schemas.ts';
import type { TakeIn } from '../../../contract/wire.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { PROCEDURES } from '../../../core/procedures/commissionDryAgm.ts';
import { commissioningPlan } from '../../../core/procedures/plan.ts';
import { plannedTimeline } from '../../../core/procedures/timeline.ts';
import { momentOfWallTime, wallTimeOf } from '../../../core/quantities/zonedTime.ts';
import { get, post, ProblemError } from '../../app/api.ts';
import { useNow } from '../../app/benchClock.ts';
import { newId } from '../../app/newId.ts';
import { useModels, useRules } from '../../app/queries.ts';
import { useSigning } from '../../app/signing.tsx';
import { Empty } from '../../app/States.tsx';
import { Labelled } from '../../inputs/Labelled.tsx';
import { AddModelDialog } from './AddModelDialog.tsx';
import { LifeRibbon, PlanFigures, ReadyLine } from './PlanPanel.tsx';

interface Form {
  tag: string;
  modelId: string;
  dateCode: string;
  owner: string;
  promise: string;
}

/** The same rules as the server's edge, for the fields a person types. */
const formSchema = takeInSchema.fork(['commandId', 'by', 'promisedAt'], (s) => s.optional()).keys({ promise: Joi.string().allow('') });

/** What came in: one battery, its model, whom it is for, and the whole plan before anything is opened. */
export function Intake() {
  const now = useNow();
  const rules = useRules();
  const navigate = useNavigate();
  const { sign } = useSigning();
  const { data: models = [], isSuccess } = useModels();
  const { data: next } = useQuery({ queryKey: ['nextTag'], queryFn: () => get<{ tag: string }>('/api/tags/next'), staleTime: 0 });
  const [commandId] = useState(newId);
  const [adding, setAdding] = useState(false);
  const { register, handleSubmit, control, setValue, getValues, setError, formState } = useForm<Form>({
    resolver: joiResolver(formSchema, { abortEarly: false }),
    defaultValues: { tag: '', modelId: '', dateCode: '', owner: '', promise: '' },
  });
  useEffect(() => {
    // The suggestion may come late; it never replaces a tag that somebody typed.
    if (next && getValues('tag') === '') setValue('tag', next.tag);
  }, [next, getValues, setValue]);
  const { modelId, promise } = useWatch({ control });
  const model = models.find((m) => m.id === modelId);
  const promisedAt = promise ? momentOfWallTime(promise, rules.timeZone) : null;
  const plan = useMemo(() => (model ? commissioningPlan(model, rules) : null), [model, rules]);

  const submit = handleSubmit(async ({ promise: _, ...form }) => {
    const by = await sign();
    if (!by) return;
    try {
      const { jobId } = await post<{ jobId: string }>('/api/batteries', { commandId, by, ...form, promisedAt } satisfies TakeIn);
      void navigate(`/jobs/${jobId}`);
    } catch (error) {
      const fields = error instanceof ProblemError ? Object.entries(error.problem.fields) : [];
      for (const [field, message] of fields) setError((field === 'promisedAt' ? 'promise' : field) as keyof Form, { message });
      if (fields.length === 0) setError('root', { message: (error as Error).message });
    }
  });
  const message = (field: keyof Form) => formState.errors[field]?.message;
  const kind = model ? kindOf(model.kind) : null;
  const segments = plan && kind && 'procedure' in kind ? plannedTimeline(PROCEDURES[kind.procedure] as never, plan, now) : [];
  const ready = segments.at(-1)?.to ?? null;

  return (
    <div className="grid gap-x-8 p-4 md:p-6 lg:grid-cols-[minmax(19rem,24rem)_1fr]">
      <form onSubmit={(e) => void submit(e)} noValidate className="grid content-start gap-3.5">
        <h1 className="text-3xl">Take a battery in</h1>
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
        <button type="button" className="act-quiet justify-self-start" onClick={() => setAdding(true)}>
          Add a model
        </button>
        <div className="grid grid-cols-2 gap-3">
          <Labelled label="Tag" message={message('tag')}>
            <input
              className="field font-label text-2xl! font-semibold uppercase"
              autoComplete="off"
              {...register('tag', { setValueAs: (v: string) => v.trim().toUpperCase() })}
              aria-invalid={!!message('tag')}
            />
          </Labelled>
          <Labelled label="Maker's date code" message={message('dateCode')}>
            <input className="field" autoComplete="off" placeholder="2025-11" {...register('dateCode')} aria-invalid={!!message('dateCode')} />
          </Labelled>
        </div>
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
          Take it in and open the job
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
