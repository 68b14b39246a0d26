import { wrap } from 'comlink';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { CatalogueModel } from '../../../contract/wire.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import type { LookKind } from '../../../core/drill/case.ts';
import {
  factsOfJob,
  FINDABLE,
  OWN_PICTURES,
  ownCase,
  type OwnCaseFacts,
  USUAL_SHOP,
} from '../../../core/drill/ownCase.ts';
import { DECISION_WORDS, LOOK_WORDS, MARK_WORDS } from '../../../core/drill/words.ts';
import { FAMILIES, type PictureKey, PICTURES } from '../../../core/diagnosis/practice/families.ts';
import { STORIES, STORY_KEYS } from '../../../core/diagnosis/stories.ts';
import { OPENS_H } from '../../../core/drill/hours.ts';
import { formatDuration, formatTimeOfDay } from '../../../core/quantities/format.ts';
import { ask, problemOf } from '../../line/api.ts';
import { momentOfAct } from '../../line/benchClock.ts';
import { newId } from '../../line/newId.ts';
import { jobOf, queryClient, useJob, useModels, useRules } from '../../line/queries.ts';
import { Empty, Loading } from '../../line/States.tsx';
import { useSigning } from '../../line/signing.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import type { DrillWorker, TriedOut } from '../../workers/drill.worker.ts';

const BLANK: OwnCaseFacts = {
  title: '',
  says: '',
  story: 'unknown',
  standingDays: null,
  ageYears: null,
  picture: 'flat',
  badness: 0.5,
  find: null,
  meterShows: 1,
  ...USUAL_SHOP,
  teaches: '',
};

const PICTURE_WORDS: Readonly<Record<PictureKey, string>> = {
  damaged: 'frozen, cracked, a loose post',
  reversed: 'reversed',
  shorted: 'a shorted cell',
  open: 'an open link',
  leaking: 'a soft short, leaks away in a week',
  weak: 'one weak cell',
  worn: 'plates gone',
  dry: 'dry, sealed',
  uncovered: 'plates bare',
  hard: 'hard sulfate',
  light: 'light sulfate',
  layered: 'acid layered',
  flat: 'drawn down, sound otherwise',
  nothing: 'sound',
};

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
      first={facts ?? BLANK}
      firstModel={model.id}
      said={
        jobId === ''
          ? null
          : facts
            ? 'Made of a finished recovery. Its people, its customer and its dates are left out; look it over and try it.'
            : 'This job tells nothing a case could be made of: it has no verdict that names what it was.'
      }
    />
  );
}

/** Hours at which a battery comes in, and at which a shop closes. */
const BEGINS_H = [8, 10, 12, 14, 15, 16, 17];
const CLOSES_H = [16, 17, 18, 19, 20];

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
  const rules = useRules();
  const onTheHour = (hour: number): string => formatTimeOfDay(60 * hour, rules);
  const model = models.find((m) => m.id === modelId);
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
        <Text label="Title" value={facts.title} onChange={(title) => change({ title })} />
        <Choice
          label="Model"
          value={modelId}
          options={models.map((m) => [m.id, `${m.code} ${m.name}`] as const)}
          onChange={(id) => {
            setModelId(id);
            setTried(null);
          }}
        />
        <Text
          label="What its owner says"
          value={facts.says}
          onChange={(says) => change({ says })}
        />
        <Choice
          label="What happened, as it is written down"
          value={facts.story}
          options={STORY_KEYS.map((key) => [key, STORIES[key].name] as const)}
          onChange={(story) => change({ story })}
        />
        <Count
          label="Days unused, if known"
          value={facts.standingDays}
          onChange={(standingDays) => change({ standingDays })}
        />
        <Count
          label="Its age in years, if known"
          value={facts.ageYears}
          onChange={(ageYears) => change({ ageYears })}
        />
        <Choice
          label="What it truly is"
          value={facts.picture}
          options={OWN_PICTURES.map(
            (key) => [key, `${FAMILIES[PICTURES[key]].name}: ${PICTURE_WORDS[key]}`] as const,
          )}
          onChange={(picture) => change({ picture })}
        />
        <Labelled label={`How bad: ${Math.round(100 * facts.badness)} of 100`}>
          <input
            type="range"
            className="min-h-11 w-full"
            min={0}
            max={100}
            step={5}
            value={Math.round(100 * facts.badness)}
            onChange={(e) => change({ badness: Number(e.target.value) / 100 })}
          />
        </Labelled>
        <Choice
          label="A look finds something"
          value={facts.find?.what ?? 'nothing'}
          options={[
            ['nothing', 'Nothing'] as const,
            ...FINDABLE.map((what) => [what as string, LOOK_WORDS[what]] as const),
          ]}
          onChange={(what) =>
            change({
              find:
                what === 'nothing'
                  ? null
                  : { what: what as LookKind, says: facts.find?.says ?? '' },
            })
          }
        />
        {facts.find && (
          <Text
            label="What the look finds"
            value={facts.find.says}
            onChange={(says) => change({ find: facts.find && { ...facts.find, says } })}
          />
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
        <Choice
          label="It comes in at"
          value={facts.beginsH}
          options={BEGINS_H.map((hour) => [hour, onTheHour(hour)] as const)}
          onChange={(beginsH) =>
            change({
              beginsH,
              closesH: facts.closesH !== null && facts.closesH <= beginsH ? null : facts.closesH,
            })
          }
        />
        <Choice
          label="At night"
          value={facts.closesH ?? 0}
          options={[
            [0, 'Somebody may be there'] as const,
            ...CLOSES_H.filter((hour) => hour > facts.beginsH).map(
              (hour) =>
                [hour, `Closed from ${onTheHour(hour)} until ${onTheHour(OPENS_H)}`] as const,
            ),
          ]}
          onChange={(hour) => change({ closesH: hour === 0 ? null : hour })}
        />
        <Count
          label="Promised after, h, if it is"
          value={facts.promisedH}
          onChange={(promisedH) => change({ promisedH })}
        />
        <Choice
          label="Where it goes"
          value={facts.strands ? 1 : 0}
          options={[
            [0, 'To a usual customer'],
            [1, 'Where a failure strands someone'],
          ]}
          onChange={(strands) => change({ strands: strands === 1 })}
        />
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
                ? 'Title, the owner’s words and what is to be taken from it are missing.'
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

function Text({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <Labelled label={label}>
      <input
        className="field"
        value={value}
        maxLength={300}
        onChange={(e) => onChange(e.target.value)}
      />
    </Labelled>
  );
}

/** A number that may be left open. */
function Count({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | null;
  onChange: (value: number | null) => void;
}) {
  return (
    <Labelled label={label}>
      <input
        className="field"
        inputMode="decimal"
        defaultValue={value ?? ''}
        onChange={(e) => {
          const number = Number(e.target.value.replace(',', '.'));
          onChange(e.target.value.trim() === '' || !(number >= 0) ? null : number);
        }}
      />
    </Labelled>
  );
}
