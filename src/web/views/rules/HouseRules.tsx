import { useState } from 'react';
import { Navigate, useParams } from 'react-router';
import { type HouseRules } from '../../../core/house/rules.ts';
import { type Clash, mergeChanges, withValue } from '../../../core/house/mergeRules.ts';
import { keepDraft, keptDraft } from '../../line/draft.ts';
import { useShop } from '../../line/queries.ts';
import { Loading, NotFetched } from '../../line/States.tsx';
import { Backups } from './Backups.tsx';
import { Calendar } from './Calendar.tsx';
import { Clashes } from './Clashes.tsx';
import { Experience } from './Experience.tsx';
import { Learning } from './Learning.tsx';
import { People } from '../../inputs/People.tsx';
import { type Group, groupOf } from './groups.ts';
import { RulesForm } from './RulesForm.tsx';
import { GroupNav } from './GroupNav.tsx';
import { RULES_DRAFT } from './ruleFields.ts';

/** What this shop has decided: schools where practitioners differ, the bench, the room, the people. A page a group. */
export function HouseRulesView() {
  const { data, error, refetch } = useShop();
  const asked = useParams()['group'];
  const [wanted, setWanted] = useState<HouseRules | null>(null);
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  // A new shop begins with its lead.
  if (asked === undefined && data.people.length === 0)
    return <Navigate to="/rules/people" replace />;
  const group = groupOf(asked);
  return (
    <div className="grid gap-x-8 gap-y-4 p-4 md:p-6 lg:grid-cols-[16rem_1fr]">
      <GroupNav current={group} rules={data.rules} wanted={wanted ?? data.rules} />
      <div className="min-w-0">
        <EditRules
          group={group}
          rules={data.rules}
          version={data.rulesVersion}
          onWanted={setWanted}
        />
        {group.key === 'people' && (
          <div className="grid content-start gap-8 xl:grid-cols-2">
            <People people={data.people} />
            <Calendar />
          </div>
        )}
        {group.key === 'experience' && (
          <div className="grid gap-8">
            <Experience />
            <Learning />
          </div>
        )}
        {group.key === 'backups' && <Backups />}
      </div>
    </div>
  );
}

interface Editing {
  /** The rules as they stood when the editing began, or was last brought up to them. */
  base: HouseRules;
  version: string;
  /** What the form begins with. */
  start: HouseRules;
  clashes: Clash[];
  /** Typed before, and found again. */
  found: boolean;
}

/** Rules are edited as a whole: what somebody else changes meanwhile comes in, and where both did, both are shown. */
function EditRules({
  group,
  rules,
  version,
  onWanted,
}: {
  group: Group;
  rules: HouseRules;
  version: string;
  onWanted: (wanted: HouseRules) => void;
}) {
  const [editing, setEditing] = useState<Editing>(() => {
    const kept = keptDraft<{ base: HouseRules; wanted: HouseRules }>(RULES_DRAFT);
    if (!kept) return { base: rules, version, start: rules, clashes: [], found: false };
    const { merged, clashes } = mergeChanges(kept.base, rules, kept.wanted);
    return { base: rules, version, start: merged, clashes, found: true };
  });
  const [wanted, setWanted] = useState(editing.start);
  if (editing.version !== version) {
    const { merged, clashes } = mergeChanges(editing.base, rules, wanted);
    setWanted(merged);
    setEditing({ base: rules, version, start: merged, clashes, found: false });
  }
  const begin = (start: HouseRules, clashes: Clash[]) =>
    setEditing({ base: rules, version, start, clashes, found: false });
  return (
    <RulesForm
      key={`${editing.version} ${editing.clashes.length} ${JSON.stringify(editing.start)}`}
      group={group}
      rules={rules}
      version={version}
      start={editing.start}
      onEdit={(next) => {
        setWanted(next);
        onWanted(next);
        keepDraft(
          RULES_DRAFT,
          JSON.stringify(next) === JSON.stringify(rules) ? null : { base: rules, wanted: next },
        );
      }}
      aside={
        <>
          {editing.clashes.length > 0 && (
            <Clashes
              clashes={editing.clashes}
              onChoose={({ path }, value) =>
                begin(
                  withValue(wanted, path, value),
                  editing.clashes.filter((c) => c.path !== path),
                )
              }
            />
          )}
          {editing.found && editing.clashes.length === 0 && (
            <p className="w-full text-soft">What you typed before is here again, not kept yet.</p>
          )}
        </>
      }
      onThrowAway={() => {
        keepDraft(RULES_DRAFT, null);
        begin(rules, []);
      }}
    />
  );
}
