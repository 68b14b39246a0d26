import { EllipsisVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import {
  type ChargePlan,
  STAGE_NAMES,
  type StageKind,
  type Until,
} from '../../../core/charging/chargePlan.ts';
import {
  addEnd,
  endsToAdd,
  insertStage,
  moveStage,
  removeEnd,
  removeStage,
  roomForStages,
} from '../../../core/charging/editPlan.ts';
import type { PlanBattery, PlanFit } from '../../../core/charging/fitPlan.ts';
import type { Odds } from '../../../core/rehearsal/outlook.ts';
import type { RehearsalSummary } from '../../../core/rehearsal/rehearse.ts';
import { formatDuration } from '../../../core/quantities/format.ts';
import { PlanSentences } from '../../inputs/PlanSentences.tsx';
import { WAYS } from './ways.ts';
import { tripTitle } from '../../../core/charging/tripWords.ts';

interface Props {
  index: number;
  plan: ChargePlan;
  choices: readonly { group: string; plans: readonly ChargePlan[] }[];
  battery: PlanBattery;
  fit: PlanFit;
  summary: RehearsalSummary | null;
  odds: Odds | null;
  onChange: (plan: ChargePlan) => void;
  onRemove: (() => void) | null;
  onSave: () => void;
  onSend: () => void;
}

const END_WORDS: Record<Until['when'], string> = {
  volts: 'when it reaches a voltage',
  amps: 'when the current tails off',
  'volts-flat': 'when the volts no longer rise',
  'sg-flat': 'when SG readings agree',
  ah: 'when so much has gone in',
  time: 'after a time',
};

/** One way to charge: its plan in sentences, and what the twins say comes of it. */
export function WayCard({
  index,
  plan,
  choices,
  battery,
  fit,
  summary,
  odds,
  onChange,
  onRemove,
  onSave,
  onSend,
}: Props) {
  const { letter } = WAYS[index] as (typeof WAYS)[number];
  const reshape = (changed: ChargePlan) => onChange({ ...changed, mostS: roomForStages(changed) });
  const whole = fit.faults.filter((f) => f.stage === null);
  const known = choices.flatMap((c) => c.plans).find((p) => p.id === plan.id);
  const same = known !== undefined && JSON.stringify(known.stages) === JSON.stringify(plan.stages);
  return (
    <section aria-label={`Way ${letter}`} className="rounded-lg border border-line bg-sheet p-3.5">
      <div className="mb-1.5 flex items-center gap-3">
        <h2 className="flex items-center gap-2 text-2xl">
          <LineSample index={index} />
          {letter}
        </h2>
        <select
          aria-label={`Plan of way ${letter}`}
          className="field min-w-0 flex-1 font-label text-xl! font-semibold"
          value={same ? plan.id : ''}
          onChange={(e) => {
            const chosen = choices.flatMap((c) => c.plans).find((p) => p.id === e.target.value);
            if (chosen) onChange(chosen);
          }}
        >
          {!same && <option value="">{known ? `${plan.name}, changed` : plan.name}</option>}
          {choices.map(({ group, plans }) => (
            <optgroup key={group} label={group}>
              {plans.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </optgroup>
          ))}
        </select>
        <button
          type="button"
          className="act-quiet px-3! max-sm:hidden"
          onClick={onSend}
          disabled={!fit.fitted}
        >
          Send to a job
        </button>
        <Menu label={`More for way ${letter}`}>
          <Item onSelect={onSend} disabled={!fit.fitted} narrow>
            Send to a job
          </Item>
          <Item onSelect={onSave} disabled={!fit.fitted}>
            Keep under a name
          </Item>
          <AddStage
            label="Add a stage at the end"
            onAdd={(kind) =>
              reshape(insertStage(plan, plan.stages.length, kind, battery.chemistry))
            }
          />
          {onRemove && <Item onSelect={onRemove}>Take this way off</Item>}
        </Menu>
      </div>
      <PlanSentences
        plan={plan}
        scale={battery}
        faults={fit.faults}
        onChange={onChange}
        beside={(i) => (
          <StageMenu
            plan={plan}
            index={i}
            onAdd={(kind) => reshape(insertStage(plan, i + 1, kind, battery.chemistry))}
            onMove={(by) => reshape(moveStage(plan, i, by))}
            onRemove={() => reshape(removeStage(plan, i))}
            onAddEnd={(when) => reshape(addEnd(plan, i, when, battery.chemistry))}
            onRemoveEnd={(when) => reshape(removeEnd(plan, i, when))}
          />
        )}
      />
      {whole.map((fault) => (
        <p key={fault.sentence} role="alert" className="mt-1 text-oxide">
          ✕ {fault.sentence}
        </p>
      ))}
      {fit.fitted &&
        fit.notes.map((note) => (
          <p key={note} className="mt-1 text-[15px] text-soft">
            {note}
          </p>
        ))}
      {fit.fitted && (
        <div className="min-h-41 sm:min-h-23">
          {summary && <Outcome summary={summary} odds={odds} />}
        </div>
      )}
    </section>
  );
}

/** A share in tenths of a percent; never a minus before nothing. */
const tenth = (share: number): string => (Math.round(1000 * share) / 10 || 0).toFixed(1);

/** What comes of it, in one line: the best guess, and where eight of ten twins lie. */
function Outcome({ summary, odds }: { summary: RehearsalSummary; odds: Odds | null }) {
  const share = (x: number) => `${Math.round(100 * x)}`;
  const trip = odds?.trips[0];
  const trouble = summary.trip
    ? `${tripTitle(summary.trip)} switches it off after ${formatDuration(summary.hours * 3600)}`
    : summary.finished
      ? null
      : 'It is not done in the time it is given';
  return (
    <div className="mt-2 border-t border-hair pt-2">
      <dl className="grid grid-cols-2 gap-x-4 gap-y-1 sm:grid-cols-4">
        <Fact
          label="Takes"
          value={formatDuration(summary.hours * 3600)}
          band={odds && `${odds.hours.low.toFixed(1)}–${odds.hours.high.toFixed(1)} h`}
        />
        <Fact
          label="Charge at its end"
          value={`${share(summary.chargeAtEnd)} %`}
          band={odds && `${share(odds.chargeAtEnd.low)}–${share(odds.chargeAtEnd.high)} %`}
        />
        <Fact
          label="Sulfate back"
          value={`${tenth(summary.hardBefore - summary.hardAfter)} %`}
          band={odds && `${tenth(odds.broughtBack.low)}–${tenth(odds.broughtBack.high)} %`}
        />
        <Fact
          label="Ends by itself"
          value={odds ? `${share(odds.finishes)} %` : '…'}
          band={odds && `of ${odds.twins} twins`}
        />
      </dl>
      {trouble && <p className="mt-1 text-oxide">✕ {trouble}.</p>}
      {!trouble && trip && trip.share >= 0.05 && (
        <p className="mt-1 text-[15px] text-soft">
          {trip.title} would switch it off in {share(trip.share)} % of twins.
        </p>
      )}
    </div>
  );
}

function Fact({ label, value, band }: { label: string; value: string; band: string | null }) {
  return (
    <div>
      <dt className="label leading-tight">{label}</dt>
      <dd className="font-label text-2xl leading-tight font-semibold">
        {value}{' '}
        <small className="block text-[15px] leading-tight font-medium text-soft">
          {band ?? ' '}
        </small>
      </dd>
    </div>
  );
}

export function LineSample({ index }: { index: number }) {
  const { colour, dash } = WAYS[index] as (typeof WAYS)[number];
  return (
    <svg width="34" height="10" aria-hidden>
      <path d="M1 5h32" stroke={colour} strokeWidth="3" strokeDasharray={dash || undefined} />
    </svg>
  );
}

interface StageMenuProps {
  plan: ChargePlan;
  index: number;
  onAdd: (kind: StageKind) => void;
  onMove: (by: -1 | 1) => void;
  onRemove: () => void;
  onAddEnd: (when: Until['when']) => void;
  onRemoveEnd: (when: Until['when']) => void;
}

function StageMenu({
  plan,
  index,
  onAdd,
  onMove,
  onRemove,
  onAddEnd,
  onRemoveEnd,
}: StageMenuProps) {
  const stage = plan.stages[index];
  if (!stage) return null;
  return (
    <Menu label={`More for stage ${index + 1}`}>
      {endsToAdd(stage).map((when) => (
        <Item key={when} onSelect={() => onAddEnd(when)}>
          End it also {END_WORDS[when]}
        </Item>
      ))}
      {stage.until.length > 1 &&
        stage.until.map(({ when }) => (
          <Item key={when} onSelect={() => onRemoveEnd(when)}>
            No longer end it {END_WORDS[when]}
          </Item>
        ))}
      <DropdownMenu.Separator className="my-1 border-t border-line" />
      <AddStage label="Add a stage after this" onAdd={onAdd} />
      {index > 0 && <Item onSelect={() => onMove(-1)}>Do it earlier</Item>}
      {index < plan.stages.length - 1 && <Item onSelect={() => onMove(1)}>Do it later</Item>}
      {plan.stages.length > 1 && <Item onSelect={onRemove}>Leave this stage out</Item>}
    </Menu>
  );
}

const ITEM =
  'flex min-h-11 cursor-pointer items-center rounded-md px-3 text-lg data-disabled:text-soft data-highlighted:bg-hair';
const BOX = 'z-50 max-h-[80dvh] overflow-y-auto rounded-lg border border-ink bg-sheet p-2';

function Menu({ label, children }: { label: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        className="grid size-11 shrink-0 place-items-center rounded-md text-soft hover:bg-hair"
      >
        <EllipsisVertical size={20} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" collisionPadding={8} className={BOX}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Item({
  children,
  onSelect,
  disabled = false,
  narrow = false,
}: {
  children: ReactNode;
  onSelect: () => void;
  disabled?: boolean;
  narrow?: boolean;
}) {
  return (
    <DropdownMenu.Item
      className={`${ITEM} ${narrow ? 'sm:hidden' : ''}`}
      onSelect={onSelect}
      disabled={disabled}
    >
      {children}
    </DropdownMenu.Item>
  );
}

function AddStage({ label, onAdd }: { label: string; onAdd: (kind: StageKind) => void }) {
  return (
    <DropdownMenu.Sub>
      <DropdownMenu.SubTrigger className={ITEM}>{label} ▸</DropdownMenu.SubTrigger>
      <DropdownMenu.Portal>
        <DropdownMenu.SubContent collisionPadding={8} className={BOX}>
          {Object.entries(STAGE_NAMES).map(([kind, name]) => (
            <Item key={kind} onSelect={() => onAdd(kind as StageKind)}>
              {name}
            </Item>
          ))}
        </DropdownMenu.SubContent>
      </DropdownMenu.Portal>
    </DropdownMenu.Sub>
  );
}
