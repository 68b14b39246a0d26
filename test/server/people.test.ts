import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import { type Endpoint, ENDPOINTS } from '../../src/contract/endpoints.ts';
import type { SignInState } from '../../src/contract/wire.ts';
import { createSignIn, hashPin } from '../../src/server/resources/people/signIn.ts';
import { TestBench } from '../support/bench.ts';

const PIN = '4711';

describe('a bench reached from other machines', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.open();
    await bench.store.tables.people.update({ pinHash: await hashPin(PIN) }, { where: { id: 'lea' } });
    await bench.stop();
    bench.wide = true;
    await bench.start();
  });
  after(() => bench.close());

  const signIn = (personId: string, pin: string) =>
    fetch(`${bench.url}/api/sign-in`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ personId, pin }) });
  const cookieOf = (response: Response) => (response.headers.get('set-cookie') ?? '').split(';')[0] ?? '';

  for (const { method, path, open } of Object.values(ENDPOINTS) as Endpoint[])
    if (!open)
      it(`gives nothing at ${method.toUpperCase()} ${path} to somebody who has not signed in`, async () => {
        const at = path.replace(':tag', 'T-101').replace(':id', randomUUID()).replace(':code', 'B1');
        const body = method === 'get' ? undefined : { commandId: randomUUID(), by: 'lea' };
        const answer = await bench.ask(method.toUpperCase(), at, body);
        expect(answer.status).to.equal(401);
        expect(answer.body.error.message).to.equal('Sign in first.');
      });

  it('tells who may sign in, and nothing of their PINs', async () => {
    const { body } = await bench.get<SignInState>('/api/sign-in');
    expect(body).to.include({ required: true, personId: null });
    expect(body.people.map((p) => [p.id, p.hasPin])).to.deep.equal([
      ['ann', false],
      ['lea', true],
    ]);
    expect(JSON.stringify(body)).to.not.include('Hash');
    expect(await (await fetch(`${bench.url}/`)).text()).to.include('<div id="root">');
  });
  it('opens with the right PIN, in a cookie no script can read, until it is signed out', async () => {
    const response = await signIn('lea', PIN);
    expect(response.status).to.equal(200);
    expect(response.headers.get('set-cookie')).to.include('HttpOnly').and.include('SameSite=Strict');
    const headers = { Cookie: cookieOf(response) };
    expect((await bench.ask('GET', '/api/shop', undefined, headers)).status).to.equal(200);
    const stored = await bench.store.tables.sessions.findAll({ raw: true });
    expect(JSON.stringify(stored)).to.not.include(headers.Cookie.split('=')[1]);
    await bench.ask('POST', '/api/sign-out', {}, headers);
    expect((await bench.ask('GET', '/api/shop', undefined, headers)).status).to.equal(401);
  });
  it('lets nobody sign for somebody else, nor a page of another site write', async () => {
    const headers = { Cookie: cookieOf(await signIn('lea', PIN)) };
    const body = { commandId: randomUUID(), by: 'ann', person: { name: 'X', initials: 'X', role: 'lead' } };
    expect((await bench.post('/api/people', body, headers)).body.error.message).to.include('somebody else');
    expect((await bench.post('/api/people', { ...body, by: 'lea' }, { ...headers, Origin: 'http://elsewhere.test' })).status).to.equal(403);
  });
  it('says no to a wrong PIN, a person without one, and a person who is nobody, alike', async () => {
    // Each from an address of its own: three wrong tries from one would have to wait.
    const door = createSignIn(bench.store, true);
    const attempt = (personId: string, pin: string) =>
      door.signIn({ ip: randomUUID(), headers: {} } as never, { setHeader: () => undefined } as never, { personId, pin }).then(
        () => 'in',
        (error: Error) => error.message,
      );
    for (const [person, pin] of [
      ['lea', '0000'],
      ['ann', PIN],
      ['nobody', PIN],
    ] as const)
      expect(await attempt(person, pin)).to.equal('That PIN is not right.');
    expect((await signIn('lea', '0000')).status).to.equal(401);
  });
  it('slows down whoever guesses', async () => {
    let real = 1_000_000;
    const door = createSignIn(bench.store, true, () => real);
    const attempt = async (pin: string): Promise<number> => {
      const response = { setHeader: () => undefined, cookie: () => undefined } as never;
      try {
        await door.signIn({ ip: '10.0.0.9', headers: {} } as never, response, { personId: 'lea', pin });
        return 200;
      } catch (error) {
        return (error as { status: number }).status;
      }
    };
    expect([await attempt('1'), await attempt('2'), await attempt('3')]).to.deep.equal([401, 401, 401]);
    expect(await attempt(PIN), 'even the right one has to wait').to.equal(429);
    real += 1500;
    expect(await attempt('4')).to.equal(401);
    real += 1500;
    expect(await attempt(PIN), 'the wait has doubled').to.equal(429);
    real += 1000;
    expect(await attempt(PIN)).to.equal(200);
    expect(await attempt('5'), 'and is forgotten after a success').to.equal(401);
  });
  it('ends a session after half a day, and all of a person’s with a new PIN', async () => {
    let real = Date.now();
    const door = createSignIn(bench.store, true, () => real);
    const headers = { cookie: cookieOf(await signIn('lea', PIN)) };
    expect((await door.state({ headers } as never)).personId).to.equal('lea');
    real += 13 * 3_600_000;
    expect((await door.state({ headers } as never)).personId).to.equal(null);
    const again = { Cookie: cookieOf(await signIn('lea', PIN)) };
    const set = await bench.post('/api/people/lea/pin', { commandId: randomUUID(), by: 'lea', pin: '998877' }, again);
    expect(set.status).to.equal(200);
    expect((await bench.ask('GET', '/api/shop', undefined, again)).status).to.equal(401);
    expect((await signIn('lea', PIN)).status).to.equal(401);
    expect((await signIn('lea', '998877')).status).to.equal(200);
    const kept = await bench.store.tables.commands.findAll({ raw: true });
    expect(JSON.stringify([kept, await bench.store.tables.events.findAll({ raw: true })])).to.not.include('998877');
  });
  it('gives the calendar to whoever has its own address, and to nobody else', async () => {
    const headers = { Cookie: cookieOf(await signIn('lea', '998877')) };
    const { body } = await bench.ask<{ path: string }>('GET', '/api/calendar', undefined, headers);
    expect((await bench.get<string>(body.path)).body).to.include('BEGIN:VCALENDAR');
    expect((await bench.get('/api/calendar.ics?token=guess')).status).to.equal(401);
  });
});

describe('on this machine alone', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  it('a tap on the name is enough; a PIN is set by oneself or a lead', async () => {
    expect((await bench.get<SignInState>('/api/sign-in')).body.required).to.equal(false);
    const set = (id: string, by: string, pin = '123456') => bench.post(`/api/people/${id}/pin`, { commandId: randomUUID(), by, pin });
    expect((await set('lea', 'ann')).status).to.equal(403);
    expect((await set('ann', 'lea')).status).to.equal(200);
    expect((await set('ann', 'ann')).status).to.equal(200);
    expect((await set('ann', 'ann', '12')).body.error.message).to.include('Four to ten digits');
    expect((await set('nobody', 'lea')).status).to.equal(404);
  });
});
