import { NavLink } from 'react-router';

/** The pages of one place, side by side under its name. */
export function PlaceNav({
  label,
  pages,
}: {
  label: string;
  pages: readonly (readonly [to: string, name: string])[];
}) {
  return (
    <nav aria-label={label} className="mb-4 flex flex-wrap gap-x-1 border-b border-line">
      {pages.map(([to, name]) => (
        <NavLink
          key={to}
          to={to}
          end={pages.some(([other]) => other !== to && other.startsWith(to))}
          className={({ isActive }) =>
            `flex min-h-11 items-center px-3 font-label text-lg font-semibold whitespace-nowrap ${isActive ? 'border-b-4 border-ink' : 'text-soft hover:text-ink'}`
          }
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
