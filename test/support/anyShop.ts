import type {
  Activity,
  PlanProblem,
  Span,
  Watch,
  Way,
  Work,
} from '../../src/core/dayplan/problem.ts';
import { seeded } from '../../src/core/simulation/random.ts';

/** How large a shop a case is made of. */
export interface ShopSize {
  works: number;
  posts: number;
  people: number;
  days: number;
}

/**
 * A shop of this size and its work, drawn from a seed: people with hours, breaks and absences, chargers that hold by themselves
 * and chargers that do not, promises that can be kept and some that cannot.
 */
export function anyShop(seed: number, size: ShopSize): PlanProblem {
  const random = seeded(seed).even;
  const between = (low: number, high: number): number =>
    low + Math.floor(random() * (high - low + 1));
  const chance = (share: number): boolean => random() < share;
  const pick = <T>(list: readonly T[]): T => list[between(0, list.length - 1)] as T;
  const horizon = size.days * 1440;
  const opens = between(-3, 6) * 60;
  const long = between(7, 11) * 60;

  const people = Array.from({ length: size.people }, (_, i) => ({
    id: `p${i}`,
    name: `Person ${i}`,
    lead: i === 0 || chance(0.3),
    there: Array.from({ length: size.days + 1 }, (_unused, day): Span[] => {
      if (chance(0.15)) return [];
      const from = opens + day * 1440 + between(0, 3) * 30;
      const noon = from + between(3, 5) * 60;
      const to = opens + day * 1440 + long;
      return noon + 30 < to
        ? [
            { from, to: noon },
            { from: noon + 30, to },
          ]
        : [{ from, to }];
    }).flat(),
  }));
  const posts = Array.from({ length: size.posts }, (_, i) => ({
    id: `c${i}`,
    name: `Charger ${i}`,
    about: '',
    out: chance(0.15) ? [{ from: between(0, horizon), to: horizon + 1 }] : [],
  }));
  const watches = posts.map((): Watch => pick(['hourly', 'off', 'none']));

  const charge = (first: boolean): Activity => {
    const hours = between(2, 30);
    const ways = posts.flatMap(({ id }, i): Way[] => {
      if (chance(0.35)) return [];
      const middle = hours * 60 * (0.7 + 0.6 * random());
      return [
        {
          postId: id,
          tool: null,
          watch: watches[i] as Watch,
          minutes: { low: 0.85 * middle, middle, high: (1 + 0.5 * random()) * middle },
          airM3h: 0.2 + 2 * random(),
          mainsA: 0.1 + random(),
          setting: '',
        },
      ];
    });
    return { kind: 'run', stepIds: ['charge'], what: 'charge', ways, gap: gap(first) };
  };
  const gap = (first: boolean) => {
    const least = first ? 0 : pick([0, 10, 60, 120]);
    return { least, most: !first && chance(0.3) ? least + pick([0, 60, 1440]) : null };
  };
  const hands = (first: boolean): Activity => ({
    kind: 'hands',
    stepIds: ['work'],
    what: 'work',
    minutes: between(2, 40),
    lead: chance(0.08),
    tool: chance(0.2) ? pick(['load-tester', 'hydrometer'] as const) : null,
    gap: gap(first),
  });
  const test = (): Activity => {
    const middle = between(60, 400);
    return {
      kind: 'run',
      stepIds: ['capacity'],
      what: 'capacity test',
      ways: [
        {
          postId: null,
          tool: 'discharge-load',
          watch: 'near',
          minutes: { low: 0.8 * middle, middle, high: 1.1 * middle },
          airM3h: 0,
          mainsA: 0,
          setting: '',
        },
      ],
      gap: { least: 0, most: null },
    };
  };

  const running = new Set<string>();
  const works = Array.from({ length: size.works }, (_, i): Work => {
    const activities: Activity[] = [];
    const [post] = posts.filter((p) => !running.has(p.id) && p.out.length === 0);
    if (post && chance(0.25)) {
      running.add(post.id);
      const middle = between(10, 900);
      activities.push({
        kind: 'run',
        stepIds: ['charge'],
        what: 'charge',
        since: -between(1, 600),
        gap: { least: 0, most: null },
        ways: [
          {
            postId: post.id,
            tool: null,
            watch: watches[posts.indexOf(post)] as Watch,
            minutes: { low: 0.8 * middle, middle, high: 1.3 * middle },
            airM3h: 0.4,
            mainsA: 0.2,
            setting: '',
          },
        ],
      });
    } else {
      activities.push(hands(true));
      if (chance(0.8)) activities.push(charge(false));
    }
    activities.push(hands(false));
    if (chance(0.25)) activities.push(test());
    if (chance(0.2)) activities.push(charge(false), hands(false));
    return {
      id: `w${i}`,
      of: 'job',
      tag: `T-${i}`,
      whose: '',
      promise: chance(0.6) ? { at: between(0, horizon), weight: pick([1, 1, 1, 3]) } : null,
      activities,
      ...(chance(0.05) ? { forbidden: [pick(posts).id] } : {}),
      ...(chance(0.05) ? { pinned: { postId: pick(posts).id } } : {}),
      ...(chance(0.05) ? { pinned: { notBefore: between(0, 600) } } : {}),
    };
  });
  return {
    from: 0,
    horizon,
    people,
    posts,
    tools: { 'load-tester': 1, 'discharge-load': between(0, 1), hydrometer: 1 },
    airM3h: 2 + 0.6 * size.posts * random(),
    fuseA: 1 + 0.5 * size.posts * random(),
    works,
  };
}
