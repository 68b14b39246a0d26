import { parentPort, workerData } from 'node:worker_threads';
import { pathToFileURL } from 'node:url';
import type { Drawing, KnownAnswers } from '../../contract/drawnPage.ts';
import type { FromDrawer, ToDrawer } from './pageDrawer.ts';

/** The thread that draws pages: with what the build made of them for Node, whose file it is told. */

/** What the build made. @see `src/web/app/drawPage.tsx` */
interface Pages {
  drawPage: (address: string, answers: KnownAnswers) => Promise<Drawing>;
  getReady: () => Promise<unknown>;
}

const { drawPage, getReady } = (await import(pathToFileURL(workerData as string).href)) as Pages;
const tell = (told: FromDrawer): void => parentPort?.postMessage(told);

parentPort?.on('message', ({ id, address, answers }: ToDrawer) => {
  void drawPage(address, answers).then(
    (drawing) => tell({ id, drawing }),
    (error: Error) => tell({ id, fault: error.stack ?? error.message }),
  );
});
await getReady();
tell({ ready: true });
