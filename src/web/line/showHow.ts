import { useSyncExternalStore } from 'react';
import { device } from './device.ts';
import { useSigning } from './signing.tsx';

/** Whether steps are shown with their drawing and their why: each person's own choice on each device. */

const listeners = new Set<() => void>();
const keyOf = (person: string) => `cork-ember.show-how.${person}`;

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

/** On until somebody switches it off. */
export function useShowHow(): [shows: boolean, change: (shows: boolean) => void] {
  const person = useSigning().person?.id ?? 'nobody';
  const chosen = () => device.getItem(keyOf(person)) !== 'off';
  const shows = useSyncExternalStore(subscribe, chosen, chosen);
  return [
    shows,
    (next) => {
      device.setItem(keyOf(person), next ? 'on' : 'off');
      for (const listener of listeners) listener();
    },
  ];
}
