import type Joi from 'joi';

/** Input that is refused for its size or its characters before any schema looks at it. */
export interface OutOfBounds {
  path: string;
  message: string;
  tooLarge: boolean;
}

/** Values in a body that a schema reports on one by one; in more, it stops at the first fault. */
export const MOST_REPORTED = 5000;

interface Lists {
  path: string[];
  most: number;
}

const known = new WeakMap<Joi.Schema, Lists[]>();

interface Described {
  type?: string;
  keys?: Record<string, Described>;
  rules?: { name: string; args?: { limit?: unknown } }[];
}

/** Lists this short are left to the schema: to look up its bounds costs more than to check them. */
const SHORT = 6;

/** Whether any list of an input is longer than short ones, however deep in objects; what stands in lists is not looked into. */
function hasLongList(input: unknown): boolean {
  if (Array.isArray(input)) return input.length > SHORT;
  return typeof input === 'object' && input !== null && Object.values(input).some(hasLongList);
}

/** The lists of a schema that have a longest length, however deep in objects. */
function listsOf(schema: Joi.Schema): Lists[] {
  let lists = known.get(schema);
  if (!lists) {
    lists = [];
    const walk = ({ keys, rules, type }: Described, path: string[]): void => {
      const most = type === 'array' ? rules?.find((r) => r.name === 'max')?.args?.limit : undefined;
      if (typeof most === 'number') lists?.push({ path, most });
      for (const [key, child] of Object.entries(keys ?? {})) walk(child, [...path, key]);
    };
    walk(schema.describe() as Described, []);
    known.set(schema, lists);
  }
  return lists;
}

/**
 * Looks at the lengths of lists, and for text that no file keeps, in one pass and without a copy.
 *
 * @returns what is out of bounds, or how many values there are
 */
export function bounds(schema: Joi.Schema, input: unknown): OutOfBounds | { values: number } {
  for (const { path, most } of hasLongList(input) ? listsOf(schema) : []) {
    let value = input;
    for (const key of path)
      value =
        typeof value === 'object' && value !== null
          ? (value as Record<string, unknown>)[key]
          : undefined;
    if (Array.isArray(value) && value.length > most)
      return {
        path: path.join('.'),
        message: `At most ${most.toLocaleString('en-GB')} at once; these are ${value.length.toLocaleString('en-GB')}.`,
        tooLarge: true,
      };
  }
  let values = 0;
  const waiting: { path: string; value: unknown }[] = [{ path: 'body', value: input }];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { path, value } = next;
    values += 1;
    if (typeof value === 'string' && value.includes('\0'))
      return { path, message: 'It holds a character that is none (NUL).', tooLarge: false };
    if (typeof value !== 'object' || value === null) continue;
    for (const [key, part] of Object.entries(value))
      waiting.push({ path: Array.isArray(value) ? path : key, value: part });
  }
  return { values };
}

/** Characters that turn the order of what stands beside them: in no name, tag or reason. */
const TURNING = /[\u202a-\u202e\u2066-\u2069\u200e\u200f\u061c]/g;

/** The same input without them; the very same where there are none. */
export function withoutTurning<T>(input: T): T {
  if (typeof input === 'string') return input.replace(TURNING, '') as T;
  if (Array.isArray(input))
    return (
      input.length > MOST_REPORTED ? input : input.map((part: unknown) => withoutTurning(part))
    ) as T;
  if (typeof input !== 'object' || input === null) return input;
  return Object.fromEntries(
    Object.entries(input).map(([key, part]) => [key, withoutTurning(part as unknown)]),
  ) as T;
}
