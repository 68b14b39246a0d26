// Mocha's own spec reporter, which also leaves its counts, what failed and how long each test took in a file.
import { writeFileSync } from 'node:fs';
import { relative } from 'node:path';
import mocha from 'mocha';

export default class CountingReporter extends mocha.reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    const failures = [];
    const tests = [];
    runner.on('fail', (test, error) =>
      failures.push({
        title: test.fullTitle(),
        why: error.stack ?? error.message ?? String(error),
      }),
    );
    runner.on('test end', (test) =>
      tests.push({
        file: relative(process.cwd(), test.file ?? ''),
        title: test.fullTitle(),
        seconds: (test.duration ?? 0) / 1000,
      }),
    );
    runner.once('end', () => {
      if (process.env.MOCHA_REPORT)
        writeFileSync(
          process.env.MOCHA_REPORT,
          JSON.stringify({ passes: runner.stats.passes, failures, tests }),
        );
    });
  }
}
