import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { CHEMISTRIES, type ChemistryKey } from '../core/batteries/chemistry.ts';
import { viewBattery } from '../core/simulation/view.ts';
import type { Factors } from '../core/simulation/battery.ts';
import { DESIGN_KEYS } from '../core/simulation/design.ts';
import { type Clipped, type Mischief, MISCHIEFS } from './place.ts';
import { type Rack } from './rack.ts';
import type { RackServers } from './servers.ts';

const POWER_CUT_MS = 20_000;
const MOST_POWER_CUT_MS = 600_000;

interface Controls {
  rack: Rack;
  servers: RackServers;
  setRate: (rate: number) => void;
  /** Lets simulated time jump. */
  advance: (seconds: number) => void;
}

/** The page and the few addresses by which the stand-ins are told to misbehave. Not a part of the product. */
export function controlServer({ rack, servers, setRate, advance }: Controls): Server {
  return createServer((request, response) => {
    void handle(request, response).catch((error: unknown) => {
      response
        .writeHead(400, { 'Content-Type': 'application/json' })
        .end(JSON.stringify({ error: (error as Error).message }));
    });
  });

  async function handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    // A page from elsewhere, or a name pointed at this machine, tells these batteries nothing.
    const { host = '', origin } = request.headers;
    if (
      !/^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/.test(host) ||
      (origin !== undefined && origin !== `http://${host}`)
    ) {
      response.writeHead(403).end();
      return;
    }
    const url = new URL(request.url ?? '/', 'http://rack');
    if (request.method === 'GET' && url.pathname === '/') {
      response.writeHead(200, { 'Content-Type': 'text/html; charset=utf-8' }).end(page());
      return;
    }
    if (request.method === 'GET' && url.pathname === '/state') {
      reply(response, state());
      return;
    }
    if (request.method !== 'POST') {
      response.writeHead(404).end();
      return;
    }
    const form =
      request.headers['content-type']?.startsWith('application/x-www-form-urlencoded') ?? false;
    const text = await readBody(request);
    const body = form
      ? Object.fromEntries(new URLSearchParams(text))
      : (JSON.parse(text || '{}') as Record<string, unknown>);
    const amount = (key: string, low: number, high: number): number =>
      bounded(body[key], key, low, high);
    const place = (): number => amount('place', 1, rack.places.length);
    if (url.pathname === '/clip') rack.clip(place(), clippedFrom(body));
    else if (url.pathname === '/advance') advance(amount('seconds', 0, 3600));
    else if (url.pathname === '/rate') setRate(amount('rate', 0, 3600));
    else if (url.pathname === '/mischief') {
      const mischief = String(body['mischief']);
      if (!Object.hasOwn(MISCHIEFS, mischief)) throw new Error(`No mischief “${mischief}”.`);
      rack.setMischief(place(), mischief as Mischief, body['on'] === true || body['on'] === 'true');
    } else if (url.pathname === '/power-cut') {
      rack.cutPower();
      servers.drop();
      setTimeout(
        () => (rack.powered = true),
        body['ms'] === undefined ? POWER_CUT_MS : amount('ms', 0, MOST_POWER_CUT_MS),
      ).unref();
    } else throw new Error('Nothing is there.');
    if (form) response.writeHead(303, { Location: '/' }).end();
    else reply(response, state());
  }

  function state() {
    rack.advance();
    return {
      powered: rack.powered,
      places: rack.places.map((p, i) => ({
        place: i + 1,
        tag: p.tag,
        output: p.output,
        load: p.load,
        mischief: [...p.mischief],
        truth: p.stepper
          ? {
              ...viewBattery(p.stepper.battery),
              voltageV: p.stepper.voltageV,
              currentA: p.stepper.currentA,
            }
          : null,
      })),
    };
  }

  function page(): string {
    const rows = state().places.map((p) => {
      const buttons = Object.entries(MISCHIEFS).map(([key, title]) => {
        const on = p.mischief.includes(key as Mischief);
        return `<form method="post" action="/mischief"><input type="hidden" name="place" value="${p.place}"><input type="hidden" name="mischief" value="${key}"><button name="on" value="${!on}" title="${title}" aria-pressed="${on}">${key}</button></form>`;
      });
      const truth = p.truth
        ? `${p.truth.voltageV.toFixed(2)} V · ${p.truth.currentA.toFixed(2)} A · ${p.truth.temperatureC.toFixed(1)} °C · holds ${(100 * p.truth.charge).toFixed(0)} %`
        : 'empty';
      const output = p.output.on
        ? `on, ${p.output.amps} A to ${p.output.volts.toFixed(2)} V`
        : `off${p.output.tripped ? ` (${p.output.tripped})` : ''}`;
      return `<tr><th>${p.place}</th><td>${escape(p.tag ?? '')}</td><td>${output}</td><td>${truth}</td><td class="b">${p.tag ? buttons.join('') : ''}</td></tr>`;
    });
    return `<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="3"><title>Stand-in rack</title>
<style>body{font:16px/1.5 system-ui;margin:2rem;max-width:80rem}td,th{padding:.4rem .8rem;text-align:left;border-top:1px solid #ccc}table{border-collapse:collapse}form{display:inline}button{font:inherit;margin:.1rem;padding:.3rem .6rem}button[aria-pressed=true]{background:#222;color:#fff}</style>
<h1>Stand-in rack</h1><p>Simulated batteries and the instruments around them${rack.powered ? '' : ' – <strong>power is cut</strong>'}. What stands here the application cannot see.</p>
<form method="post" action="/power-cut"><button>Cut the power for 20 s</button></form>
<table><tr><th>Place</th><th>Battery</th><th>Output</th><th>Truth</th><th>Misbehave</th></tr>${rows.join('')}</table></html>`;
  }
}

/** A number within bounds. @throws Error that names it */
function bounded(value: unknown, name: string, low: number, high: number): number {
  const number = Number(value);
  if (
    value === null ||
    value === '' ||
    typeof value === 'object' ||
    !(number >= low && number <= high)
  )
    throw new Error(`${name}: a number from ${low} to ${high}.`);
  return number;
}

/** A battery to put on a place, of a size there is. */
function clippedFrom(body: Record<string, unknown>): Clipped {
  const { tag, chemistry, charge } = body;
  if (typeof tag !== 'string' || tag.length > 40) throw new Error('tag: up to 40 characters.');
  if (typeof chemistry !== 'string' || !Object.hasOwn(CHEMISTRIES, chemistry))
    throw new Error('chemistry: flooded, agm or gel.');
  const cells = bounded(body['cells'], 'cells', 1, 24);
  if (!Number.isInteger(cells)) throw new Error('cells: whole ones.');
  return {
    tag,
    chemistry: chemistry as ChemistryKey,
    cells,
    c20Ah: bounded(body['c20Ah'], 'c20Ah', 0.1, 5000),
    temperatureC: bounded(body['temperatureC'], 'temperatureC', -50, 90),
    ...(body['milliohm'] === undefined
      ? {}
      : { milliohm: bounded(body['milliohm'], 'milliohm', 0.1, 10_000) }),
    ...(body['labelFactors'] === undefined
      ? {}
      : { labelFactors: factorsFrom(body['labelFactors']) }),
    ...(charge === undefined ? {} : { charge: bounded(charge, 'charge', 0, 1) }),
  };
}

/** What is not as in its family: factors on the design. */
function factorsFrom(value: unknown): Factors {
  if (typeof value !== 'object' || value === null)
    throw new Error('labelFactors: factors by name.');
  const known = DESIGN_KEYS.filter((key) => Object.hasOwn(value, key));
  if (known.length < Object.keys(value).length)
    throw new Error('labelFactors: a name that no design has.');
  return Object.fromEntries(
    known.map((key) => [
      key,
      bounded((value as Record<string, unknown>)[key], `labelFactors.${key}`, 0.01, 100),
    ]),
  );
}

const escape = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

function reply(response: ServerResponse, body: unknown): void {
  response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
}

async function readBody(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > 10_000) throw new Error('Too long.');
  }
  return text;
}
