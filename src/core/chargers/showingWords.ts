import type { Showing, ShowingFinding } from './showing.ts';

const hours = (h: number): string =>
  h < 1 ? `${Math.max(1, Math.round(60 * h))} min` : `${Number(h.toFixed(1))} h`;

/** What a finding means, and what to do now. */
export function showingFindingWords(finding: ShowingFinding): {
  title: string;
  means: string;
  next: string;
} {
  switch (finding.kind) {
    case 'full-at-once':
      return {
        title: `Full after ${hours(finding.afterH)}; ${hours(finding.expectedH)} were expected`,
        means:
          'It takes no charge: sulfated plates, an open cell or a poor clip reach the ceiling at once.',
        next: 'Clean the posts and seat the clips. Connect it again. Still full at once: a low current for hours, or the recovery program.',
      };
    case 'full':
      return {
        title: `Full after ${hours(finding.afterH)}, by the charger`,
        means: 'A light is the charger’s opinion.',
        next: 'Charger off. Let it rest, then the voltage decides.',
      };
    case 'late':
      return {
        title: `Still charging after ${hours(finding.afterH)}; ${hours(finding.expectedH)} were expected`,
        means: 'A cell may be shorted, or the battery is larger than its label says.',
        next: 'Feel every cell. One warmer than the others, or a voltage that stays under 14 V on a 12 V battery: stop, and measure the cells.',
      };
    case 'refuses':
      return {
        title: 'Does not start',
        means:
          finding.readsV !== null && finding.startsV !== null && finding.readsV < finding.startsV
            ? `It starts at ${finding.startsV.toFixed(2)} V, and the battery read ${finding.readsV.toFixed(2)} V: too flat for it. The battery need not be bad.`
            : 'Too flat for it, a poor clip, an open cell, or plus and minus exchanged.',
        next: 'Check plus and minus and the clips, measure the voltage at the posts, connect it again. Still not: another charger, or a donor beside it.',
      };
    case 'clicks':
      return {
        title: 'Clicks on and off',
        means:
          'The voltage jumps to the ceiling and falls back: a poor clip, an open cell, or hard sulfate.',
        next: 'Clean the posts, seat the clips, connect it again. Still clicking: a low current from an adjustable charger shows which it is.',
      };
    case 'error':
      return {
        title: `Error after ${hours(finding.afterH)}`,
        means:
          finding.afterH > 10
            ? 'Its timer gave up: the battery is too large for it, or a cell is shorted.'
            : 'Wrong polarity, wrong voltage, a shorted cell, or a battery it cannot read.',
        next: 'Feel the cells and measure the voltage. All cool and rising: connect it again. One warm, or the voltage low: stop, and measure the cells.',
      };
  }
}

/** What was seen, in a line: `Green (full)`. */
export function showingText({ light, means, percent }: Showing): string {
  const own = means === 'refuses' || means === 'clicks' || light.toLowerCase() === means;
  return [own ? light : `${light} (${means})`, percent === undefined ? null : `${percent} %`]
    .filter(Boolean)
    .join(', ');
}
