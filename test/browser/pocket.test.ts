import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import bwipjs from 'bwip-js/node';
import { expect } from 'chai';
import { chromium } from 'playwright-core';
import { CHROMIUM_FLAGS, chromiumPath } from '../../scripts/chromium.mjs';
import type { BenchWire } from '../../src/contract/wire.ts';
import { TestBench } from '../support/bench.ts';
import { cameraFault } from '../../src/web/parts/cameraFault.ts';
import { Technician } from '../support/browser.ts';

const PHONE = { width: 390, height: 844 };

/** A film of one code, standing still, as a camera would see it: 8-bit grey with no colour in it. */
function filmOf(code: { bcid: string; text: string }): Buffer {
  const [raw] = bwipjs.raw(code as never) as unknown as [
    { pixs?: number[]; pixx?: number; pixy?: number; sbs?: number[] },
  ];
  const [width, height] = [640, 480];
  const luma = Buffer.alloc(width * height, 235);
  const ink = (x: number, y: number, w: number, h: number) => {
    for (let row = y; row < y + h; row++) luma.fill(16, row * width + x, row * width + x + w);
  };
  if (raw.pixs && raw.pixx && raw.pixy) {
    const dot = Math.floor(360 / raw.pixx);
    raw.pixs.forEach((dark, i) => {
      const [x, y] = [i % raw.pixx!, Math.floor(i / raw.pixx!)];
      if (dark) ink(140 + x * dot, 60 + y * dot, dot, dot);
    });
  } else {
    let x = 80;
    (raw.sbs ?? []).forEach((bars, i) => {
      if (i % 2 === 0) ink(x, 160, bars * 3, 160);
      x += bars * 3;
    });
  }
  const grey = Buffer.alloc((width * height) / 2, 128);
  const frame = Buffer.concat([Buffer.from('FRAME\n'), luma, grey]);
  return Buffer.concat([
    Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`),
    ...Array.from({ length: 10 }, () => frame),
  ]);
}

describe('in the pocket', () => {
  let bench: TestBench;
  let folder: string;
  before(async () => {
    bench = await TestBench.demo();
    folder = await mkdtemp(join(tmpdir(), 'cork-ember-film-'));
  });
  after(async () => {
    await bench.close();
    await rm(folder, { recursive: true, force: true });
  });

  for (const bcid of ['qrcode', 'code128'])
    it(`the camera reads a tag (${bcid}) and opens what is due for its battery`, async () => {
      const film = join(folder, `${bcid}.y4m`);
      await writeFile(film, filmOf({ bcid, text: 'LK-0409' }));
      const browser = await chromium.launch({
        executablePath: chromiumPath(),
        args: [
          ...CHROMIUM_FLAGS,
          '--use-fake-ui-for-media-stream',
          '--use-fake-device-for-media-stream',
          `--use-file-for-fake-video-capture=${film}`,
        ],
      });
      const page = await browser.newPage({ viewport: PHONE, serviceWorkers: 'block' });
      await page.goto(bench.url);
      await page.getByRole('button', { name: 'Scan a tag with the camera' }).click();
      await page.waitForURL('**/jobs/*', { timeout: 30_000 });
      await page.getByRole('heading', { name: 'LK-0409' }).waitFor();
      await browser.close();
    });

  it('says why there is no camera, and leads to the page that helps', async () => {
    const t = await Technician.sitDown(bench, 'ilse', PHONE);
    await t.open('/');
    await t.press('Scan a tag with the camera');
    // This machine has none; what an untrusted page is told stands beside it.
    await t.sees('No camera was found.');
    expect(cameraFault(false, false)).to.match(/only to a page it trusts/);
    expect(cameraFault(true, true)).to.equal(null);
    await t.page.getByRole('link', { name: 'Set up this phone' }).click();
    await t.page.getByRole('heading', { name: 'Cork Ember on a phone' }).waitFor();
    await t.leave();
  });

  it('opens without the server, with what was last seen and how old it is; entries wait and go once', async () => {
    const t = await Technician.sitDown(bench, 'ilse', PHONE, { keepsPages: true });
    const { body } = await bench.get<BenchWire>('/api/bench');
    const job = body.jobs.find((j) => j.battery.tag === 'LK-0409')!;
    await t.open('/');
    await t.open(`/jobs/${job.id}`);
    await t.page.evaluate(async () => {
      await navigator.serviceWorker.register('/sw.js');
      await navigator.serviceWorker.ready;
    });
    await t.page.getByRole('region', { name: 'Step in hand' }).waitFor();
    // Put away, and taken out again where there is no line.
    await t.page.evaluate(() => dispatchEvent(new Event('pagehide')));
    await t.page.waitForFunction(
      () =>
        new Promise<boolean>((resolve) => {
          const open = indexedDB.open('keyval-store');
          open.onsuccess = () => {
            const stores = [...open.result.objectStoreNames];
            if (stores.length === 0) return resolve(false);
            const kept = open.result
              .transaction(stores[0]!)
              .objectStore(stores[0]!)
              .get('cork-ember.last-state');
            kept.onsuccess = () => resolve(Boolean(kept.result));
          };
          open.onerror = () => resolve(false);
        }),
    );
    await t.context.setOffline(true);
    await t.page.goto(`${bench.url}/jobs/${job.id}`);
    await t.page.getByRole('heading', { name: 'LK-0409' }).waitFor();
    await t.sees('Server not reachable.');
    await t.field('Volts').fill('14.20');
    await t.field('Amps').fill('1.18');
    await t.field('Temperature').fill('26');
    await t.press('Save reading');
    await t.sees('1 entry waits here for the server');
    await t.context.setOffline(false);
    await t.page.getByText('entry waits').waitFor({ state: 'detached', timeout: 60_000 });
    const after = await bench.get<{ job: (typeof body.jobs)[number] }>(`/api/jobs/${job.id}`);
    const kept = after.body.job.state.readings.filter((r) => r.values.voltageV === 14.2);
    expect(kept).to.have.length(1);
    await t.leave();
  });

  it('walks a group of equal tasks one after the other: keep, skip, back', async () => {
    const t = await Technician.sitDown(bench, 'ilse', PHONE);
    const { body } = await bench.get<BenchWire>('/api/bench');
    const ids = ['LK-0409', 'LK-0411', 'LK-0398'].flatMap(
      (tag) => body.jobs.find((j) => j.battery.tag === tag)?.id ?? [],
    );
    await t.open(`/walk?jobs=${ids.join(',')}`);
    await t.sees(`1 of ${ids.length}`);
    await t.field('Volts').fill('14.22');
    await t.field('Amps').fill('1.17');
    await t.field('Temperature').fill('26');
    await t.page.keyboard.press('Enter');
    await t.sees(`2 of ${ids.length}`);
    await t.press('Skip');
    await t.sees(`3 of ${ids.length}`);
    await t.press('Back');
    await t.sees(`2 of ${ids.length}`);
    await t.press('Skip');
    await t.press('Skip');
    await t.sees('The walk is over');
    await t.sees(`1 of ${ids.length} done, ${ids.length - 1} skipped: they stay on the list.`);
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });
});
