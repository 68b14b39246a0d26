// `npm run words`: every sentence and label a person can meet, by view, with its reading grade and any word that is
// said more plainly elsewhere; then the messages of the core and the server that no view shows at this hour.
import { readingGrade } from '../src/core/guide/readingGrade.ts';
import { TestBench } from '../test/support/bench.ts';
import { Technician } from '../test/support/browser.ts';
import { REPLACED_WORDS } from '../test/support/replacedWords.ts';
import { sentencesOfSources } from '../test/support/sentences.ts';
import { JOB_VIEWS, OTHER_VIEWS, RULE_VIEWS } from '../test/support/views.ts';
import { buildPages } from './setup.mjs';

/** Shorter than this a line is a label: a grade says nothing of it. */
const FEWEST_WORDS = 5;

const seen = new Set<string>();
const worst: { grade: number; where: string; text: string }[] = [];

function tell(where: string, lines: readonly string[]): void {
  const fresh = [...new Set(lines)].filter((line) => /[a-z]{2}/.test(line) && !seen.has(line));
  console.log(`\n## ${where}`);
  for (const line of fresh) {
    seen.add(line);
    const grade = line.split(' ').length < FEWEST_WORDS ? null : readingGrade(line);
    if (grade !== null) worst.push({ grade, where, text: line });
    const old = REPLACED_WORDS.filter(({ pattern }) => pattern.test(line)).map(({ say }) => say);
    console.log(
      `${grade === null ? '    ' : grade.toFixed(1).padStart(4)}  ${line}${old.length > 0 ? `   ← ${old.join(', ')}` : ''}`,
    );
  }
}

buildPages();
const bench = await TestBench.demo();
const job = await bench.jobPaths();
const t = await Technician.sitDown(bench, 'greta');
for (const [name, path] of [...JOB_VIEWS, ...OTHER_VIEWS, ...RULE_VIEWS]) {
  await t.open(path(job));
  await t.page.waitForLoadState('networkidle');
  tell(name, await t.everyWord());
}
await t.leave();
await bench.close();
const byFile = new Map<string, string[]>();
for (const { file, text } of sentencesOfSources())
  byFile.set(file, [...(byFile.get(file) ?? []), text]);
for (const [file, texts] of byFile) tell(file, texts);

worst.sort((a, b) => b.grade - a.grade);
console.log(`\n${seen.size} lines. The hardest to read:`);
for (const { grade, where, text } of worst.slice(0, 20))
  console.log(`${grade.toFixed(1).padStart(5)}  ${where}: ${text}`);
process.exit(0);
