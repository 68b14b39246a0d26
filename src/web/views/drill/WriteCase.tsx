import { wrap } from 'comlink';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { CatalogueModel } from '../../../contract/wire.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import {
  BLANK_FACTS,
  factsOfJob,
  ownCase,
  type OwnCaseFacts,
} from '../../../core/drill/ownCase.ts';
import { TRAPS, trapsOf } from '../../../core/drill/traps.ts';
import { PURPOSE_WORDS } from '../../../core/plan/procedure.ts';
import { DECISION_WORDS, MARK_WORDS } from '../../../core/drill/words.ts';
import { formatDuration } from '../../../core/quantities/format.ts';
import { ask, problemOf } from '../../line/api.ts';
import { momentOfAct } from '../../line/benchClock.ts';
import { newId } from '../../line/newId.ts';
import { jobOf, queryClient, useJob, useModels } from '../../line/queries.ts';
import { Empty, Loading } from '../../line/States.tsx';
import { useSigning } from '../../line/signing.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { RecoveryFields, ShopFields, Text } from './CaseFields.tsx';
import type { DrillWorker, TriedOut } from '../../workers/drill.worker.ts';

/** A lead writes a case, or makes one of a finished job; it is tried out before it is kept. */
export function WriteCase() {
  const [params] = useSearchParams();
  const jobId = params.get('job') ?? '';
  const { data: models } = useModels();
  const { data: from } = useJob(jobId);
  const { person } = useSigning();
  if (!models || (jobId !== '' && !from)) return <Loading />;
  const job = from && jobOf(from.job, from.procedure, momentOfAct());
  const facts = job ? factsOfJob(job) : null;
  if (person?.role !== 'lead')
    return (
      <div className="p-4 md:p-6">
        <h1 className="mb-4 text-3xl">Write a case</h1>
        <Empty title="A lead writes the cases of the shop">
          <Link to="/drill" className="act">
            To the drill
          </Link>
        </Empty>
      </div>
    );
  const usable = models.filter((m) => !('refusal' in kindOf(m.kind)));
  const model = usable.find((m) => m.code === job?.plan.model.code) ?? usable[0];
  if (!model) return <Loading />;
  return (
    <Form
      by={person.id}
      models={usable}
      first={facts ?? BLANK_FACTS}
      firstModel={model.id}
      said={
        jobId === ''
          ? null
          : facts
            ? 'Made of a finished job. Its people, its customer and its dates are left out; look it over and try it.'
            : 'This job tells nothing a case could be made of: it has no verdict that names what it was.'
      }
    />
  );
}

function Form({
  by,
  models,
  first,
  firstModel,
  said,
}: {
  by: string;
  models: readonly CatalogueModel[];
  first: OwnCaseFacts;
  firstModel: string;
  said: string | null;
}) {
  const [facts, setFacts] = useState(first);
  const [modelId, setModelId] = useState(firstModel);
  const [tried, setTried] = useState<TriedOut | null>(null);
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const navigate = useNavigate();
  const change = (more: Partial<OwnCaseFacts>): void => {
    setFacts((old) => ({ ...old, ...more }));
    setTried(null);
  };
  const model = models.find((m) => m.id === modelId);
  const isNew = facts.purpose === 'commission';
  const kind = model && kindOf(model.kind);
  const traps = kind && !('refusal' in kind) ? trapsOf(kind) : [];
  const missing = (['title', 'says', 'teaches'] as const).filter((k) => facts[k].trim() === '');
  const tryOut = async (): Promise<void> => {
    if (!model) return;
    setBusy(true);
    setFault(null);
    const raw = new Worker(new URL('../../workers/drill.worker.ts', import.meta.url), {
      type: 'module',
    });
    try {
      setTried(await wrap<DrillWorker>(raw).tryOut(ownCase('S-00', facts, model)));
    } catch (error) {
      setFault(problemOf(error).message);
    } finally {
      raw.terminate();
      setBusy(false);
    }
  };
  const save = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    if (!tried || missing.length > 0) return;
    try {
      await ask('saveDrillCase', { body: { commandId: newId(), by, modelId, facts } });
      await queryClient.invalidateQueries({ queryKey: ['drill'] });
      void navigate('/drill');
    } catch (error) {
      setFault(problemOf(error).message);
    }
  };
  return (
    <form onSubmit={(e) => void save(e)} className="max-w-4xl p-4 md:p-6">
      <Link to="/drill" className="wordlink inline-flex min-h-11 items-center text-soft">
        Drill
      </Link>
      <h1 className="text-3xl">Write a case</h1>
      {said && <p className="mt-1 text-lg text-soft">{said}</p>}
      <div className="mt-4 grid gap-4 md:grid-cols-2">
        <Choice
          label="Job type"
          value={facts.purpose}
          options={(['recover', 'commission'] as const).map(
            (purpose) => [purpose, PURPOSE_WORDS[purpose]] as const,
          )}
          onChange={(purpose) => change({ purpose })}
        />
        <Text label="Title" value={facts.title} onChange={(title) => change({ title })} />
        <Choice
          label="Model"
          value={modelId}
          options={models.map((m) => [m.id, `${m.code} ${m.name}`] as const)}
          onChange={(id) => {
            setModelId(id);
            change({ trap: 'none' });
          }}
        />
        {isNew ? (
          <>
            <Text
              label="How it comes in"
              value={facts.says}
              onChange={(says) => change({ says })}
            />
            <Choice
              label="What is not as it should be"
              value={facts.trap}
              options={traps.map((key) => [key, TRAPS[key].name] as const)}
              onChange={(trap) => change({ trap })}
            />
          </>
        ) : (
          <RecoveryFields facts={facts} change={change} />
        )}
        <Choice
          label="The voltmeter"
          value={facts.meterShows}
          options={[
            [1, 'Shows what it is'],
            [1.025, 'Shows 2.5 % too much'],
            [0.975, 'Shows 2.5 % too little'],
          ]}
          onChange={(meterShows) => change({ meterShows })}
        />
        <ShopFields facts={facts} change={change} />
        <Text
          label="What is to be taken from it"
          value={facts.teaches}
          onChange={(teaches) => change({ teaches })}
        />
      </div>
      <section aria-label="Test run" className="mt-5 border-t border-line pt-4">
        <div className="flex flex-wrap gap-3">
          <button
            type="button"
            className={tried ? 'act-quiet' : 'act'}
            disabled={busy}
            onClick={() => void tryOut()}
          >
            {busy ? 'A good technician tries it …' : 'Test run'}
          </button>
          <button type="submit" className="act" disabled={!tried || missing.length > 0}>
            Save case
          </button>
          {(!tried || missing.length > 0) && (
            <p className="self-center text-soft">
              {missing.length > 0
                ? `Title, ${isNew ? 'how it comes in' : 'the owner’s words'} and what is to be taken from it are missing.`
                : 'Try it once before it is saved.'}
            </p>
          )}
        </div>
        {tried && model && <Tried tried={tried} right={ownCase('S-00', facts, model).right} />}
        {fault && (
          <p role="alert" className="mt-2 text-oxide">
            {fault}
          </p>
        )}
      </section>
    </form>
  );
}

function Tried({
  tried: { decision, handsMin, hours, passed, fails, arrivesV },
  right,
}: {
  tried: TriedOut;
  right: ReturnType<typeof ownCase>['right'];
}) {
  return (
    <p role="status" className="mt-3 max-w-[75ch] text-lg">
      {arrivesV !== undefined && `It reads ${arrivesV.toFixed(2)} V as it comes. `}
      Right: {right.map((d) => DECISION_WORDS[d].toLowerCase()).join(' or ')}. A good technician
      decides: {decision ? DECISION_WORDS[decision].toLowerCase() : 'nothing'}, in{' '}
      {formatDuration(60 * handsMin)} of hands and {formatDuration(3600 * hours)} in all.{' '}
      <b className={passed ? 'text-moss' : 'text-oxide'}>
        {passed
          ? '✓ It can be passed.'
          : `✕ Even so it fails by ${fails.map((key) => MARK_WORDS[key].name.toLowerCase()).join(', ')}: it is a hard one.`}
      </b>
    </p>
  );
}
