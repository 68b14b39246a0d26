import './look.css';

/**
 * The first script of every page, and a small one. Where the server drew the page, it is shown as soon as its letters have come;
 * what makes it work is fetched once it can be read. Where nothing was drawn, everything is fetched at once.
 */

/** Words in another face than they are set in would move as soon as theirs comes. */
const FACES = ['400 1em Barlow', '600 1em "Barlow Condensed"', '500 1em "Barlow Condensed"'];
/** A slow line is not waited for any longer, ms. */
const MOST_WAIT_MS = 1500;
/** A browser that does not tell what it has painted has done so by then, ms. */
const PAINTED_BY_MS = 200;

const after = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** The page can be read. */
const painted = (): Promise<unknown> =>
  Promise.race([
    new Promise<void>((seen) => {
      try {
        new PerformanceObserver(() => seen()).observe({ type: 'paint', buffered: true });
      } catch {
        // An older browser does not tell; the clock does.
      }
    }),
    after(PAINTED_BY_MS),
  ]);

/** Names what is fetched next all at once: one file would name the next only when it has come. */
function fetchAhead(scripts: string): void {
  for (const href of scripts.split(' ')) {
    const link = document.createElement('link');
    link.rel = 'modulepreload';
    link.href = href;
    document.head.append(link);
  }
}

async function begin(): Promise<void> {
  const root = document.getElementById('root') as HTMLElement;
  const faces = Promise.race([
    Promise.all(FACES.map((face) => document.fonts.load(face))).catch(() => undefined),
    after(MOST_WAIT_MS),
  ]);
  if (root.dataset['scripts'] !== undefined) {
    await faces;
    root.hidden = false;
    await painted();
    fetchAhead(root.dataset['scripts']);
  }
  const { openPages } = await import('./main.tsx');
  await openPages(faces, MOST_WAIT_MS);
}

void begin();
