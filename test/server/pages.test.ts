import { existsSync } from 'node:fs';
import { request } from 'node:http';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { expect } from 'chai';
import { VIEWS } from '../../src/server/http/builtPages.ts';
import { TestBench } from '../support/bench.ts';

interface Raw {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: Buffer;
}

describe('what a page is sent', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.demo()));
  after(() => bench.close());

  /** As it comes over the wire, nothing unpacked. */
  const raw = (path: string, encoding: string) =>
    new Promise<Raw>((resolve, reject) => {
      request(bench.url + path, { headers: { 'Accept-Encoding': encoding } }, (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('end', () =>
          resolve({
            status: response.statusCode ?? 0,
            headers: response.headers,
            body: Buffer.concat(parts),
          }),
        );
      })
        .on('error', reject)
        .end();
    });

  it('is pressed as the browser can unpack it, and the same whichever way', async () => {
    const [plain, gzip, brotli] = [
      await raw('/api/bench', ''),
      await raw('/api/bench', 'gzip'),
      await raw('/api/bench', 'gzip, br'),
    ];
    expect([plain, gzip, brotli].map((a) => a.headers['content-encoding'])).to.deep.equal([
      undefined,
      'gzip',
      'br',
    ]);
    expect(gunzipSync(gzip.body).equals(plain.body)).to.equal(true);
    expect(brotliDecompressSync(brotli.body).equals(plain.body)).to.equal(true);
    expect(brotli.body.length).to.be.lessThan(plain.body.length / 6);
  });

  it('is one page at every address, asked for anew each time, its scripts kept for good', async () => {
    for (const path of ['/', '/rules', '/jobs/abc', '/jobs/abc/', '/nowhere/at/all']) {
      const { status, headers, body } = await raw(path, 'br');
      expect([status, headers['content-encoding'], headers['cache-control']], path).to.deep.equal([
        200,
        'br',
        'no-cache',
      ]);
      expect(brotliDecompressSync(body).toString(), path).to.include('<div id="root">');
    }
    const script =
      /<\/(assets\/first-[^>]+\.js)>/.exec(String((await raw('/', 'br')).headers['link']))?.[1] ??
      '';
    const { headers } = await raw(`/${script}`, 'br');
    expect(headers['cache-control']).to.include('immutable').and.include('max-age=31536000');
    expect(headers['content-encoding']).to.equal('br');
    expect((await raw('/assets/none.js', 'br')).status).to.equal(404);
  });

  it('names beforehand what the view at that address needs, and no other', async () => {
    const links = async (path: string) => String((await raw(path, 'br')).headers['link']);
    expect(await links('/'))
      .to.include('</api/bench>')
      .and.not.include('/assets/job-');
    expect(await links('/jobs/abc-1'))
      .to.include('</api/jobs/abc-1>; rel=preload')
      .and.match(/<\/assets\/job-[^>]+>; rel=modulepreload/);
    // What cannot be a name is not put into a header.
    expect(await links('/jobs/%0d%0aSet-Cookie:x')).to.not.include('Cookie');
    for (const { source, piece, path } of VIEWS) {
      if (source)
        expect(existsSync(new URL(`../../${source}`, import.meta.url)), source).to.equal(true);
      expect(source !== undefined && piece !== undefined, path.source).to.equal(false);
    }
    // A view's own scripts are among what is named, whichever way the build cut them.
    const scriptsOfViews = {
      '/shelf/round': 'Round',
      '/batteries/LK-0395': 'BatteryRecord',
      '/walk': 'Walk',
    };
    for (const [path, name] of Object.entries(scriptsOfViews))
      expect(await links(path), path).to.match(
        new RegExp(`</assets/${name}-[^>]+>; rel=modulepreload`),
      );
  });

  it('of changes goes out line by line, whatever can be unpacked', async () => {
    const first = await new Promise<string>((resolve, reject) => {
      const asked = request(
        `${bench.url}/api/stream`,
        { headers: { 'Accept-Encoding': 'gzip, br' } },
        (response) => {
          expect(response.headers['content-encoding']).to.equal(undefined);
          let said = '';
          response.on('data', (part: Buffer) => {
            said += part.toString();
            if (!said.includes('data: ')) return;
            asked.destroy();
            resolve(said);
          });
          bench.advance(0);
        },
      );
      asked.on('error', reject).end();
    });
    expect(first).to.include('data: {"topic":"clock"}');
  });
});
