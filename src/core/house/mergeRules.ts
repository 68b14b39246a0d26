/** One rule that two people have set to different things. */
export interface Clash {
  /** As in `schools.soak` or `places`. */
  path: string;
  theirs: unknown;
  mine: unknown;
}

type Leaves = Map<string, unknown>;

/** Every value by its path; a list is one value. */
function leavesOf(value: unknown, path = '', leaves: Leaves = new Map()): Leaves {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) leaves.set(path, value);
  else
    for (const [key, part] of Object.entries(value))
      leavesOf(part, path ? `${path}.${key}` : key, leaves);
  return leaves;
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * Two people have changed the same text at once. What only one of them touched stands as they set it; what both set
 * to different things is a clash, and stands as mine until somebody chooses.
 *
 * @param base as both found it
 */
export function mergeChanges<T extends object>(
  base: T,
  theirs: T,
  mine: T,
): { merged: T; clashes: Clash[] } {
  const [was, they, me] = [leavesOf(base), leavesOf(theirs), leavesOf(mine)];
  const merged = structuredClone(theirs);
  const clashes: Clash[] = [];
  for (const [path, value] of me) {
    if (same(value, was.get(path))) continue;
    setAt(merged, path, value);
    if (!same(they.get(path), was.get(path)) && !same(they.get(path), value))
      clashes.push({ path, theirs: they.get(path), mine: value });
  }
  return { merged, clashes };
}

/** The same text with one value set. */
export function withValue<T extends object>(value: T, path: string, next: unknown): T {
  const copy = structuredClone(value);
  setAt(copy, path, next);
  return copy;
}

function setAt(target: object, path: string, value: unknown): void {
  const keys = path.split('.');
  const last = keys.pop() as string;
  let branch = target as Record<string, unknown>;
  for (const key of keys) branch = branch[key] as Record<string, unknown>;
  branch[last] = value;
}

/** What differs between two texts, by path. */
export function differences(
  before: object,
  after: object,
): { path: string; before: unknown; after: unknown }[] {
  const was = leavesOf(before);
  return [...leavesOf(after)]
    .filter(([path, value]) => !same(value, was.get(path)))
    .map(([path, value]) => ({ path, before: was.get(path), after: value }));
}
