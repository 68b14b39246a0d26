// Mocha's own spec reporter, which also leaves its counts in a file for the closing line.
import { writeFileSync } from 'node:fs';
import mocha from 'mocha';

export default class CountingReporter extends mocha.reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    runner.once('end', () => {
      const { passes, failures } = runner.stats;
      if (process.env.MOCHA_REPORT)
        writeFileSync(process.env.MOCHA_REPORT, JSON.stringify({ passes, failures }));
    });
  }
}
