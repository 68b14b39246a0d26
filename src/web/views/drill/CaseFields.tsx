import type { LookKind } from '../../../core/drill/case.ts';
import { OPENS_H } from '../../../core/drill/hours.ts';
import { FINDABLE, OWN_PICTURES, type OwnCaseFacts } from '../../../core/drill/ownCase.ts';
import { LOOK_WORDS } from '../../../core/drill/words.ts';
import { FAMILIES, type PictureKey, PICTURES } from '../../../core/diagnosis/practice/families.ts';
import { STORIES, STORY_KEYS } from '../../../core/diagnosis/stories.ts';
import { formatTimeOfDay } from '../../../core/quantities/format.ts';
import { useRules } from '../../line/queries.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';

/** Fields that a lead writes a case in. */

interface Fields {
  facts: OwnCaseFacts;
  change: (more: Partial<OwnCaseFacts>) => void;
}

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

/** Hours at which a battery comes in, and at which a shop closes. */
const BEGINS_H = [8, 10, 12, 14, 15, 16, 17];
const CLOSES_H = [16, 17, 18, 19, 20];

/** What a case says of the shop around the battery: its hours, what is promised, where it goes. */
export function ShopFields({ facts, change }: Fields) {
  const rules = useRules();
  const onTheHour = (hour: number): string => formatTimeOfDay(60 * hour, rules);
  return (
    <>
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
            (hour) => [hour, `Closed from ${onTheHour(hour)} until ${onTheHour(OPENS_H)}`] as const,
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
    </>
  );
}

/** What a case says of a battery that came in “dead”. */
export function RecoveryFields({ facts, change }: Fields) {
  return (
    <>
      <Text label="What its owner says" value={facts.says} onChange={(says) => change({ says })} />
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
              what === 'nothing' ? null : { what: what as LookKind, says: facts.find?.says ?? '' },
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
    </>
  );
}

export function Text({
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
