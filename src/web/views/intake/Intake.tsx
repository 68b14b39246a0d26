import { useQuery } from '@tanstack/react-query';
import Joi from 'joi';
import { type FormEvent, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { takeInSchema } from '../../../contract/schemas.ts';
import { kindOf, leadAcidKind } from '../../../core/batteries/kinds.ts';
import { followingTag, normaliseTag } from '../../../core/batteries/tag.ts';
import { procedureFor } from '../../../core/catalogue/catalogue.ts';
import { type Purpose } from '../../../core/plan/procedure.ts';
import { jobPlan } from '../../../core/plan/plan.ts';
import { plannedTimeline } from '../../../core/watch/timeline.ts';
import { ProblemError, ask } from '../../line/api.ts';
import { useMinute } from '../../line/benchClock.ts';
import { keepDraft, keptDraft } from '../../line/draft.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useHands, useModels, useRules } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { AddModelDialog } from './AddModelDialog.tsx';
import { unlabelledModel } from '../../../core/batteries/unlabelled.ts';
import { Unlabelled } from './Unlabelled.tsx';
import { batteryOf, NO_LABEL, type UnlabelledTexts } from './unlabelledForm.ts';
import { HereFor, LabelChoice } from './HereFor.tsx';
import { TagFields } from './TagFields.tsx';
import { MomentField } from '../../parts/MomentField.tsx';
import { HoldLine } from '../../inputs/Hold.tsx';
import { useAskedPromise } from './Promise.tsx';
import { PlanPreview } from './PlanPreview.tsx';

const HALF_HOUR_MS = 1_800_000;

interface Form {
  tag: string;
  modelId: string;
  dateCode: string;
  owner: string;
  supplier: string;
  /** When it is promised for, ms; null for shelf stock. */
  promise: number | null;
  purpose: Purpose;
  count: number;
  /** What is typed of a battery without a readable label; null where its model is known. */
  noLabel: UnlabelledTexts | null;
}

/** The same rules as the server's edge, for the fields a person types. */
const formSchema = (takeInSchema as Joi.ObjectSchema)
  .fork(['commandId', 'by', 'promisedAt'], (s) => s.optional())
  .keys({ promise: Joi.number().allow(null), noLabel: Joi.any().strip() });

type Faults = Partial<Record<keyof Form | 'all', string>>;

/** What is wrong with each field, the first fault of it. */
function faultsOf(form: object): Faults {
  const faults: Faults = {};
  for (const { path, message } of formSchema.validate(form, { abortEarly: false }).error?.details ??
    [])
    faults[path[0] as keyof Form] ??= message;
  return faults;
}

const DRAFT = 'intake';
const BLANK: Form = {
  tag: '',
  modelId: '',
  dateCode: '',
  owner: '',
  supplier: '',
  promise: null,
  purpose: 'commission',
  count: 1,
  noLabel: null,
};

/** What came in: one battery or a tray of equal ones, their model, whom it is for, and the whole plan before anything is opened. */
export function Intake() {
  const now = useMinute();
  const rules = useRules();
  const hands = useHands();
  const navigate = useNavigate();
  const { sign } = useSigning();
  const { data: models = [], isSuccess } = useModels();
  const { data: next } = useQuery({
    queryKey: ['nextTag'],
    queryFn: () => ask('nextTag'),
    staleTime: 0,
  });
  const [commandId] = useState(newId);
  const [adding, setAdding] = useState(false);
  const [found] = useState(() => keptDraft<Form>(DRAFT));
  const [form, setForm] = useState<Form>(found ? { ...BLANK, ...found } : BLANK);
  const [touched, setTouched] = useState(found !== null);
  const [faults, setFaults] = useState<Faults>({});
  const [noes, setNoes] = useState(0);
  const [sending, setSending] = useState(false);
  const fields = useRef<HTMLFormElement>(null);
  // The suggestion may come late; it never replaces a tag that somebody typed.
  const [tagTyped, setTagTyped] = useState((found?.tag ?? '') !== '');
  const tag = tagTyped ? form.tag : (next?.tag ?? '');
  const { modelId, promise, purpose, count, noLabel } = form;
  const read = useMemo(() => (noLabel ? batteryOf(noLabel, rules) : null), [noLabel, rules]);
  const change = (changed: Partial<Form>) => {
    setTouched(true);
    if (changed.tag !== undefined) setTagTyped(true);
    setForm((old) => ({ ...old, ...changed }));
    setFaults((old) => ({
      ...old,
      all: undefined,
      ...Object.fromEntries(Object.keys(changed).map((field) => [field, undefined])),
    }));
  };
  // What is typed here is found again after a reload, until it is sent or thrown away.
  useEffect(() => keepDraft(DRAFT, touched ? form : null), [form, touched]);
  const refusedKind = read && 'refusal' in kindOf(read.battery.kind);
  const model = useMemo(
    () =>
      read
        ? refusedKind
          ? null
          : unlabelledModel(tag, read.battery)
        : (models.find((m) => m.id === modelId) ?? null),
    [read, refusedKind, tag, models, modelId],
  );
  const [promiseBegun, setPromiseBegun] = useState(false);
  const plan = useMemo(
    () => (model ? jobPlan(model, rules, purpose) : null),
    [model, rules, purpose],
  );
  const lastTag = lastOfTray(tag, count);

  const refuse = (wrong: Faults): void => {
    setFaults(wrong);
    setNoes((n) => n + 1);
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const { noLabel: _noLabel, modelId: chosenModel, ...entered } = form;
    const typed = {
      ...entered,
      tag: tag.trim().toUpperCase(),
      // Whoever brings a battery without a label may not be able to say more.
      ...(read && entered.owner.trim() === '' ? { owner: 'Not said' } : {}),
      ...(read && entered.dateCode.trim() === '' ? { dateCode: 'not readable' } : {}),
      ...(read ? { unlabelled: read.battery } : { modelId: chosenModel }),
    };
    const wrong = faultsOf(typed);
    if (promiseBegun) wrong.promise = 'Say the day and the time, or leave all of it empty.';
    if (Object.keys(wrong).length > 0 || Object.keys(read?.faults ?? {}).length > 0)
      return refuse(wrong);
    const by = await sign();
    if (!by) return;
    setSending(true);
    try {
      const { promise: promisedAt, ...asked } = typed;
      const { jobId } = await ask('takeIn', { body: { commandId, by, ...asked, promisedAt } });
      keepDraft(DRAFT, null);
      // Its tray is on the bench now; a page whose stream is still being opened would not hear of it.
      void queryClient.invalidateQueries({ queryKey: ['bench'] });
      void navigate(`/jobs/${jobId}`);
    } catch (error) {
      const said = error instanceof ProblemError ? Object.entries(error.problem.fields) : [];
      refuse(
        said.length > 0
          ? Object.fromEntries(
              said.map(([field, text]) => [field === 'promisedAt' ? 'promise' : field, text]),
            )
          : { all: (error as Error).message },
      );
    } finally {
      setSending(false);
    }
  };
  // After a no, the first field that is wrong is gone to.
  useEffect(
    () => fields.current?.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus(),
    [noes],
  );
  const message = (field: keyof Form) => faults[field];
  const kind = model ? leadAcidKind(model.kind) : null;
  const procedure = kind ? procedureFor(kind.key, purpose) : null;
  const segments = plan && procedure ? plannedTimeline(procedure, plan, now, hands) : [];
  const asked = useAskedPromise(plan?.model ?? null, purpose, count, promise);
  // By the day plan where there is one: kept in 8 of 10; else by this battery alone.
  const safe = asked?.answer?.earliest;
  const ready = safe ? asked.from + safe.eight * 60_000 : (segments.at(-1)?.to ?? null);

  return (
    <div className="grid gap-x-8 p-4 md:p-6 lg:grid-cols-[minmax(19rem,24rem)_1fr]">
      <form
        ref={fields}
        onSubmit={(e) => void submit(e)}
        noValidate
        className="grid content-start gap-3"
      >
        <div className="flex items-center justify-between gap-3">
          <h1 className="text-3xl">Take a battery in</h1>
          {found && (
            <button
              type="button"
              className="wordlink min-h-11 text-soft"
              onClick={() => {
                setForm(BLANK);
                setTagTyped(false);
                setTouched(false);
                setFaults({});
              }}
            >
              Start empty
            </button>
          )}
          <button
            type="button"
            className="wordlink min-h-11 text-soft"
            onClick={() => setAdding(true)}
          >
            Add a model
          </button>
        </div>
        <HereFor value={purpose} onChange={(p) => change({ purpose: p })} />
        <LabelChoice
          none={noLabel !== null}
          onChange={(none) => change({ noLabel: none ? (noLabel ?? NO_LABEL) : null })}
        />
        {noLabel ? (
          <Unlabelled
            texts={noLabel}
            faults={read?.faults ?? {}}
            onChange={(changed) => change({ noLabel: { ...noLabel, ...changed } })}
          />
        ) : (
          <>
            <Labelled label="Model" message={message('modelId')}>
              <select
                className="field"
                value={modelId}
                onChange={(e) => change({ modelId: e.target.value })}
                aria-invalid={!!message('modelId')}
              >
                <option value="">Choose from the catalogue</option>
                {models
                  .filter((m) => !m.estimate)
                  .map((m) => (
                    <option key={m.id} value={m.id}>
                      {m.code} · {m.name} · {m.nominalV} V {m.c20Ah} Ah
                    </option>
                  ))}
              </select>
            </Labelled>
            <HoldLine what="model" code={model?.code} />
            {kind && (
              <p className="-mt-1.5 text-[15px] leading-snug text-soft">
                <b className="text-ink">{kind.name}.</b> {kind.arrives}
              </p>
            )}
          </>
        )}
        <TagFields
          tag={tag}
          count={count}
          dateCode={form.dateCode}
          message={message}
          onChange={change}
        />
        {lastTag && (
          <p className="-mt-2 text-soft">
            A tray of {count}: tags run on to <b className="text-ink">{lastTag}</b>. They can be
            stepped together while they are alike.
          </p>
        )}
        <Labelled label="Customer or machine" message={message('owner')}>
          <input
            className="field"
            autoComplete="off"
            placeholder="Groomer 2, or Shelf stock"
            value={form.owner}
            onChange={(e) => change({ owner: e.target.value })}
            aria-invalid={!!message('owner')}
          />
        </Labelled>
        {purpose === 'commission' && (
          <Labelled label="Bought from (if known)" message={message('supplier')}>
            <input
              className="field"
              autoComplete="off"
              value={form.supplier}
              onChange={(e) => change({ supplier: e.target.value })}
              aria-invalid={!!message('supplier')}
            />
          </Labelled>
        )}
        <MomentField
          label="Promised for (empty: shelf stock)"
          value={promise}
          wall={rules}
          now={now}
          message={message('promise')}
          onChange={(at, begun) => {
            setPromiseBegun(begun);
            change({ promise: at });
          }}
        />
        {ready !== null && (
          <button
            type="button"
            className="wordlink min-h-11 justify-self-start text-left"
            onClick={() =>
              change({
                promise: Math.ceil(ready / HALF_HOUR_MS) * HALF_HOUR_MS,
              })
            }
          >
            Promise the first half hour that is safe
          </button>
        )}
        {faults.all && (
          <p role="alert" className="text-oxide">
            {faults.all}
          </p>
        )}
        <button
          type="submit"
          className="act min-h-13! text-xl!"
          disabled={sending || refusedKind === true}
        >
          {count > 1 ? `Take ${count} in and open their jobs` : 'Take it in and open the job'}
        </button>
      </form>

      <PlanPreview
        plan={plan}
        procedure={procedure}
        segments={segments}
        promisedAt={promise}
        now={now}
        wall={rules}
        emptyCatalogue={isSuccess && models.length === 0}
        asked={asked}
      />
      {adding && (
        <AddModelDialog
          onClose={() => setAdding(false)}
          onAdded={(id) => {
            setAdding(false);
            change({ modelId: id });
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
