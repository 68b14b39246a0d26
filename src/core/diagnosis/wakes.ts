/** Ways to wake what a charger refuses. */
export const WAKE_KEYS = ['none', 'parallel', 'low-start', 'dumb', 'bursts'] as const;
export type WakeKey = (typeof WAKE_KEYS)[number];

export const WAKES: Readonly<Record<WakeKey, { name: string; plain: string; flooded: boolean }>> = {
  none: { name: 'Needs no waking', plain: 'A charger takes it as it is.', flooded: false },
  parallel: {
    name: 'Beside a donor',
    plain:
      'A full battery of the same voltage, plus to plus, and a charger of about 10 A. An hour, twice at most.',
    flooded: false,
  },
  'low-start': {
    name: 'Low-start charger',
    plain: 'A charger that starts from next to nothing.',
    flooded: false,
  },
  dumb: {
    name: 'Dumb supply',
    plain: 'A small constant current from a supply that asks nothing, watched all the while.',
    flooded: false,
  },
  bursts: {
    name: 'Bursts',
    plain: 'Caps off, high setting for 15 min at a time, until every cell bubbles.',
    flooded: true,
  },
};
