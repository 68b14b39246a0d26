import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { expect } from 'chai';
import { copyDemo } from './demoFile.ts';
import { type Running, startRack, startServer } from './serverProcess.ts';

/** Asks a server: GET without a body, POST with one. */
export const asks =
  ({ url }: Pick<Running, 'url'>) =>
  (path: string, body?: unknown): Promise<Response> =>
    fetch(
      url + path,
      body === undefined
        ? {}
        : {
            method: 'POST',
            headers: { 'Content-Type': 'application/json' },
            body: typeof body === 'string' ? body : JSON.stringify(body),
          },
    );

/**
 * The demo on its own server and stand-in instruments, each in processes of their own, and one charge begun.
 *
 * @param folder an empty one, for its data
 */
export async function startCharging(folder: string) {
  await mkdir(join(folder, 'demo'));
  const file = join(folder, 'demo', 'bench.sqlite');
  const [story] = await copyDemo(file);
  const { jobId, by, place } = story!;
  const rack = await startRack();
  const options = ['--data', folder, '--port', '0', '--rack', String(rack.port)];
  const server = await startServer(options);
  const begun = await asks(server)(`/api/jobs/${jobId}/live`, {
    commandId: randomUUID(),
    by,
    stepId: 'charge',
    place,
    charge: 0.8,
  });
  expect(begun.status).to.equal(201);
  const { chargeId } = (await begun.json()) as { chargeId: string };
  return { file, rack, server, options, jobId, chargeId, by };
}
