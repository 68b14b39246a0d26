import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import sharp from 'sharp';
import type { ClaimWire, NoteWire } from '../../src/contract/paperWire.ts';
import type { BenchWire } from '../../src/contract/wire.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

const PHONE = { width: 390, height: 844 };

/** A photograph as a phone takes it, larger than is kept. */
const photograph = async (name: string, red: number) => ({
  name: `${name}.jpg`,
  mimeType: 'image/jpeg',
  buffer: await sharp({
    create: { width: 2600, height: 1800, channels: 3, background: { r: red, g: 120, b: 90 } },
  })
    .jpeg()
    .toBuffer(),
});

describe('papers and pictures, as a technician makes them', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.demo();
  });
  after(() => bench.close());

  const jobOf = async (tag: string): Promise<string> => {
    const { body } = await bench.get<BenchWire>('/api/bench');
    return body.jobs.find((j) => j.battery.tag === tag)!.id;
  };
  const notesOf = async (tag: string) =>
    (await bench.get<{ notes: NoteWire[] }>(`/api/batteries/${tag}/notes`)).body.notes;
  const addPhotos = (t: Technician, ...files: Awaited<ReturnType<typeof photograph>>[]) =>
    t.page
      .locator('input[type="file"][multiple][aria-label="Add photos"]')
      .first()
      .setInputFiles(files);

  it('broken foil on a phone: refused, photographed twice, claimed, sent, its file fit to send', async () => {
    const t = await Technician.sitDown(bench, 'ilse', PHONE);
    await t.open(`/jobs/${await jobOf('LK-0413')}`);
    await t.step('Check the foil over the ports');
    await t.press('Broken');
    await t.press('Refuse this battery');
    await t.page.getByRole('dialog').getByRole('button', { name: 'Refuse it' }).click();
    await t.step(/Broken foil/);
    await addPhotos(t, await photograph('whole', 90), await photograph('close', 91));
    await t.page.locator('img[src*="/api/pictures/"]').nth(1).waitFor();
    await t.press('Open a claim');
    const dialog = t.page.getByRole('dialog');
    expect(await dialog.getByLabel('What is wrong').inputValue()).to.equal('foil');
    await dialog.getByLabel('Invoice or order').fill('F-2207');
    const bought = dialog.getByRole('group', { name: 'Bought on' });
    await bought.getByLabel('day').fill('3');
    await bought.getByLabel('month').selectOption('03');
    await bought.getByLabel('year').fill('2026');
    await dialog.getByRole('button', { name: 'Open claim' }).click();
    await t.page.getByRole('heading', { name: /^Claim 4/ }).waitFor();
    await t.page.locator('img[src*="/api/pictures/"]').nth(1).waitFor();
    const { claims } = (await bench.get<{ claims: ClaimWire[] }>('/api/claims')).body;
    const claim = claims.find((c) => c.tag === 'LK-0413')!;
    expect(claim.body).to.include({ cause: 'foil', boughtOn: '2026-03-03', invoice: 'F-2207' });
    const file = await fetch(`${bench.url}/api/claims/${claim.id}/claim.pdf`);
    const pdf = Buffer.from(await file.arrayBuffer()).toString('latin1');
    expect(pdf.startsWith('%PDF-')).to.equal(true);
    expect(pdf.match(/\/Type \/Page\b/g)?.length).to.be.within(1, 2);
    expect(pdf.match(/\/Subtype \/Image/g)?.length).to.be.at.least(2);
    await t.press('Mark as sent');
    await t.field('How and to whom, if you like').fill('By mail, to the counter');
    await t.press('Save');
    await t.sees('By mail, to the counter');
    await t.open(`/jobs/${await jobOf('LK-0413')}`);
    await t.page.getByRole('link', { name: 'Claim 4 · Sent' }).waitFor();
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('a note and a picture stand in the margin of a job, and are taken back with a reason', async () => {
    const t = await Technician.sitDown(bench, 'ilse');
    const id = await jobOf('LK-0409');
    await t.open(`/jobs/${id}`);
    const margin = t.page.getByRole('region', { name: 'Notes and pictures' });
    await margin.getByLabel('Note').fill('Left post a little loose');
    await margin.getByRole('button', { name: 'Save note' }).click();
    await margin.getByText('Left post a little loose').waitFor();
    await addPhotos(t, await photograph('post', 40));
    await margin.locator('img[src*="/api/pictures/"]').waitFor();
    await margin.getByRole('button', { name: 'Take back' }).click();
    await margin.getByLabel(/Why\?/).fill('It was the other battery');
    await margin.getByRole('button', { name: 'Take back' }).click();
    await margin.getByText('Left post a little loose').waitFor({ state: 'detached' });
    await margin.getByRole('button', { name: /Show what was taken back/ }).click();
    await margin.getByText('It was the other battery').waitFor();
    const notes = await notesOf('LK-0409');
    expect(notes.map((n) => [n.text, n.picture !== null, n.takenBack?.why ?? null])).to.deep.equal([
      ['Left post a little loose', false, 'It was the other battery'],
      ['', true, null],
    ]);
    expect(Math.max(notes[1]!.picture!.width, notes[1]!.picture!.height)).to.be.at.most(2000);
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('a note made before the page hears of changes is shown as soon as it does', async () => {
    const t = await Technician.sitDown(bench, 'ilse');
    await t.page.route('**/api/stream*', async (route) => {
      await new Promise((later) => setTimeout(later, 2500));
      await route.continue();
    });
    const id = await jobOf('LK-0409');
    await t.open(`/jobs/${id}`);
    await t.page.getByRole('region', { name: 'Notes and pictures' }).waitFor();
    await t.settled();
    const note = { by: 'tobin', text: 'Told by the owner: it was dropped', jobId: id };
    await bench.post('/api/batteries/LK-0409/notes', { commandId: randomUUID(), ...note });
    await t.sees(note.text);
    await t.leave();
  });

  it('a picture taken without a line waits in the browser, survives a reload, and goes once', async () => {
    const t = await Technician.sitDown(bench, 'ilse', PHONE);
    const id = await jobOf('LK-0411');
    await t.open(`/jobs/${id}`);
    await t.page.getByRole('region', { name: 'Notes and pictures' }).waitFor();
    await t.page.route('**/api/**/pictures?*', (route) => route.abort());
    await addPhotos(t, await photograph('one', 60), await photograph('two', 61));
    await t.page.getByText('On its way…').nth(1).waitFor();
    await t.page.reload();
    await t.page.getByText('On its way…').nth(1).waitFor();
    expect(await notesOf('LK-0411')).to.deep.equal([]);
    await t.page.unroute('**/api/**/pictures?*');
    await t.page.locator('img[src*="/api/pictures/"]').nth(1).waitFor();
    const kept = await notesOf('LK-0411');
    expect(kept).to.have.length(2);
    expect(new Set(kept.map((n) => n.picture!.name)).size).to.equal(2);
    await t.leave();
  });

  it('a print-out is photographed with its reading, large while it is typed, and stands on the sheet', async () => {
    const t = await Technician.sitDown(bench, 'ilse', PHONE);
    const id = await jobOf('LK-0401');
    await t.open(`/jobs/${id}`);
    await t.press(/^Analyser, CCA/);
    await t.page
      .locator('input[type="file"][multiple][aria-label="Photo of the print-out"]')
      .setInputFiles(await photograph('strip', 200));
    const large = t.page.getByAltText('Print-out');
    await large.waitFor();
    expect((await large.boundingBox())!.width).to.be.greaterThan(250);
    await t.read({ CCA: '291' });
    await t.step('Verdict');
    await t.page.getByRole('button', { name: 'Picture: Print-out' }).first().waitFor();
    const [note] = await notesOf('LK-0401');
    const { body } = await bench.get<BenchWire>('/api/bench');
    const { readings } = body.jobs.find((j) => j.id === id)!.state;
    expect(readings.find((r) => r.id === note!.readingId)?.values.ccaA).to.equal(291);
    await t.open(`/jobs/${id}/sheet`);
    await t.page.locator(`img[src*="${note!.picture!.name}"]`).waitFor();

    // Any other reading takes one too, at any time.
    await t.open(`/jobs/${id}`);
    await t.page
      .locator('input[multiple][aria-label^="Add a photo to the reading of"]')
      .nth(1)
      .setInputFiles(await photograph('meter', 210));
    await t.page.getByRole('button', { name: 'Picture: of this reading' }).waitFor();
    const second = (await notesOf('LK-0401')).find((n) => n.id !== note!.id)!;
    expect(readings.map((r) => r.id)).to.include(second.readingId);
    expect(second.readingId).to.not.equal(note!.readingId);
    await t.leave();
  });

  it('tells what fails, holds a model, and whoever takes one in is told', async () => {
    const t = await Technician.sitDown(bench, 'greta');
    await t.open('/records/failures');
    await t.sees(/Fails more often than the rest: model LF-A14/);
    await t.press('Supplier');
    await t.page
      .getByRole('row', { name: /Drovers Battery Supply/ })
      .getByText('Fails more than the others')
      .waitFor();
    await t.press('Model');
    await t.press('Put on hold LF-A20');
    await t.page.getByRole('dialog').getByLabel('Reason').fill('Wait for the new date code');
    await t.page.getByRole('dialog').getByRole('button', { name: 'Put on hold' }).click();
    await t.page.getByRole('dialog').waitFor({ state: 'detached' });
    await t.open('/shelf');
    await t.page.getByText('on hold').first().waitFor();
    await t.leave();
  });

  it('shows what each route brought, and narrows it down', async () => {
    const t = await Technician.sitDown(bench, 'greta');
    await t.open('/records/recoveries');
    const rows = t.page.locator('tbody tr');
    await rows.nth(2).waitFor();
    await t.settled();
    const before = await rows.count();
    await t.field('Kind of battery').selectOption({ index: 1 });
    await rows.nth(before - 1).waitFor({ state: 'detached' });
    await t.sees(/one case: proves nothing|few cases: read with care/);
    await t.leave();
  });
});
