import { Worker } from 'node:worker_threads';

const EVERY_MS = 20;
const THREAD = `
const { parentPort } = require('node:worker_threads');
let last = performance.now();
let worst = 0;
setInterval(() => {
  const now = performance.now();
  worst = Math.max(worst, now - last - ${EVERY_MS});
  last = now;
}, ${EVERY_MS});
parentPort.on('message', () => parentPort.postMessage(worst));
`;

/**
 * How long the machine itself stood still: a thread that does nothing but look at the clock. A virtual machine whose host is busy
 * stands for seconds, and nothing on it keeps a pace then.
 */
export class Standstill {
  readonly #thread = new Worker(THREAD, { eval: true });

  /** Ends watching. @returns the longest it stood, ms */
  async longest(): Promise<number> {
    const told = new Promise<number>((resolve) => this.#thread.once('message', resolve));
    this.#thread.postMessage(null);
    const worst = await told;
    await this.#thread.terminate();
    return Math.round(worst);
  }
}
