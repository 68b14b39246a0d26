/** What must not be read in a shop of °F, ounces, pounds, am and pm, and the month first. */
const STRAY: readonly RegExp[] = [
  /°C\b/,
  /\d[\s\u00a0]?(?:mL|ml)\b/,
  /\d[\s\u00a0](?:g|kg)(?![\w/])/,
  /, (?:mL|kg|g)$/,
  /(?<![\d:.])(?:[01]?\d|2[0-4]):[0-5]\d(?![\s\u00a0]?(?:[ap]m)|:|\d)/,
  /(?<![,\d] ?)\b\d{1,2}[ \u00a0](?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)\b/,
];

/** The units themselves, where a shop chooses its own. */
const CHOICES = ['°C', 'mL, g'];

/** The lines in which a unit of another shop stands. */
export const strayUnits = (lines: readonly string[]): string[] => [
  ...new Set(
    lines.filter((line) => !CHOICES.includes(line) && STRAY.some((stray) => stray.test(line))),
  ),
];
