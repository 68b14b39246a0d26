import { HAPPENS, TAKES } from '../../../core/drill/acts.ts';
import type { LookedBack } from '../../../core/drill/lookBack.ts';
import { factWords, LOOK_WORDS, shownWords } from '../../../core/drill/words.ts';
import { FAMILIES, type FamilyKey } from '../../../core/diagnosis/practice/families.ts';
import type { JobCommand } from '../../../core/job/commands.ts';
import { oddsWords } from '../../../core/quantities/chance.ts';
import { formatDuration } from '../../../core/quantities/format.ts';
import type { Moment } from '../../../core/quantities/moment.ts';
import { useSay } from '../../line/queries.ts';

/** Every act and what came of it, in order; with what could be taken for true after each reading. */
export function Lines({
  title,
  lines,
  beganAt,
  family,
}: {
  title: string;
  lines: readonly LookedBack[];
  beganAt: Moment;
  family: FamilyKey;
}) {
  const say = useSay();
  return (
    <section aria-label={title} className="min-w-0">
      <h2 className="mb-2 text-2xl">{title}</h2>
      {lines.length === 0 && <p className="text-soft">Nothing.</p>}
      {byStep(lines).map(({ step, lines: within }, i) => (
        <details key={i} open={within.length <= OPEN_LINES} className="border-t border-line">
          <summary className="flex min-h-11 cursor-pointer flex-wrap items-baseline gap-x-3 py-1.5">
            <b className="font-label text-lg font-semibold">
              {step === null ? 'After the end' : say(step)}
            </b>
            <span className="text-soft">
              {within.length} {within.length === 1 ? 'act' : 'acts'}
            </span>
            {within.some((l) => l.facts.length > 0) && (
              <span className="text-oxide">✕ points lost here</span>
            )}
          </summary>
          <ol className="pb-2">
            {within.map((line, k) => (
              <Line key={k} line={line} beganAt={beganAt} family={family} />
            ))}
          </ol>
        </details>
      ))}
    </section>
  );
}

/** A step with more acts than this is folded: an initial charge has dozens. */
const OPEN_LINES = 8;

/** Acts in a row at the same step, together. */
function byStep(lines: readonly LookedBack[]): { step: string | null; lines: LookedBack[] }[] {
  const groups: { step: string | null; lines: LookedBack[] }[] = [];
  for (const line of lines) {
    const last = groups.at(-1);
    if (last?.step === line.step) last.lines.push(line);
    else groups.push({ step: line.step, lines: [line] });
  }
  return groups;
}

function Line({ line, beganAt, family }: { line: LookedBack; beganAt: Moment; family: FamilyKey }) {
  const say = useSay();
  return (
    <li className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-x-3 py-0.5">
      <span className="text-soft">{formatDuration((line.at - beganAt) / 1000)}</span>
      <div className="min-w-0">
        <p>
          {actWords(line)}
          {line.shown && <b className="font-semibold">: {say(shownWords(line.shown))}</b>}
        </p>
        {line.happened.map((what) => (
          <p key={what} className="text-ember-ink">
            {HAPPENS[what]}
          </p>
        ))}
        {line.facts.map((fact, k) => (
          <p key={k} className="text-oxide">
            {say(factWords(fact))}
          </p>
        ))}
        {line.wouldHaveTold && line.wouldHaveTold.clears > 0.05 && (
          <p className="text-slate">
            {line.wouldHaveTold.name} would have told most then: {line.wouldHaveTold.minutes} min.
          </p>
        )}
        <Odds line={line} family={family} />
      </div>
    </li>
  );
}

/** What it could be taken for then: the likeliest, and beside it what it truly was. */
function Odds({ line: { odds }, family }: { line: LookedBack; family: FamilyKey }) {
  const [first] = odds ?? [];
  if (!odds || !first) return null;
  const truth = odds.find((o) => o.family === family);
  return (
    <p className="text-soft">
      Most likely then: {FAMILIES[first.family].is}, {oddsWords(first.chance)}
      {first.family !== family && truth
        ? `; what it was, ${FAMILIES[family].is}: ${oddsWords(truth.chance)}`
        : ''}
    </p>
  );
}

function actWords({ act }: LookedBack): string {
  switch (act.do) {
    case 'look':
      return LOOK_WORDS[act.what];
    case 'take':
      return TAKES[act.take].name;
    case 'tap':
      return `Tapped tube ${act.tube + 1}`;
    case 'wait':
      return `Let time pass${act.alert ? ', until something happened' : `: ${formatDuration(act.seconds)}`}`;
    case 'command':
      return commandWords(act.command);
  }
}

const COMMANDS: Partial<Record<JobCommand['type'], string>> = {
  acknowledge: 'Made the place safe',
  answerChecks: 'Answered the checks',
  matchPack: 'Matched the pack',
  matchAcid: 'Judged the acid',
  confirmDone: 'Did the step',
  topUp: 'Topped up',
  answerPorts: 'Answered for every port',
  cutWait: 'Ended the wait early',
  skip: 'Skipped the step',
  reopen: 'Opened a step again',
  startCharge: 'Started the charge',
  pauseCharge: 'Paused the charge',
  resumeCharge: 'Went on charging',
  reconnect: 'Connected it again',
  endCharge: 'Ended the charge',
  read: 'Entered the reading',
  correct: 'Corrected a reading',
  tellStory: 'Wrote down what happened to it',
  chooseRoute: 'Chose the route',
  wake: 'Began to wake it',
  checkWake: 'Checked whether it is awake',
  startDischarge: 'Started the capacity test',
  endDischarge: 'Took the load off',
  dropDischarge: 'Broke the capacity test off',
  giveOutcome: 'Decided what becomes of it',
  giveVerdict: 'Gave the verdict',
  handOver: 'Handed it over',
  escalate: 'Handed it to the lead',
  note: 'Wrote a note',
};

const commandWords = (command: JobCommand): string => COMMANDS[command.type] ?? 'Acted in the job';
