/** Chances as people say them: the nearest of these, shares. */
const SAID: readonly (readonly [share: number, words: string])[] = [
  [1 / 20, '1 in 20'],
  [1 / 10, '1 in 10'],
  [1 / 6, '1 in 6'],
  [1 / 4, '1 in 4'],
  [1 / 3, '1 in 3'],
  [1 / 2, '1 in 2'],
  [2 / 3, '2 in 3'],
  [3 / 4, '3 in 4'],
  [5 / 6, '5 in 6'],
  [9 / 10, '9 in 10'],
  [19 / 20, '19 in 20'],
];

/** `2 in 3`: how surely something is so, by the nearest that people say; `almost surely` and `hardly` at the ends. */
export function oddsWords(share: number): string {
  if (share >= 0.975) return 'almost surely';
  if (share < 0.03) return 'hardly';
  const [nearest] = SAID.toSorted(
    (a, b) => Math.abs(logit(a[0]) - logit(share)) - Math.abs(logit(b[0]) - logit(share)),
  );
  return nearest?.[1] ?? '';
}

const logit = (p: number): number => Math.log(p / (1 - p));

/** `8 in 10`: the chance that something comes to pass, in tenths, so that two of them are compared at a glance. */
export function chanceWords(share: number): string {
  if (share >= 0.975) return 'almost sure';
  if (share >= 0.925) return '19 in 20';
  if (share <= 0.025) return 'hardly any';
  if (share < 0.075) return '1 in 20';
  const tenths = Math.round(share * 10);
  return tenths === 5 ? '1 in 2' : `${Math.max(1, tenths)} in 10`;
}
