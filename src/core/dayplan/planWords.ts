import {
  formatClock,
  formatMomentShort,
  formatWeekday,
  type WallStyle,
} from '../quantities/format.ts';
import { momentOnDay } from '../quantities/zonedTime.ts';
import type { MoveWhy } from './moves.ts';
import type { Supposed } from './suppose.ts';
import { joined, type LeftWhy, type Minute } from './problem.ts';
import type { ToldPlan, ToldRun, ToldWork } from './told.ts';

/** A promise that is said to be kept in 8 in 10 is safe; one below 1 in 2 is not. */
export const SAFE = 0.75;
export const UNSAFE = 0.5;

export const LEFT_WORDS: Readonly<Record<LeftWhy, string>> = {
  'no-post': 'No charger or tool that fits is free.',
  nobody: 'Nobody who may do it is there.',
  'too-long': 'It does not fit into the opening hours.',
  'no-air': 'Too much gas for the air of the room.',
  'no-fuse': 'Too much current for the fuse.',
  'cannot-wait': 'It would wait too long for what follows.',
  beyond: 'Its turn comes after what is planned here.',
};

/** Why something has moved, as the end of a sentence. */
export function moveWhyWords(
  { posts, people, works }: Pick<ToldPlan, 'posts' | 'people' | 'works'>,
  why: MoveWhy,
): string {
  const tag = (id: string): string => works.find((w) => w.id === id)?.tag ?? 'another';
  switch (why.kind) {
    case 'by-hand':
      return 'it was set by hand';
    case 'charger-out':
      return `${posts.find((p) => p.id === why.postId)?.name ?? 'its charger'} is out of order`;
    case 'away':
      return `${people.find((p) => p.id === why.personId)?.name ?? 'who was to do it'} is not there then`;
    case 'not-begun':
      return 'it was not begun in time';
    case 'before-it':
      return 'what comes before it takes until then';
    case 'place-taken':
      return `${tag(why.workId)} is there first`;
    case 'hands-taken':
      return `${tag(why.workId)} needs the same hands then`;
    case 'sooner':
      return 'there is room sooner';
    case 'better':
      return 'more promises are kept so';
  }
}

/** What is tried, as a title: `Charger B out of order`. */
export function supposedWords(
  { posts, people, works }: Pick<ToldPlan, 'posts' | 'people' | 'works'>,
  supposed: Supposed,
  wall: WallStyle,
): string {
  const day = (date: string): string =>
    formatWeekday(momentOnDay(date, 12 * 60, wall.timeZone), wall);
  const post = (id: string): string => posts.find((p) => p.id === id)?.name ?? 'a charger';
  switch (supposed.kind) {
    case 'another':
      return `one more ${post(supposed.like)}`;
    case 'out':
      return `${post(supposed.postId)} out of order from ${day(supposed.day)}`;
    case 'closed':
      return `closed on ${day(supposed.day)}`;
    case 'away':
      return `${people.find((p) => p.id === supposed.personId)?.name ?? 'somebody'} away on ${day(supposed.day)}`;
    case 'longer':
      return `everybody an hour longer on ${day(supposed.day)}`;
    case 'rush':
      return `${works.find((w) => w.id === supposed.workId)?.tag ?? 'one battery'} before everything else`;
  }
}

/** When the people who are there now, or next, have all gone: the end of their last hours before a night without anybody. */
export function nextClosing({ people }: Pick<ToldPlan, 'people'>): Minute | null {
  const manned = joined(people.flatMap((p) => p.there)).filter((s) => s.to > 0);
  for (const [i, span] of manned.entries()) {
    const next = manned[i + 1];
    if (!next || next.from - span.to > NIGHT_MIN) return span.to;
  }
  return null;
}

/** Shorter gaps are breaks. */
const NIGHT_MIN = 240;

/** A charge at the hour when the last person leaves, and what becomes of it. */
export interface Leaving {
  work: ToldWork;
  run: ToldRun;
  /** `off`: taken off before. `stays`: it holds by itself. `watched`: its instrument watches it. */
  what: 'off' | 'stays' | 'watched';
  at: Minute;
  /** When it goes on, where it stops for the night. */
  again: Minute | null;
}

export function leavings(plan: ToldPlan): Leaving[] {
  const closing = nextClosing(plan);
  if (closing === null) return [];
  return plan.works.flatMap((work) =>
    work.tasks.flatMap((task): Leaving[] => {
      const { run } = task;
      if (!run || run.postId === null) return [];
      const pieces = run.on.filter((s) => s.from < closing);
      const last = pieces.at(-1);
      const end = Math.max(run.off?.to ?? 0, run.on.at(-1)?.to ?? 0);
      if (!last || end <= closing - LAST_HOURS_MIN) return [];
      if (run.watch === 'hourly')
        return [
          {
            work,
            run,
            what: 'off',
            at: last.to,
            again: run.on.find((s) => s.from >= closing)?.from ?? null,
          },
        ];
      if (end <= closing) return [];
      return [
        {
          work,
          run,
          what: run.watch === 'none' ? 'watched' : 'stays',
          at: Math.max(0, task.from),
          again: null,
        },
      ];
    }),
  );
}

/** What becomes of a charge when the last one leaves, in a sentence without its battery. */
export function leavingWords(
  plan: Pick<ToldPlan, 'posts' | 'from'>,
  { run, what, at, again }: Leaving,
  wall: WallStyle,
): string {
  const place = plan.posts.find((p) => p.id === run.postId)?.name ?? '';
  const moment = (minute: Minute): number => plan.from + minute * 60_000;
  if (what === 'watched') return `runs on ${place}; the instrument watches it.`;
  if (what === 'stays') return `stays on ${place}; it holds the battery by itself.`;
  const off = `off ${place} at ${formatClock(moment(at), wall)}`;
  return again === null
    ? `${off}.`
    : `${off}: it does not stop by itself. On again ${formatMomentShort(moment(again), plan.from, wall)}.`;
}

/** What is over so long before closing needs no word at closing. */
const LAST_HOURS_MIN = 90;
