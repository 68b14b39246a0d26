import { findSourceMap } from 'node:module';
import Mocha from 'mocha';

/**
 * Mocha keeps whole stacks, the data file's driver takes one down at every query and the browser's at every act: told in the lines
 * of the sources, they are a tenth of what tests cost. They are cut short here, and told so only where something fails.
 */
Error.stackTraceLimit = 10;

/** A place in a file as it runs: `file:///…/bench.ts:1:6918`. */
const PLACE = /((?:file:\/\/)?\/[^\s():]+):(\d+):(\d+)/g;

/** The same place in the file as it was written, where its map is known. */
const asWritten = (place: string, file: string, line: string, column: string): string => {
  const entry = findSourceMap(file)?.findEntry(Number(line) - 1, Number(column) - 1);
  return entry && 'originalSource' in entry
    ? `${file}:${entry.originalLine + 1}:${entry.originalColumn + 1}`
    : place;
};

/** As mocha's runner says it: not among its types. */
type Runs = { fail: (test: unknown, error: unknown, ...others: unknown[]) => unknown };
const runner = Mocha.Runner.prototype as unknown as Runs;
const { fail } = runner;
runner.fail = function (test, error, ...others) {
  if (error instanceof Error && error.stack) error.stack = error.stack.replaceAll(PLACE, asWritten);
  return fail.call(this, test, error, ...others);
};

/** Maps are kept while files are loaded. */
export const mochaHooks = {
  beforeAll: () => process.setSourceMapsEnabled(false),
  afterAll: () => process.setSourceMapsEnabled(true),
};
