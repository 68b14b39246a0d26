import { createHash, randomUUID } from 'node:crypto';
import { readdir, readFile, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { expect } from 'chai';
import sharp from 'sharp';
import type { ClaimWire, NoteWire, PictureRoom } from '../../src/contract/paperWire.ts';
import type { Failures } from '../../src/core/results/failures.ts';
import { readArchive } from '../../src/server/archive/readArchive.ts';
import { writeArchive } from '../../src/server/archive/archive.ts';
import { backUp, restore } from '../../src/server/store/backups.ts';
import { pictureFolder } from '../../src/server/store/pictureFiles.ts';
import { idOf } from '../../src/server/store/fileFaults.ts';
import { TestBench } from '../support/bench.ts';

const hash = (data: Uint8Array) => createHash('sha256').update(data).digest('hex');

/** A photograph as a phone writes it: large, turned on its side, with the place where it was taken. */
const photograph = (red: number): Promise<Buffer> =>
  sharp({
    create: { width: 3000, height: 1500, channels: 3, background: { r: red, g: 90, b: 60 } },
  })
    .withExif({
      IFD0: { Make: 'A phone' },
      IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '47/1 30/1 0/1' },
    })
    .withMetadata({ orientation: 6 })
    .jpeg()
    .toBuffer();

describe('papers and pictures', () => {
  let bench: TestBench;
  let jobId: string;
  before(async () => {
    bench = await TestBench.open();
    const modelId = await bench.addModel({ kind: 'agm-dry' });
    jobId = await bench.takeIn(modelId, 'LK-0001');
  });
  after(() => bench.close());

  const send = async (
    sent: Uint8Array,
    query: Record<string, string> = {},
    commandId = randomUUID(),
  ) => {
    const asked = new URLSearchParams({ commandId, by: 'ann', ...query });
    const response = await fetch(`${bench.url}/api/batteries/LK-0001/pictures?${asked}`, {
      method: 'POST',
      headers: { 'Content-Type': 'image/jpeg' },
      body: sent as never,
    });
    return { status: response.status, body: (await response.json()) as never };
  };
  const notes = async () =>
    (await bench.get<{ notes: NoteWire[] }>('/api/batteries/LK-0001/notes')).body.notes;
  const write = (fields: object) => ({ commandId: randomUUID(), by: 'ann', ...fields });

  it('keeps a photograph upright, shrunk, and without where or with what it was taken', async () => {
    const { status, body } = await send(await photograph(200), { jobId, text: 'left port' });
    expect(status).to.equal(201);
    const [note] = await notes();
    expect(note?.picture).to.include({ width: 1000, height: 2000 });
    const { name } = body as { name: string };
    const kept = Buffer.from(
      await (await fetch(`${bench.url}/api/pictures/${name}`)).arrayBuffer(),
    );
    expect(`${hash(kept)}.jpg`).to.equal(name);
    const { format, exif, orientation } = await sharp(kept).metadata();
    expect({ format, exif, orientation }).to.deep.equal({
      format: 'jpeg',
      exif: undefined,
      orientation: undefined,
    });
    const small = Buffer.from(
      await (await fetch(`${bench.url}/api/pictures/${name}?size=small`)).arrayBuffer(),
    );
    expect((await sharp(small).metadata()).height).to.equal(360);
  });

  it('keeps a picture once, however often it is sent, and two notes of one picture as one file', async () => {
    const sent = await photograph(10);
    const id = randomUUID();
    const first = await send(sent, {}, id);
    const before = (await notes()).length;
    expect(await send(sent, {}, id)).to.deep.equal(first);
    expect((await notes()).length).to.equal(before);
    await send(sent, { text: 'again' });
    expect((await notes()).length).to.equal(before + 1);
    expect(
      (await readdir(pictureFolder(bench.file))).filter((f) => !f.includes('small')),
    ).to.have.length(2);
  });

  it('judges by content: a drawing, a page and half a photograph are turned away, and nothing of them is kept', async () => {
    const whole = await photograph(77);
    const before = await readdir(pictureFolder(bench.file));
    for (const sent of [
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'),
      Buffer.from('<script>alert(1)</script>'),
      whole.subarray(0, whole.length / 2),
      Buffer.alloc(0),
    ])
      expect((await send(sent)).status, String(sent.subarray(0, 12))).to.equal(422);
    expect((await send(Buffer.alloc(21 * 1024 * 1024))).status).to.equal(413);
    expect(await readdir(pictureFolder(bench.file))).to.deep.equal(before);
    expect((await fetch(`${bench.url}/api/pictures/..%2Fbench.sqlite`)).status).to.equal(400);
  });

  it('says how much room there is, and stops at the end of it', async () => {
    const { body } = await bench.get<PictureRoom>('/api/pictures');
    expect(body.count).to.equal(2);
    expect(body.roomBytes).to.equal(5e9);
    const shop = (await bench.get<{ rules: object; rulesVersion: string }>('/api/shop')).body;
    const told = await bench.ask('PUT', '/api/shop/rules', {
      commandId: randomUUID(),
      by: 'lea',
      version: shop.rulesVersion,
      rules: { ...shop.rules, picturesGb: 0.1 },
    });
    expect(told.status).to.equal(200);
    await bench.store.sequelize.query(
      `UPDATE notes SET picture = json_set(picture, '$.bytes', 100000000) WHERE text = 'again'`,
    );
    const full = await send(await photograph(3));
    expect(full.status).to.equal(413);
    expect(JSON.stringify(full.body)).to.contain('House rules');
  });

  it('takes a note back with a reason; it stays on record', async () => {
    const { body } = await bench.post<{ id: string }>(
      '/api/batteries/LK-0001/notes',
      write({ text: 'sounds hollow', jobId }),
    );
    expect(
      (await bench.post(`/api/notes/${body.id}/taking-back`, write({ why: '' }))).status,
    ).to.equal(400);
    await bench.post(`/api/notes/${body.id}/taking-back`, write({ why: 'other battery' }));
    const note = (await notes()).find((n) => n.id === body.id);
    expect(note).to.deep.include({ text: 'sounds hollow' });
    expect(note?.takenBack).to.include({ by: 'ann', why: 'other battery' });
    expect(
      (await bench.post(`/api/notes/${body.id}/taking-back`, write({ why: 'again' }))).status,
    ).to.equal(409);
  });

  it('lets no note be about another battery’s job', async () => {
    const { status } = await bench.post(
      '/api/batteries/LK-0001/notes',
      write({ text: 'x', jobId: randomUUID() }),
    );
    expect(status).to.equal(404);
  });

  const facts = {
    cause: 'foil',
    what: 'Foil torn over port 3.',
    supplier: 'Valley Wholesale',
    boughtOn: '2026-02-20',
    invoice: 'VW 118',
    asks: 'replacement',
    sendBy: '',
  };

  it('leads a refused battery to a claim: opened, sent, refused, sent again, settled', async () => {
    const claim = () => bench.post('/api/batteries/LK-0001/claims', write({ jobId, claim: facts }));
    // Counted once and kept: what changes is counted anew.
    const failed = async () => (await bench.get<Failures>('/api/failures')).body;
    expect((await failed()).all.of).to.equal(0);
    expect((await claim()).status, 'while it is worked on').to.equal(409);
    await bench.send(jobId, {
      type: 'answerChecks',
      stepId: 'identify',
      answers: { case: true, posts: true, label: true },
    });
    const { job } = (
      await bench.send(jobId, {
        type: 'answerChecks',
        stepId: 'foil',
        answers: { foil: false },
      })
    ).body;
    expect(job.state.status).to.equal('refused');
    const refused = await failed();
    expect([refused.all.hits, refused.all.of, refused.by.supplier]).to.deep.equal([1, 1, []]);
    const opened = await claim();
    expect(opened.status).to.equal(201);
    expect((await failed()).by.supplier.map((s) => s.key)).to.deep.equal(['Valley Wholesale']);
    expect((await claim()).status, 'one at a time').to.equal(409);
    const { id } = opened.body as unknown as { id: string };
    const change = (fields: object) =>
      bench.ask('PUT', `/api/claims/${id}`, write({ text: '', ...fields }));
    expect((await change({ status: 'settled', text: 'too early' })).status).to.equal(409);
    expect((await change({ claim: { ...facts, invoice: 'VW 119' } })).status).to.equal(200);
    expect((await change({ status: 'sent' })).status).to.equal(200);
    expect((await change({ claim: facts })).status, 'as it was sent').to.equal(409);
    expect((await change({ status: 'refused' })).status, 'with an answer').to.equal(422);
    for (const [status, text] of [
      ['refused', 'They ask for a picture.'],
      ['sent', 'With two pictures.'],
      ['settled', 'Another one came.'],
    ])
      expect((await change({ status, text })).status).to.equal(200);
    const { claims } = (await bench.get<{ claims: ClaimWire[] }>('/api/claims')).body;
    expect(claims[0]).to.deep.include({ number: 1, tag: 'LK-0001', status: 'settled' });
    expect(claims[0]?.history.map((h) => h.status)).to.deep.equal([
      'open',
      'sent',
      'refused',
      'sent',
      'settled',
    ]);
    const csv = await (await fetch(`${bench.url}/api/claims/list.csv`)).text();
    expect(csv).to.contain('1,LK-0001').and.to.contain('VW 119').and.to.contain('Settled');
    const pdf = Buffer.from(
      await (await fetch(`${bench.url}/api/claims/${id}/claim.pdf`)).arrayBuffer(),
    );
    expect(pdf.subarray(0, 5).toString()).to.equal('%PDF-');
    expect(pdf.toString('latin1').match(/\/Type \/Page\b/g)?.length ?? 0).to.be.within(1, 2);
  });

  it('counts what failed, and puts a model on hold by a lead only', async () => {
    const { body } = await bench.get<Failures>('/api/failures');
    expect(body.all).to.include({ hits: 1, of: 1 });
    expect(body.by.supplier[0]).to.include({ key: 'Valley Wholesale', failed: 1, says: 'too-few' });
    const code = body.by.model[0]?.key;
    const hold = { what: 'model', code, why: 'Three with torn foil.' };
    expect((await bench.post('/api/holds', write(hold))).status).to.equal(403);
    const put = await bench.post<{ id: string }>('/api/holds', write({ ...hold, by: 'lea' }));
    expect(put.status).to.equal(201);
    expect((await bench.post('/api/holds', write({ ...hold, by: 'lea' }))).status).to.equal(409);
    const lifted = await bench.post(
      `/api/holds/${put.body.id}/lifting`,
      write({ by: 'lea', why: 'New foil since May.' }),
    );
    expect(lifted.status).to.equal(200);
  });

  it('carries every picture in backup, restore and archive', async () => {
    const folder = pictureFolder(bench.file);
    const hashes = async (from: string) =>
      Promise.all(
        (await readdir(from))
          .sort()
          .map(async (f) => `${f} ${hash(await readFile(join(from, f)))}`),
      );
    const kept = await hashes(folder);
    expect(kept.length).to.be.greaterThan(3);
    const copy = join(bench.folder, 'copy.sqlite');
    await idOf(bench.store.sequelize);
    await backUp(bench.file, copy);
    const restored = join(bench.folder, 'restored', 'bench.sqlite');
    await restore(restored, copy);
    expect(await hashes(pictureFolder(restored))).to.deep.equal(kept);

    const zip = join(bench.folder, 'shop.zip');
    await writeArchive(bench.store, zip);
    const archived = join(bench.folder, 'archived', 'bench.sqlite');
    await readArchive(zip, archived);
    expect(await hashes(pictureFolder(archived))).to.deep.equal(kept);
    for (const file of [restored, archived]) await rm(dirname(file), { recursive: true });
  });
});
