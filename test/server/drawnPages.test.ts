import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect } from 'chai';
import express, { type Request } from 'express';
import pino from 'pino';
import type { BenchWire, Shop } from '../../src/contract/wire.ts';
import { hashPin } from '../../src/server/door/pins.ts';
import { askWithin } from '../../src/server/http/askWithin.ts';
import { PageDrawer } from '../../src/server/http/pageDrawer.ts';
import { TestBench } from '../support/bench.ts';
import { scratch } from '../support/scratch.ts';

/** What stands in an element of a document, as its text. */
const between = (text: string, from: string, to: string): string =>
  text.slice(text.indexOf(from) + from.length).split(to)[0] ?? '';
const page = (text: string) => between(text, '<div id="root"', '<script type="application/json"');
const from = (text: string) =>
  JSON.parse(between(text, 'id="drawn-from">', '</script>')) as {
    clock: { now: number };
    state: { queries: { queryKey: string[]; state: { data: unknown } }[] };
  };

describe('the page of a first visit, drawn by the server', () => {
  let bench: TestBench;
  let jobPath: (tag: string) => string;
  before(async () => {
    TestBench.drawsPages = true;
    bench = await TestBench.demo();
    jobPath = await bench.jobPaths();
  });
  after(async () => {
    TestBench.drawsPages = false;
    await bench.close();
  });

  it('shows what the bench answers at that moment, and brings the answers with it', async () => {
    const { body } = await bench.get<BenchWire>('/api/bench');
    const text = await bench.drawn('/');
    const open = body.jobs.filter(({ state }) => state.status === 'running');
    expect(open.length).to.be.above(10);
    for (const { battery } of open) expect(page(text), battery.tag).to.include(battery.tag);
    const { clock, state } = from(text);
    expect(clock.now).to.equal(bench.now);
    const known = new Map(state.queries.map((q) => [q.queryKey.join(), q.state.data]));
    expect(known.get('bench')).to.deep.equal(body);
    expect(known.get('shop')).to.deep.equal((await bench.get<Shop>('/api/shop')).body);
  });

  it('is for whoever asked, and kept nowhere; its scripts are named in it, to come when it is read', async () => {
    await bench.drawn('/');
    const { headers } = await fetch(`${bench.url}/`, { headers: { 'Accept-Encoding': 'br' } });
    expect(headers.get('cache-control')).to.equal('no-store');
    expect(headers.get('content-encoding')).to.equal('br');
    expect(headers.get('link')).to.include('as=style').and.include('as=font');
    expect(headers.get('link')).to.not.include('/api/').and.not.include('/assets/first-');
    const scripts = between(await bench.drawn(jobPath('LK-0409')), 'data-scripts="', '"').split(
      ' ',
    );
    for (const piece of ['first', 'job', 'parts'])
      expect(scripts.filter((file) => file.startsWith(`/assets/${piece}-`)).length, piece).to.equal(
        1,
      );
    for (const file of scripts) expect((await fetch(bench.url + file)).status, file).to.equal(200);
  });

  it('is the view of its address', async () => {
    const shown: [string, string][] = [
      [jobPath('LK-0409'), 'Initial charge'],
      [jobPath('LK-0400'), 'What is wrong with it'],
      [`${jobPath('LK-0402')}/sheet`, 'LK-0402'],
      ['/shelf/round', 'Next on this walk'],
      ['/batteries/LK-0395', 'LK-0395'],
      ['/records', 'Records'],
      ['/wet-room', 'Wet room'],
      ['/intake', 'Take'],
      ['/guide', 'Field guide'],
    ];
    for (const [path, words] of shown)
      expect(page(await bench.drawn(path)), path).to.include(words);
  });

  it('leaves to the browser what only the browser keeps, and what is no page of the shop', async () => {
    for (const path of ['/drill', '/drill/case/abc-1/jobs/case', '/nowhere', '/jobs/none-such']) {
      const response = await fetch(bench.url + path);
      expect(await response.text(), path).to.not.include('drawn-from');
      expect(response.headers.get('cache-control'), path).to.equal('no-cache');
    }
  });

  it('leaves to the browser what leads elsewhere: a shop that nobody works in yet', async () => {
    const empty = await TestBench.empty();
    // Another of its pages tells that the thread is there.
    await empty.drawn('/guide');
    expect(await (await fetch(`${empty.url}/`)).text()).to.not.include('drawn-from');
    await empty.close();
  });

  it('puts nothing into the document but words, whatever a battery is called', async () => {
    const owner = '</script><img src=x onerror=alert(1)>"&';
    const battery = await bench.store.tables.batteries.findOne({ where: { tag: 'LK-0409' } });
    await battery?.update({ owner });
    const text = await bench.drawn(jobPath('LK-0409'));
    expect(text).to.not.include('<img src=x');
    expect(page(text)).to.include('&lt;/script&gt;&lt;img src=x');
    expect(JSON.stringify(from(text))).to.include('</script><img src=x');
    // An address is words, too.
    const spelled = await (
      await fetch(`${bench.url}/records?q=%3C/script%3E%3Cimg%20src=x%3E`)
    ).text();
    expect(spelled).to.not.include('<img src=x');
  });

  it('goes out to twenty at once, drawn or not, each with its own', async () => {
    const tags = ['LK-0409', 'LK-0403', 'LK-0400', 'LK-0407'];
    const answers = await Promise.all(
      Array.from({ length: 20 }, async (_, i) => {
        const tag = tags[i % tags.length] as string;
        const response = await fetch(bench.url + jobPath(tag));
        return { tag, status: response.status, text: await response.text() };
      }),
    );
    const drawn = answers.filter(({ text }) => text.includes('drawn-from'));
    expect(answers.every(({ status }) => status === 200)).to.equal(true);
    expect(drawn.length).to.be.within(1, 19);
    for (const { tag, text } of drawn) {
      const heading = /<h1[^>]*>([^<]+)</.exec(text)?.[1];
      expect(heading).to.equal(tag);
    }
  });

  it('shows nothing of a bench behind a PIN to whoever has not signed in, and to nobody in another’s name', async () => {
    const pinHash = await hashPin('314159');
    await bench.store.tables.people.update({ pinHash }, { where: {} });
    bench.wide = true;
    await bench.stop();
    await bench.start();
    const outside = await bench.drawn('/');
    expect(page(outside)).to.include('Sign in to the bench').and.not.include('LK-0');
    expect(from(outside).state.queries.map((q) => q.queryKey[0])).to.deep.equal(['sign-in']);
    const signedIn = await fetch(`${bench.url}/api/sign-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ personId: 'ilse', pin: '314159' }),
    });
    const Cookie = signedIn.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
    const inside = await bench.drawn('/', { Cookie });
    expect(page(inside)).to.include('LK-0409').and.include('Ilse');
    expect(page(await bench.drawn('/'))).to.not.include('LK-0');
  });
});

/** A busy machine takes its time over a thread. */
const BEGINS_WITHIN_MS = 60_000;

describe('the thread that draws pages', () => {
  const log = pino({ level: 'silent' });
  let folder: string;
  before(async () => void (folder = await mkdtemp(join(scratch(), 'drawn-'))));
  after(() => rm(folder, { recursive: true, force: true }));

  /** A drawer with such a program; waits until it has begun, or has not. */
  async function drawerOf(
    program: string,
    begins = true,
    patience = { answerMs: 250, drawnMs: 1000 },
  ): Promise<PageDrawer | null> {
    const file = join(folder, `${Math.random()}.mjs`);
    await writeFile(file, program);
    const app = express();
    app.get('/told', (_request, response) => response.json('here'));
    app.get('/late', () => undefined);
    const drawer = PageDrawer.of(file, app, log, patience);
    const began = performance.now();
    const longest = begins ? BEGINS_WITHIN_MS : 1500;
    while (!drawer?.isReady && performance.now() - began < longest)
      await new Promise((later) => setTimeout(later, 50));
    return drawer;
  }
  const visit = { originalUrl: '/x', path: '/x', headers: { host: '127.0.0.1' } } as Request;

  it('is asked again with what it wants, as far as that comes in time', async () => {
    const drawer = await drawerOf(
      `export const getReady = async () => undefined;
       export const drawPage = async (address, answers) =>
         '/late' in answers ? { html: JSON.stringify(answers), from: address } : { wants: ['/late', '/none'] };`,
      true,
      { answerMs: 1000, drawnMs: 30_000 },
    );
    const drawn = await drawer?.draw(visit, ['/told']);
    expect(drawn?.from).to.equal('/x');
    expect(JSON.parse(drawn?.html ?? '')).to.deep.equal({
      '/told': '"here"',
      '/late': null,
      '/none': null,
    });
  });

  it('that fails, hangs, wants ever more or cannot begin leaves the page to the browser', async () => {
    const ready = 'export const getReady = async () => undefined;';
    const programs = [
      `${ready} export const drawPage = async () => { throw new Error('not this one'); };`,
      `${ready} export const drawPage = () => new Promise(() => undefined);`,
      `${ready} let n = 0; export const drawPage = async () => ({ wants: ['/told' + n++] });`,
      `throw new Error('not at all');`,
      `export const getReady = () => new Promise(() => undefined);`,
    ];
    await Promise.all(
      programs.map(async (program) => {
        const drawer = await drawerOf(program, program.startsWith(ready));
        expect(await drawer?.draw(visit, ['/told']), program).to.equal(null);
      }),
    );
    expect(PageDrawer.of(join(folder, 'nothing.mjs'), express(), log)).to.equal(null);
  });

  it('is begun again when it has ended, when it needs more memory than a page does, and when it hangs', async () => {
    const faults = [
      'process.exit(1)',
      'for (const kept = []; ; ) kept.push(new Array(100_000).fill(kept.length))',
      'for (;;);',
    ];
    const begunAgain = faults.map(async (fault) => {
      const first = JSON.stringify(join(folder, `${Math.random()}`));
      const drawer = await drawerOf(`
        import { existsSync, writeFileSync } from 'node:fs';
        const begunBefore = existsSync(${first});
        writeFileSync(${first}, '');
        export const getReady = async () => undefined;
        export const drawPage = async (address) => {
          if (!begunBefore) { ${fault} }
          return { html: 'drawn', from: address };
        };`);
      expect(await drawer?.draw(visit, ['/told']), fault).to.equal(null);
      for (let tries = 0; tries < 60; tries += 1) {
        const drawn = await drawer?.draw(visit, ['/told']);
        if (drawn) return drawn;
        await new Promise((later) => setTimeout(later, 500));
      }
      throw new Error(`After ${fault} nothing was drawn any more.`);
    });
    for (const drawn of await Promise.all(begunAgain))
      expect(drawn).to.deep.equal({ html: 'drawn', from: '/x' });
  });

  it('has its answers over a line within the process, whatever their size', async () => {
    const app = express();
    const long = 'Ω'.repeat(3_000_000);
    app.get('/long', (_request, response) => response.type('text').send(long));
    app.get('/who', (request, response) => response.json(request.headers.cookie ?? null));
    const ask = askWithin(app);
    expect(await ask('/long', { host: 'x' })).to.deep.equal({ status: 200, text: long });
    expect((await ask('/who', { host: 'x', cookie: 'a=b' })).text).to.equal('"a=b"');
    expect((await ask('/nowhere', { host: 'x' })).status).to.equal(404);
  });
});
