import type { BenchWire, ShelfItem } from '../../contract/wire.ts';
import { normaliseTag } from '../../core/batteries/tag.ts';
import { ask } from './api.ts';
import { benchQuery, queryClient } from './queries.ts';
import { type HouseRules, DEFAULT_RULES } from '../../core/house/rules.ts';
import { momentOfAct } from './benchClock.ts';
import { standingOf } from '../../core/storage/stock.ts';

interface ShelfAnswer {
  items: ShelfItem[];
}

/** Batteries whose tag, owner or model holds these words. */
export const findBatteriesQuery = (words: string, limit: number) => ({
  queryKey: ['find', words, limit],
  queryFn: () => ask('findBatteries', { query: { limit, q: words } }),
});

/** Where a scanned tag leads: to what is due. Its job while that is in process, the round where the shelf wants it, else its record. */
export async function addressOfScan(tag: string): Promise<string> {
  const job = await addressOfTag(tag);
  if (!job.startsWith('/batteries/')) return job;
  const shelf =
    queryClient.getQueryData<ShelfAnswer>(['shelf']) ??
    (await queryClient
      .fetchQuery({ queryKey: ['shelf'], queryFn: () => ask('shelf') })
      .catch(() => null));
  const item = shelf?.items.find((i) => i.tag === tag && i.jobId === null);
  const rules = queryClient.getQueryData<{ rules: HouseRules }>(['shop'])?.rules ?? DEFAULT_RULES;
  return item && standingOf(item, rules, momentOfAct()).wants !== null
    ? `/shelf/round?tag=${tag}`
    : job;
}

/** Where a tag leads: to its job while that is in process, to its record otherwise. */
async function addressOfTag(tag: string): Promise<string> {
  const bench =
    queryClient.getQueryData<BenchWire>(benchQuery.queryKey) ??
    (await queryClient.fetchQuery(benchQuery).catch(() => null));
  const job = bench?.jobs.find(
    (j) =>
      j.battery.tag === tag && (j.state.status === 'running' || j.state.status === 'with-lead'),
  );
  return job ? `/jobs/${job.id}` : `/batteries/${tag}`;
}

/** Are these words a tag, or the digits of one? */
export const meansTag = (words: string): boolean =>
  normaliseTag(words) !== null || /^\d{3,6}$/.test(words.trim());

/**
 * Where Enter leads in a search: to the battery whose tag was typed, whole or by its digits alone. It is asked for
 * by these very words: what stands in the list may still belong to earlier ones. Null where no tag is meant.
 */
export async function addressOfWords(words: string): Promise<string | null> {
  if (!meansTag(words)) return null;
  const typed = normaliseTag(words);
  const { batteries } = await queryClient.fetchQuery(findBatteriesQuery(words.trim(), 8));
  const meant = batteries.filter((b) =>
    typed ? b.tag === typed : b.tag.endsWith(`-${words.trim()}`),
  );
  return meant.length === 1 && meant[0] ? addressOfTag(meant[0].tag) : null;
}
