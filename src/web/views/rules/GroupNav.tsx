import { useState } from 'react';
import { Link, NavLink, useNavigate } from 'react-router';
import type { HouseRules } from '../../../core/house/rules.ts';
import { changedIn, findRules, type Group, GROUPS } from './groups.ts';

interface Props {
  current: Group;
  rules: HouseRules;
  /** The rules as they are typed so far. */
  wanted: HouseRules;
}

/** The groups of the house rules, and a search over every rule. A group with a change that is not kept yet says so. */
export function GroupNav({ current, rules, wanted }: Props) {
  const [typed, setTyped] = useState('');
  const navigate = useNavigate();
  const found = findRules(typed);
  return (
    <nav
      aria-label="Groups of house rules"
      className="grid content-start gap-3 lg:sticky lg:top-19 lg:self-start"
    >
      <label>
        <span className="label">Find a rule</span>
        <input
          type="search"
          className="field"
          placeholder="rest, °F, hours …"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
      </label>
      {typed.trim() !== '' ? (
        <ul aria-label="Rules found" className="grid">
          {found.map(({ group, question, title }) => (
            <li key={`${group.key} ${title}`}>
              <Link
                to={`/rules/${group.key}${question ? `#${question}` : ''}`}
                className="block min-h-11 rounded-md px-3 py-2 hover:bg-hair"
                onClick={() => {
                  setTyped('');
                  // The question is gone to when its group is there.
                  if (question)
                    setTimeout(() => document.getElementById(question)?.scrollIntoView(), 0);
                }}
              >
                {title}
                <span className="block text-[15px] text-soft">{group.name}</span>
              </Link>
            </li>
          ))}
          {found.length === 0 && (
            <li className="px-3 py-2 text-soft">No rule holds these words.</li>
          )}
        </ul>
      ) : (
        <>
          <label className="lg:hidden">
            <span className="label">Group</span>
            <select
              className="field"
              value={current.key}
              onChange={(e) => void navigate(`/rules/${e.target.value}`)}
            >
              {GROUPS.map((group) => (
                <option key={group.key} value={group.key}>
                  {group.name}
                  {changedIn(group, rules, wanted) ? ' (changed)' : ''}
                </option>
              ))}
            </select>
          </label>
          <ul className="hidden lg:grid">
            {GROUPS.map((group) => (
              <li key={group.key}>
                <NavLink
                  to={`/rules/${group.key}`}
                  aria-current={group.key === current.key ? 'page' : undefined}
                  className={`flex min-h-11 items-center justify-between rounded-md px-3 font-label text-lg font-semibold ${group.key === current.key ? 'bg-ink text-sheet' : 'hover:bg-hair'}`}
                >
                  {group.name}
                  {changedIn(group, rules, wanted) && (
                    <span className="text-[15px] font-medium">changed</span>
                  )}
                </NavLink>
              </li>
            ))}
          </ul>
        </>
      )}
    </nav>
  );
}
