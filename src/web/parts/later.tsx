import { type ComponentType, lazy, type ReactNode, useState } from 'react';

/** A component that is fetched when it is first shown; fetched ahead, it is drawn at once, without standing empty first. */
export type Later<P> = ((props: P) => ReactNode) & { ahead: () => Promise<unknown> };

/** @param load fetches the component */
export function later<P extends object = object>(load: () => Promise<ComponentType<P>>): Later<P> {
  let known: ComponentType<P> | null = null;
  const ahead = async () => (known ??= await load());
  const Fetched = lazy(async () => ({ default: await ahead() }));
  function Shown(props: P) {
    // Whichever way it came, it stays the same component as long as it is shown.
    const [View] = useState<ComponentType<P>>(() => known ?? Fetched);
    return <View {...props} />;
  }
  return Object.assign(Shown, { ahead });
}

export const isLater = (view: unknown): view is Later<never> =>
  typeof view === 'function' && 'ahead' in view;
