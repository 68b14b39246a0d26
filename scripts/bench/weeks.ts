import type {
  Activity,
  Hands,
  PlanProblem,
  Span,
  ToolKey,
  Watch,
  Way,
  Work,
} from '../../src/core/dayplan/problem.ts';
import { seeded } from '../../src/core/simulation/random.ts';

/** How large a week is. */
export interface WeekSize {
  works: number;
  posts: number;
  people: number;
  days: number;
}

/**
 * A shop's next days as they are met: new batteries that are filled, soak and charge for hours, recharges, services and
 * recoveries; a third of the chargers instruments, a third automatics, a third read by hand; people in two shifts; promises
 * that somebody gave by the battery alone, with a little to spare.
 */
export function anyWeek(seed: number, size: WeekSize): PlanProblem {
  const random = seeded(seed).even;
  const between = (low: number, high: number): number =>
    low + Math.floor(random() * (high - low + 1));
  const pick = <T>(list: readonly T[]): T => list[between(0, list.length - 1)] as T;
  const horizon = size.days * 1440;
  const people = Array.from({ length: size.people }, (_, i) => ({
    id: `p${i}`,
    name: `Person ${i}`,
    lead: i === 0,
    there: Array.from({ length: size.days }, (_unused, day): Span[] => {
      const from = day * 1440 + (i % 2 === 0 ? 0 : 240);
      return [
        { from, to: from + 240 },
        { from: from + 270, to: from + 510 },
      ];
    }).flat(),
  }));
  const posts = Array.from({ length: size.posts }, (_, i) => ({
    id: `c${i}`,
    name: `Charger ${i}`,
    about: '',
    out: [],
  }));
  const watchOf = (i: number): Watch => (['none', 'off', 'hourly'] as const)[i % 3] as Watch;

  const hands = (minutes: number, least = 0, tool: ToolKey | null = null): Hands => ({
    kind: 'hands',
    stepIds: ['hands'],
    what: 'work',
    minutes,
    lead: false,
    tool,
    gap: { least, most: null },
  });
  const charge = (hours: number, least: number, most: number | null): Activity => ({
    kind: 'run',
    stepIds: ['charge'],
    what: 'charge',
    gap: { least, most: most === null ? null : least + most },
    ways: posts.flatMap(({ id }, i): Way[] => {
      // A charger fits two of three batteries.
      if (random() < 0.35) return [];
      const middle = 60 * hours * (0.9 + 0.3 * random());
      return [
        {
          postId: id,
          tool: null,
          watch: watchOf(i),
          minutes: { low: 0.85 * middle, middle, high: 1.3 * middle },
          airM3h: 0.15,
          mainsA: 0.3,
          setting: '',
        },
      ];
    }),
  });
  const kinds: Record<string, () => Activity[]> = {
    commission: () => [
      hands(12),
      hands(3, 60),
      charge(between(6, 12), 120, 1440),
      hands(5, 10),
      hands(13, 60, 'load-tester'),
    ],
    recharge: () => [hands(6), charge(between(3, 12), 0, null), hands(8, 65, 'load-tester')],
    service: () => [
      hands(20),
      charge(between(6, 14), 0, null),
      hands(13, 10, 'hydrometer'),
      hands(10, 1440, 'load-tester'),
    ],
    recover: () => [hands(30), charge(between(14, 30), 0, null), hands(10, 1445, 'load-tester')],
  };
  const works = Array.from({ length: size.works }, (_, i): Work => {
    const activities = (
      kinds[
        pick(['commission', 'commission', 'recharge', 'service', 'recover'])
      ] as () => Activity[]
    )();
    const alone = activities.reduce(
      (sum, a) =>
        sum +
        a.gap.least +
        (a.kind === 'hands' ? a.minutes : Math.min(1440, ...a.ways.map((w) => w.minutes.middle))),
      0,
    );
    // A time of the day on which somebody comes for it.
    const day = Math.ceil((alone * (1 + 1.2 * random())) / 1440) * 1440;
    const at = day + between(4, 30) * 15;
    return {
      id: `w${i}`,
      of: 'job',
      tag: `T-${i}`,
      whose: '',
      promise: random() < 0.75 && at < horizon ? { at, weight: pick([1, 1, 1, 2]) } : null,
      activities,
    };
  });
  return {
    from: 0,
    horizon,
    people,
    posts,
    tools: { 'load-tester': 1, 'discharge-load': 1, hydrometer: 1 },
    airM3h: 40,
    fuseA: 16,
    works,
  };
}
