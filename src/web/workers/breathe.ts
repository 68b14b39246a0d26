/** Work between two looks at what else is asked, ms. */
export const SLICE_MS = 16;

/** Lets messages in that came meanwhile. */
export const breathe = (): Promise<void> =>
  new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });
