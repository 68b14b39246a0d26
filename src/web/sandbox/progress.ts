import { type Card, createEmptyCard, fsrs, Rating } from 'ts-fsrs';
import type { DrillCase } from '../../core/drill/case.ts';
import { FAMILIES, type FamilyKey } from '../../core/diagnosis/practice/families.ts';
import { mean } from '../../core/quantities/mean.ts';
import { type Attempt, caseOfAttempt } from './attempts.ts';

/** What is practised: the faults of batteries that come in, and the commissioning of new ones. */
export type Topic = FamilyKey | 'commission';

export const topicOf = ({ purpose, truth }: DrillCase): Topic =>
  purpose === 'commission' ? 'commission' : truth.family;

export const topicName = (topic: Topic): string =>
  topic === 'commission' ? 'New batteries' : FAMILIES[topic].name;

/** How somebody stands at one topic. */
export interface TopicProgress {
  topic: Topic;
  done: number;
  passed: number;
  /** Of each go, oldest first: the mean of its marks, 0–100, and whether it was passed. */
  goes: { points: number; passed: boolean }[];
  /** By spaced repetition: when it is to be practised again, ms, and how likely it would be passed now, 0–1. */
  dueAt: number;
  recall: number;
}

const scheduler = fsrs({ enable_fuzz: false, enable_short_term: false });
/** A pass in which every mark is this high was easy. */
const EASY_POINTS = 95;

/**
 * Progress by topic, what is likeliest forgotten first. When a topic is due is said by FSRS (`ts-fsrs`), each ended case being a
 * review: failed, passed, or passed with ease.
 *
 * @param attempts of one person, oldest first
 * @param now by the clock of this device, ms
 */
export function progressOf(attempts: readonly Attempt[], now: number): TopicProgress[] {
  const byTopic = new Map<Topic, { card: Card; goes: TopicProgress['goes'] }>();
  for (const attempt of attempts) {
    const drillCase = caseOfAttempt(attempt);
    const { endedAt, result } = attempt;
    if (!drillCase || endedAt === null || !result) continue;
    const topic = topicOf(drillCase);
    const ended = new Date(endedAt);
    const before = byTopic.get(topic) ?? { card: createEmptyCard(ended), goes: [] };
    const rating = !result.passed
      ? Rating.Again
      : Object.values(result.points).every((p) => p >= EASY_POINTS)
        ? Rating.Easy
        : Rating.Good;
    byTopic.set(topic, {
      card: scheduler.next(before.card, ended, rating).card,
      goes: [...before.goes, { points: mean(Object.values(result.points)), passed: result.passed }],
    });
  }
  return [...byTopic]
    .map(([topic, { card, goes }]) => ({
      topic,
      done: goes.length,
      passed: goes.filter((g) => g.passed).length,
      goes,
      dueAt: card.due.getTime(),
      recall: scheduler.get_retrievability(card, new Date(now), false),
    }))
    .toSorted((a, b) => a.recall - b.recall);
}

/**
 * The case to do next: one of a topic that is due and was failed, else the next of the ladder, else one of what is likeliest
 * forgotten.
 *
 * @param cases in the order of the ladder
 */
export function nextCase(
  cases: readonly DrillCase[],
  attempts: readonly Attempt[],
  progress: readonly TopicProgress[],
  now: number,
): { drillCase: DrillCase; why: 'weak' | 'ladder' | 'again' } | null {
  const passed = new Set(attempts.filter((a) => a.result?.passed).map((a) => a.code));
  const lastDone = (code: string): number =>
    attempts.findLast((a) => a.code === code)?.startedAt ?? 0;
  const oldestOf = (topic: Topic): DrillCase | undefined =>
    cases
      .filter((c) => topicOf(c) === topic)
      .toSorted((a, b) => lastDone(a.code) - lastDone(b.code))[0];
  const weak = progress.find((p) => p.passed < p.done && p.dueAt <= now);
  const weakCase = weak && oldestOf(weak.topic);
  if (weakCase) return { drillCase: weakCase, why: 'weak' };
  const ladder = cases.find((c) => !passed.has(c.code));
  if (ladder) return { drillCase: ladder, why: 'ladder' };
  const [forgotten] = progress;
  const again = forgotten && oldestOf(forgotten.topic);
  return again ? { drillCase: again, why: 'again' } : null;
}
