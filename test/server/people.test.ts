import { randomUUID } from 'node:crypto';
import { get as httpGet, request as httpRequest } from 'node:http';
import { expect } from 'chai';
import { type Endpoint, ENDPOINTS } from '../../src/contract/endpoints.ts';
import { easyPin } from '../../src/contract/shopSchemas.ts';
import type { Shop, SignInState } from '../../src/contract/wire.ts';
import { hashPin } from '../../src/server/door/pins.ts';
import { SESSION_MS, Sessions } from '../../src/server/door/sessions.ts';
import { Tries } from '../../src/server/door/tries.ts';
import { TestBench } from '../support/bench.ts';

const PIN = '4711';
const ENDPOINT_LIST = Object.values(ENDPOINTS) as Endpoint[];

/** An address as somebody would write it who wants past a guard that reads it carelessly. */
const SPELLINGS: Record<string, (path: string) => string> = {
  'as it is': (p) => p,
  'in capitals': (p) => p.toUpperCase(),
  'its first part in capitals': (p) => p.replace('/api', '/API'),
  'one letter large': (p) => p.replace('/api', '/aPi'),
  'with a slash more': (p) => `/${p}`,
  'with a slash within': (p) => p.replace('/api/', '/api//'),
  'with a slash behind': (p) => `${p}/`,
  'a letter encoded': (p) => p.replace('/api', '/%61pi'),
  'its slash encoded': (p) => p.replace('/api/', '/api%2f'),
  'by way of a dot': (p) => p.replace('/api/', '/api/./'),
  'by way of a detour': (p) => p.replace('/api/', '/x/../api/'),
  'with a semicolon': (p) => p.replace('/api/', '/api;x/'),
  'with a backslash': (p) => p.replace('/api/', '/api\\'),
};

describe('a bench reached from other machines', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.open();
    const pinHash = await hashPin(PIN);
    await bench.store.tables.people.update({ pinHash }, { where: {} });
    await bench.stop();
    bench.wide = true;
    await bench.start();
  });
  after(() => bench.close());

  const signIn = (personId: string, pin: string, headers: Record<string, string> = {}) =>
    fetch(`${bench.url}/api/sign-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...headers },
      body: JSON.stringify({ personId, pin }),
    });
  const cookiesOf = (response: Response) =>
    response.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
  const inAs = async (personId: string, pin = PIN) => ({
    Cookie: cookiesOf(await signIn(personId, pin)),
  });

  /** Sends a path as it is written; `fetch` would put it right first. */
  const raw = (
    method: string,
    path: string,
    headers: Record<string, string>,
    body?: unknown,
  ): Promise<{ status: number; text: string }> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(bench.url);
      const sent = httpRequest(
        {
          hostname,
          port,
          method,
          path,
          headers: { ...headers, 'Content-Type': 'application/json' },
        },
        (response) => {
          let text = '';
          response.on('data', (part) => (text += String(part)));
          response.on('end', () => resolve({ status: response.statusCode ?? 0, text }));
        },
      );
      sent.on('error', reject);
      sent.end(body === undefined ? undefined : JSON.stringify(body));
    });
  const addressOf = ({ path }: Endpoint) =>
    path.replace(':tag', 'T-101').replace(':id', randomUUID()).replace(':code', 'B1');

  it('gives nothing at any address, however it is spelt, to somebody who has not signed in', async () => {
    let asked = 0;
    for (const endpoint of ENDPOINT_LIST)
      for (const [how, spell] of Object.entries(SPELLINGS)) {
        if (endpoint.open && how === 'as it is') continue;
        const path = spell(addressOf(endpoint));
        const body =
          endpoint.method === 'get'
            ? undefined
            : { commandId: randomUUID(), by: 'lea', personId: 'lea', pin: 'x' };
        const { status, text } = await raw(endpoint.method.toUpperCase(), path, {}, body);
        asked += 1;
        // At most the page that everybody gets, with nothing of the shop in it.
        const isPage =
          status === 200 &&
          endpoint.method === 'get' &&
          how !== 'as it is' &&
          text.includes('<div id="root">');
        if (!isPage)
          expect(status, `${endpoint.method} ${path}, ${how}`).to.be.oneOf(
            how === 'as it is' ? [401] : [401, 404],
          );
        expect(text).to.not.include('Lea Test');
      }
    expect(asked).to.be.at.least(700);
  });

  it('answers nobody by a name that is not its own', async () => {
    const headers = await inAs('lea');
    expect((await raw('GET', '/api/shop', headers)).status).to.equal(200);
    expect((await raw('GET', '/api/shop', { ...headers, Host: 'evil.example' })).status).to.equal(
      403,
    );
    expect((await raw('GET', '/', { ...headers, Host: 'evil.example' })).status).to.equal(403);
    expect(
      (await raw('GET', '/api/shop', { ...headers, Host: '192.168.1.7:4700' })).status,
    ).to.equal(200);
  });

  it('lets only a lead do what only a lead may', async () => {
    const [ann, lea] = [await inAs('ann'), await inAs('lea')];
    for (const endpoint of ENDPOINT_LIST.filter((e) => e.lead)) {
      const send = (headers: Record<string, string>, by: string) =>
        raw(endpoint.method.toUpperCase(), addressOf(endpoint), headers, {
          commandId: randomUUID(),
          by,
        });
      expect((await send(ann, 'ann')).status, endpoint.path).to.equal(403);
      expect((await send(lea, 'lea')).status, endpoint.path).to.equal(400);
    }
    const { rules, rulesVersion: version } = (
      await bench.ask<Shop>('GET', '/api/shop', undefined, ann)
    ).body;
    expect(
      (
        await bench.ask(
          'PUT',
          '/api/shop/rules',
          { commandId: randomUUID(), by: 'ann', version, rules },
          ann,
        )
      ).status,
    ).to.equal(403);
  });

  it('tells who may sign in, and nothing of their PINs', async () => {
    const { body } = await bench.get<SignInState>('/api/sign-in');
    expect(body).to.include({ required: true, personId: null });
    expect(body.people.map((p) => [p.id, p.hasPin])).to.deep.equal([
      ['ann', true],
      ['lea', true],
    ]);
    expect(JSON.stringify(body)).to.not.match(/Hash|oken/);
    expect(await (await fetch(`${bench.url}/`)).text()).to.include('<div id="root">');
  });

  it('opens with the right PIN, in a cookie no script can read, until it is signed out', async () => {
    const response = await signIn('lea', PIN);
    expect(response.status).to.equal(200);
    for (const cookie of response.headers.getSetCookie())
      expect(cookie).to.include('HttpOnly').and.include('SameSite=Strict');
    const headers = { Cookie: cookiesOf(response) };
    expect((await bench.ask('GET', '/api/shop', undefined, headers)).status).to.equal(200);
    const stored = JSON.stringify([
      await bench.store.tables.sessions.findAll({ raw: true }),
      await bench.store.tables.devices.findAll({ raw: true }),
    ]);
    for (const part of headers.Cookie.split('; '))
      expect(stored).to.not.include(part.split('=')[1]);
    await bench.ask('POST', '/api/sign-out', {}, headers);
    expect((await bench.ask('GET', '/api/shop', undefined, headers)).status).to.equal(401);
  });

  it('lets nobody sign for somebody else, nor a page of another site write', async () => {
    const headers = await inAs('lea');
    const body = {
      commandId: randomUUID(),
      by: 'ann',
      person: { name: 'X', initials: 'X', role: 'lead' },
    };
    expect((await bench.post('/api/people', body, headers)).body.error.message).to.include(
      'somebody else',
    );
    expect(
      (
        await bench.post(
          '/api/people',
          { ...body, by: 'lea' },
          { ...headers, Origin: 'http://elsewhere.test' },
        )
      ).status,
    ).to.equal(403);
  });

  it('a session lasts while it is used, ends half a day after its last use, and its open lines end with it', async () => {
    let machine = 1_000_000_000_000;
    const sessions = new Sessions(bench.store, false, () => machine);
    const set: string[] = [];
    await sessions.open(
      'lea',
      { headers: {} } as never,
      { cookie: (name: string, value: string) => set.push(`${name}=${value}`) } as never,
    );
    const request = { headers: { cookie: set.join('; ') } } as never;
    for (let i = 0; i < 3; i++) {
      machine += SESSION_MS - 1000;
      expect((await sessions.of(request))?.personId).to.equal('lea');
    }
    let over = 0;
    sessions.whenOver((await sessions.of(request))!, 5, () => (over += 1));
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(over).to.equal(0);
    machine += SESSION_MS;
    expect(await sessions.of(request)).to.equal(null);
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(over).to.equal(1);
  });

  it('a page that was signed out hears nothing more', async () => {
    const headers = await inAs('ann');
    const ended = new Promise<string>((resolve) => {
      let heard = '';
      httpGet(`${bench.url}/api/stream`, { headers }, (response) => {
        response.on('data', (part) => (heard += String(part)));
        response.on('end', () => resolve(heard));
      });
    });
    await new Promise((resolve) => setTimeout(resolve, 50));
    bench.advance(1000);
    await bench.ask('POST', '/api/sign-out', {}, headers);
    bench.advance(1000);
    const heard = await ended;
    expect(heard.match(/"topic":"clock"/g)).to.have.length(1);
  });

  it('sets a PIN once, ends every session of its person, and keeps no trace of it', async () => {
    const again = await inAs('lea');
    const body = { commandId: randomUUID(), by: 'lea', pin: '998875' };
    const set = (more = {}, headers = again) =>
      bench.post('/api/people/lea/pin', { ...body, ...more }, headers);
    expect((await set()).status).to.equal(200);
    expect((await bench.ask('GET', '/api/shop', undefined, again)).status).to.equal(401);
    expect((await signIn('lea', PIN)).status).to.equal(401);
    const fresh = await inAs('lea', '998875');
    expect((await set({}, fresh)).status, 'a retry').to.equal(200);
    expect((await set({ pin: '271828' }, fresh)).status, 'the same id with another PIN').to.equal(
      409,
    );
    expect((await bench.ask('GET', '/api/shop', undefined, fresh)).status).to.equal(200);
    const kept = await bench.store.tables.commands.findAll({ raw: true });
    expect(
      JSON.stringify([kept, await bench.store.tables.events.findAll({ raw: true })]),
    ).to.not.include('998875');
    expect((await set({ commandId: randomUUID(), pin: PIN }, fresh)).status).to.equal(200);
  });

  it('gives everybody a calendar address of their own, a new one when asked, none any more when they have left', async () => {
    const [ann, lea] = [await inAs('ann'), await inAs('lea')];
    const address = async (headers: { Cookie: string }, by: string, renew = false) =>
      (
        await bench.ask<{ path: string }>(
          'POST',
          '/api/calendar/address',
          { commandId: randomUUID(), by, renew },
          headers,
        )
      ).body.path;
    const status = async (path: string) => (await bench.get<string>(path)).status;
    const first = await address(ann, 'ann');
    expect(await address(ann, 'ann')).to.equal(first);
    expect(await address(lea, 'lea')).to.not.equal(first);
    expect(
      (
        await bench.ask(
          'POST',
          '/api/calendar/address',
          { commandId: randomUUID(), by: 'ann', renew: false },
          lea,
        )
      ).status,
      'somebody else’s',
    ).to.equal(403);
    const second = await address(ann, 'ann', true);
    expect([
      await status(first),
      await status(second),
      await status('/api/calendar.ics'),
      await status('/api/calendar.ics?token=guess'),
    ]).to.deep.equal([401, 200, 401, 401]);

    const say = (active: boolean, id = 'ann') =>
      bench.ask(
        'POST',
        `/api/people/${id}/active`,
        { commandId: randomUUID(), by: 'lea', active },
        lea,
      );
    expect((await say(false)).status).to.equal(200);
    expect(await status(second)).to.equal(401);
    expect((await bench.ask('GET', '/api/shop', undefined, ann)).status).to.equal(401);
    expect((await signIn('ann', PIN)).status).to.equal(401);
    expect((await say(false, 'lea')).body.error.message).to.include('last lead');
    expect((await say(true)).status).to.equal(200);
    expect((await bench.ask('GET', '/api/shop', undefined, await inAs('ann'))).status).to.equal(
      200,
    );
    expect(await status(second), 'its address stays ended').to.equal(401);
  });

  it('a burst of guesses finds nothing: they count before they are worked out, and one at a time', async () => {
    const guesses = Array.from({ length: 400 }, (_, i) => String(1000 + i));
    guesses.push(PIN);
    const began = performance.now();
    const answers = await Promise.all(
      guesses.map(
        async (pin) =>
          (await signIn('lea', pin, { 'X-Forwarded-For': `10.0.0.${pin.slice(-2)}` })).status,
      ),
    );
    // Three are free; on a busy machine a wait of 1, 2 or 4 s may be over before the last has been turned away.
    const waited = Math.floor(Math.log2(1 + (performance.now() - began) / 1000));
    expect(answers.filter((s) => s === 401).length).to.be.at.most(3 + waited);
    expect(answers.filter((s) => s === 200)).to.deep.equal([]);
  });
});

describe('wrong PINs', () => {
  const outcome = (
    t: Tries,
    person: string,
    place: { device: string | null; address: string },
    right = false,
  ): 'in' | 'wrong' | 'wait' => {
    const attempt = t.begin(person, place);
    if (typeof attempt === 'number') return 'wait';
    if (right) attempt.right();
    else attempt.wrong();
    return right ? 'in' : 'wrong';
  };
  const from = (address: string, device: string | null = null) => ({ address, device });

  it('cost a wait that doubles, up to a quarter of an hour, forgotten after a success', () => {
    let now = 0;
    const t = new Tries(() => now);
    const here = from('10.0.0.9');
    expect([1, 2, 3].map(() => outcome(t, 'lea', here))).to.deep.equal(['wrong', 'wrong', 'wrong']);
    expect(outcome(t, 'lea', here, true), 'even the right one has to wait').to.equal('wait');
    now += 1001;
    expect(outcome(t, 'lea', here)).to.equal('wrong');
    now += 1001;
    expect(outcome(t, 'lea', here, true), 'the wait has doubled').to.equal('wait');
    for (let i = 0; i < 20; i++) {
      now += 16 * 60_000;
      expect(outcome(t, 'lea', here), 'never longer than a quarter of an hour').to.equal('wrong');
    }
    now += 16 * 60_000;
    expect(outcome(t, 'lea', here, true)).to.equal('in');
    expect([1, 2, 3].map(() => outcome(t, 'lea', here))).to.deep.equal(['wrong', 'wrong', 'wrong']);
  });

  it('from elsewhere lock nobody out of a device that is known, nor of another address', () => {
    const t = new Tries(() => 0);
    for (let i = 0; i < 50; i++) outcome(t, 'lea', from('10.0.0.66'));
    expect(outcome(t, 'lea', from('10.0.0.66'), true)).to.equal('wait');
    expect(outcome(t, 'lea', from('10.0.0.5'), true)).to.equal('in');
    expect(outcome(t, 'lea', from('10.0.0.66', 'her tablet'), true)).to.equal('in');
    // A device that is known has its own tries, and no more of them.
    for (let i = 0; i < 5; i++) outcome(t, 'lea', from('10.0.0.5', 'her tablet'));
    expect(outcome(t, 'lea', from('10.0.0.5', 'her tablet'), true)).to.equal('wait');
  });

  it('from very many addresses find no more than from a few, and a known device is let in all the while', () => {
    let now = 0;
    const t = new Tries(() => now);
    let tried = 0;
    for (let hour = 0; hour < 24; hour++) {
      for (let i = 0; i < 5000; i++)
        if (outcome(t, 'lea', from(`10.${i >> 8}.${i & 255}.${hour}`)) === 'wrong') tried += 1;
      now += 3_600_000;
    }
    // A PIN of four digits has 10,000: a day of it finds one in two hundred.
    expect(tried).to.be.at.most(60);
    expect(outcome(t, 'lea', from('10.0.0.5', 'her tablet'), true)).to.equal('in');
  });

  it('one address cannot try one person after another for ever, nor hide behind addresses of its own network', () => {
    const t = new Tries(() => 0);
    const tried = Array.from({ length: 40 }, (_, i) =>
      outcome(t, `p${i}`, from(`2001:db8:1:2::${i}`)),
    );
    expect(tried.filter((o) => o === 'wrong')).to.have.length(12);
    expect(outcome(t, 'p99', from('2001:db8:1:3::1'))).to.equal('wrong');
    expect(outcome(t, 'p98', from('::ffff:10.0.0.1'))).to.equal('wrong');
  });

  it('a try that is being worked out keeps the next one waiting', () => {
    const t = new Tries(() => 0);
    const first = t.begin('lea', from('10.0.0.9'));
    expect(t.begin('lea', from('10.0.0.9'))).to.be.a('number');
    if (typeof first !== 'number') first.dropped();
    expect(t.begin('lea', from('10.0.0.9'))).to.be.an('object');
  });

  it('a PIN that is easy to guess is not taken', () => {
    for (const pin of ['0000', '1234', '4321', '9876', '111111', '2468', '1212', '123123', '7890'])
      expect(easyPin(pin), pin).to.equal(true);
    for (const pin of ['4711', '2719', '1225', '998875']) expect(easyPin(pin), pin).to.equal(false);
  });
});

describe('on this machine alone', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  it('a tap on the name is enough; a PIN is set by oneself or a lead', async () => {
    expect((await bench.get<SignInState>('/api/sign-in')).body.required).to.equal(false);
    const set = (id: string, by: string, pin = '271828') =>
      bench.post(`/api/people/${id}/pin`, { commandId: randomUUID(), by, pin });
    expect((await set('lea', 'ann')).status).to.equal(403);
    expect((await set('ann', 'lea')).status).to.equal(200);
    expect((await set('ann', 'ann')).status).to.equal(200);
    expect((await set('ann', 'ann', '12')).body.error.message).to.include('Four to ten digits');
    expect((await set('ann', 'ann', '1234')).body.error.message).to.include('Too easy to guess');
    expect((await set('nobody', 'lea')).status).to.equal(404);
  });

  it('who has left signs nothing, and keeps their name', async () => {
    const say = (active: boolean, by = 'lea') =>
      bench.post('/api/people/ann/active', { commandId: randomUUID(), by, active });
    expect((await say(false, 'ann')).status).to.equal(403);
    for (const nobody of ['\0', '', 'x'.repeat(5000), '__proto__', "' OR 1=1 --"])
      expect((await say(false, nobody)).status, nobody.slice(0, 12)).to.equal(403);
    expect((await say(false)).status).to.equal(200);
    const model = {
      commandId: randomUUID(),
      by: 'ann',
      code: 'B-1',
      kind: 'acid',
      ml: 1000,
      sg: 1.28,
      at: bench.now,
    };
    expect((await bench.post('/api/lots', model)).status).to.be.oneOf([400, 422]);
    const { people } = (await bench.get<Shop>('/api/shop')).body;
    expect(people.map((p) => [p.name, p.active])).to.deep.equal([
      ['Ann Test', false],
      ['Lea Test', true],
    ]);
    expect(
      (await bench.get<SignInState>('/api/sign-in')).body.people.map((p) => p.id),
    ).to.deep.equal(['lea']);
    expect((await say(true)).status).to.equal(200);
  });
});
