// The constraint engine's WebAssembly in a thread of Node's: its program is written for a browser's worker.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { compileFunction } from 'node:vm';
import { parentPort } from 'node:worker_threads';

const require = createRequire(import.meta.url);
const file = require.resolve('minizinc/minizinc-worker.js');
globalThis.self = globalThis;
globalThis.postMessage = (message) => parentPort?.postMessage(message);
globalThis.addEventListener = (_, hear) => parentPort?.on('message', (data) => hear({ data }));
compileFunction(readFileSync(file, 'utf8'), ['require', '__filename', '__dirname'])(
  require,
  file,
  dirname(file),
);
