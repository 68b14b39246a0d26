import { type ReactNode, Suspense, useState } from 'react';

export interface LateMenuProps {
  className: string;
  /** What it is called, where its text does not say it. */
  label?: string | undefined;
  /** What its button shows. */
  children: ReactNode;
}

/** A button whose menu is fetched when it is first pressed; then the menu, open, stands in its place. */
export function OpensLater({
  menu,
  ...face
}: LateMenuProps & { menu: (face: LateMenuProps) => ReactNode }) {
  const [wanted, setWanted] = useState(false);
  const button = (
    <button
      type="button"
      aria-haspopup="dialog"
      aria-label={face.label}
      className={face.className}
      onClick={() => setWanted(true)}
    >
      {face.children}
    </button>
  );
  return wanted ? <Suspense fallback={button}>{menu(face)}</Suspense> : button;
}

/** A figure of the top strip under its label. */
export function Item({
  label,
  children,
  className = '',
}: {
  label: string;
  children: ReactNode;
  className?: string;
}) {
  return (
    <div className={className}>
      <span className="block font-label text-sm font-medium text-soft">{label}</span>
      <b className="block font-label text-lg leading-tight font-semibold whitespace-nowrap">
        {children}
      </b>
    </div>
  );
}
