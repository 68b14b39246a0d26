/** Days in what people count in. */
const UNITS: readonly (readonly [RegExp, number])[] = [
  [/^d(ays?)?$/, 1],
  [/^w(eeks?)?$/, 7],
  [/^mo(nths?)?$/, 30.44],
  [/^y(ears?)?$/, 365.25],
];

export type ParsedSpan = { ok: true; days: number } | { ok: false; message: string };

/**
 * A span of time as it is told: `240`, `8 months`, `2 years`, `1,5 y`.
 *
 * @param bare what a number alone counts
 * @returns days, or a sentence saying what is wrong
 * @example parseSpan('8 months', 'days') // { ok: true, days: 244 }
 */
export function parseSpan(text: string, bare: 'days' | 'years'): ParsedSpan {
  const found = /^(\d{1,6}(?:[.,]\d{1,3})?)\s*([a-z]*)$/.exec(
    text.trim().toLowerCase().slice(0, 40),
  );
  const unit = found?.[2] === '' ? bare : (found?.[2] ?? '');
  const days = UNITS.find(([pattern]) => pattern.test(unit))?.[1];
  if (!found || days === undefined)
    return { ok: false, message: 'A number, with days, weeks, months or years after it.' };
  return {
    ok: true,
    days: Math.round(Number((found[1] as string).replace(',', '.')) * days * 10) / 10,
  };
}
