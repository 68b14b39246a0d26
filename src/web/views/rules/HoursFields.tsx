import { useState } from 'react';
import { formatDate, MONTHS } from '../../../core/quantities/format.ts';
import type { Absence, HouseRules, PersonHours } from '../../../core/house/rules.ts';
import { useShop } from '../../line/queries.ts';
import { DayField } from '../../parts/DayField.tsx';
import { DaysAway } from '../../parts/DaysAway.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { TimeField } from '../../parts/TimeField.tsx';
import { WorkingHoursField } from './WorkingHoursField.tsx';

interface Props {
  draft: HouseRules;
  onDraft: (draft: HouseRules) => void;
  fault: (field: string) => string | undefined;
}

/** When the shop is open, on which days it is not, and who is not there whenever it is. The day plan goes by it. */
export function HoursFields({ draft, onDraft, fault }: Props) {
  const { data } = useShop();
  const people = (data?.people ?? []).filter((p) => p.active);
  const hoursOf = (personId: string): PersonHours | undefined =>
    draft.personHours.find((h) => h.personId === personId);
  const setOwn = (personId: string, next: PersonHours | null) =>
    onDraft({
      ...draft,
      personHours: [
        ...draft.personHours.filter((h) => h.personId !== personId),
        ...(next ? [next] : []),
      ],
    });
  return (
    <div className="grid gap-7">
      <section className="grid gap-3 border-t border-line pt-4">
        <h2 className="text-2xl">The shop</h2>
        <WorkingHoursField
          from="Open from"
          until="Open until"
          hours={draft.hours}
          wall={draft}
          fault={fault('hours.to') ?? fault('hours.from')}
          onChange={(hours) => onDraft({ ...draft, hours })}
        />
        <DayList
          title="Closed on"
          add="Add a closed day"
          label="Closed on"
          days={draft.closedOn}
          wall={draft}
          onChange={(closedOn) => onDraft({ ...draft, closedOn })}
        />
      </section>
      <section className="grid gap-2 border-t border-line pt-4">
        <h2 className="text-2xl">Months of service</h2>
        <p className="text-lg text-soft">
          Owners are asked in from the first of these months on, usually before winter and before
          summer.
        </p>
        <div role="group" aria-label="Months of service" className="flex flex-wrap gap-1.5">
          {MONTHS.map((name, i) => {
            const month = i + 1;
            const on = draft.serviceMonths.includes(month);
            return (
              <button
                key={name}
                type="button"
                aria-pressed={on}
                className={`act-quiet px-3! ${on ? 'border-ink! bg-ink! text-sheet!' : ''}`}
                onClick={() =>
                  onDraft({
                    ...draft,
                    serviceMonths: on
                      ? draft.serviceMonths.filter((m) => m !== month)
                      : [...draft.serviceMonths, month].sort((a, b) => a - b),
                  })
                }
              >
                {name}
              </button>
            );
          })}
        </div>
      </section>
      {people.map((person) => {
        const hours = hoursOf(person.id);
        return (
          <section key={person.id} className="grid gap-3 border-t border-line pt-4">
            <h2 className="text-2xl">{person.name}</h2>
            {hours ? (
              <>
                <WorkingHoursField
                  from="There from"
                  until="There until"
                  hours={hours}
                  wall={draft}
                  fault={fault(`personHours.${draft.personHours.indexOf(hours)}.to`)}
                  onChange={(next) => setOwn(person.id, next)}
                />
                <div className="flex flex-wrap items-end gap-3">
                  <div className="w-36">
                    <TimeField
                      label="Break from"
                      value={hours.breakFrom}
                      wall={draft}
                      onChange={(breakFrom) =>
                        breakFrom !== null && setOwn(person.id, { ...hours, breakFrom })
                      }
                    />
                  </div>
                  <div className="w-36">
                    <NumberField
                      label="Break, min"
                      value={hours.breakMinutes}
                      message={fault(
                        `personHours.${draft.personHours.indexOf(hours)}.breakMinutes`,
                      )}
                      onChange={(breakMinutes) => setOwn(person.id, { ...hours, breakMinutes })}
                    />
                  </div>
                  <button
                    type="button"
                    className="wordlink min-h-11 text-soft"
                    onClick={() => setOwn(person.id, null)}
                  >
                    There whenever the shop is open
                    <span className="sr-only">, {person.name}</span>
                  </button>
                </div>
              </>
            ) : (
              <p className="flex flex-wrap items-center gap-x-4">
                There whenever the shop is open.
                <button
                  type="button"
                  className="wordlink min-h-11"
                  onClick={() =>
                    setOwn(person.id, {
                      personId: person.id,
                      ...draft.hours,
                      breakFrom: 12 * 60,
                      breakMinutes: 30,
                    })
                  }
                >
                  Give other hours<span className="sr-only"> to {person.name}</span>
                </button>
              </p>
            )}
            <DaysAway
              name={person.name}
              days={draft.absences.filter((a) => a.personId === person.id)}
              wall={draft}
              add="Add an absence"
              made={({ from, to }): Absence => ({ personId: person.id, from, to })}
              onChange={(next) =>
                onDraft({
                  ...draft,
                  absences: [...draft.absences.filter((a) => a.personId !== person.id), ...next],
                })
              }
            />
          </section>
        );
      })}
    </div>
  );
}

interface DayListProps {
  title: string;
  add: string;
  label: string;
  days: readonly string[];
  wall: HouseRules;
  onChange: (days: string[]) => void;
}

function DayList({ title, add, label, days, wall, onChange }: DayListProps) {
  const [day, setDay] = useState('');
  return (
    <div className="grid gap-2">
      {days.length > 0 && (
        <ul aria-label={title} className="flex flex-wrap gap-2">
          {days.map((d) => (
            <li key={d} className="flex items-center gap-2 rounded-md border border-line pl-3">
              {formatDate(d, wall)}
              <button
                type="button"
                aria-label={`Remove ${formatDate(d, wall)}`}
                className="min-h-11 px-3"
                onClick={() => onChange(days.filter((x) => x !== d))}
              >
                ✕
              </button>
            </li>
          ))}
        </ul>
      )}
      <DayField label={label} value={day} wall={wall} onChange={setDay}>
        <button
          type="button"
          className="act-quiet"
          disabled={day === '' || days.includes(day)}
          onClick={() => {
            onChange([...days, day].sort());
            setDay('');
          }}
        >
          {add}
        </button>
      </DayField>
    </div>
  );
}
