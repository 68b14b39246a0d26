import { chanceWords } from '../quantities/chance.ts';
import { formatClock, type WallStyle } from '../quantities/format.ts';
import type { Moment } from '../quantities/moment.ts';
import { personLines } from './personLines.ts';
import { UNSAFE } from './planWords.ts';
import type { ToldPlan } from './told.ts';

/** Something that somebody who goes by the plan is told; the key stays the same while it holds. */
export interface PlanAlert {
  key: string;
  says: string;
}

/** What is somebody's by the plan is told so long before, min. */
const AHEAD_MIN = 5;

/**
 * What is told now to somebody who goes by the plan: what is theirs within minutes, and promises that it no longer keeps.
 *
 * @param personId whose tasks; null tells of promises only
 */
export function planAlerts(
  plan: ToldPlan,
  personId: string | null,
  now: Moment,
  wall: WallStyle,
): PlanAlert[] {
  const minute = (now - plan.from) / 60_000;
  const clock = (at: number): string => formatClock(plan.from + at * 60_000, wall);
  const tasks = personLines(plan)
    .filter((l) => l.personId === personId && l.from - AHEAD_MIN <= minute && minute < l.to)
    .map(({ from, works, what }) => {
      const tags = works.map((w) => w.tag).join(', ');
      return { key: `task ${tags} ${what}`, says: `${clock(from)} ${tags}: ${what}` };
    });
  const promises = plan.works.flatMap(({ id, tag, promisedAt, kept }): PlanAlert[] =>
    promisedAt === null || kept === null || kept >= UNSAFE || promisedAt < minute
      ? []
      : [
          {
            key: `promise ${id}`,
            says: `${tag}, promised for ${clock(promisedAt)}: ${chanceWords(kept)} by the plan`,
          },
        ],
  );
  return [...promises, ...tasks];
}
