import { tmpdir } from 'node:os';

/** Where tests keep their files: in memory where `npm test` has found room there, so that a slow disk does not set the pace. */
export const scratch = (): string => process.env['CORK_EMBER_SCRATCH'] ?? tmpdir();
