import type { IncomingMessage, ServerResponse } from 'node:http';
import { squareOf, squareSvg } from '../codes.ts';

/** What a phone has to trust before it gives a page its camera, or installs it. */
export interface Trust {
  /** Root certificate of the shop, PEM. */
  root: string;
  /** SHA-256 of the server's own certificate. */
  fingerprint: string;
  /** Where the pages are, over TLS. */
  address: string;
}

const PAGE = '/trust';
const ROOT_FILE = '/trust/shop-root.crt';

const escape = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/**
 * Answers the page that leads a phone through trusting the shop's own certificate, and the certificate itself; over plain HTTP too,
 * because it is read before there is any trust.
 *
 * @returns whether the address was one of these
 */
export function answerTrust(
  request: Pick<IncomingMessage, 'method' | 'url'>,
  response: ServerResponse,
  trust: Trust | null,
): boolean {
  const path = (request.url ?? '').split('?')[0];
  if (request.method !== 'GET' || (path !== PAGE && path !== ROOT_FILE)) return false;
  response.setHeader('X-Content-Type-Options', 'nosniff');
  response.setHeader('Cache-Control', 'no-cache');
  if (path === ROOT_FILE) {
    if (!trust) response.writeHead(404).end();
    else
      response
        .writeHead(200, {
          'Content-Type': 'application/x-x509-ca-cert',
          'Content-Disposition': 'attachment; filename="shop-root.crt"',
        })
        .end(trust.root);
    return true;
  }
  response
    .writeHead(200, {
      'Content-Type': 'text/html; charset=utf-8',
      'Content-Security-Policy': "default-src 'none'; style-src 'unsafe-inline'; img-src data:",
    })
    .end(pageOf(trust));
  return true;
}

function pageOf(trust: Trust | null): string {
  const body = trust
    ? `<p>A phone gives its camera only to a page it trusts, and installs only such a page. Do this once on each phone. Everything else works without it.</p>
<p><a class="act" href="${ROOT_FILE}">1. Get the shop’s certificate</a></p>
<h2>2. Trust it</h2>
<h3>Android</h3>
<ol><li>Settings, search for <b>CA certificate</b>, Install anyway, choose <b>shop-root.crt</b>.</li></ol>
<h3>iPhone, iPad</h3>
<ol><li>Settings, <b>Profile downloaded</b>, Install.</li><li>Settings, General, About, <b>Certificate trust settings</b>: switch it on.</li></ol>
<h2>3. Open the bench</h2>
<p><a class="act" href="${escape(trust.address)}">${escape(trust.address)}</a></p>
<p>In the browser’s menu: <b>Add to home screen</b>, or <b>Install</b>.</p>
<p>It can vouch for this server and for nothing else: the key that signed it was thrown away. The server’s own fingerprint, to compare if the browser still asks:</p>
<p class="code">${escape(trust.fingerprint)}</p>
<h2>Another phone</h2>
${squareSvg(`${trust.address}${PAGE}`, 4)}`
    : `<p>This server answers on its own machine only, or has a certificate from elsewhere: there is nothing to trust here.</p>
<p>For phones and tablets start it with <b>--host 0.0.0.0</b>.</p>`;
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Cork Ember on a phone</title><style>
body{font:18px/1.5 system-ui,sans-serif;background:#F3EADC;color:#211C17;max-width:40rem;margin:0 auto;padding:1rem 1rem 3rem}
h1{font-size:1.7rem}h2{margin:1.6rem 0 .3rem;font-size:1.3rem}h3{margin:.8rem 0 0;font-size:1.05rem}ol{margin:.3rem 0}
.act{display:inline-block;background:#211C17;color:#FBF8F2;padding:.8rem 1.2rem;border-radius:.4rem;text-decoration:none}
.code{font-family:ui-monospace,monospace;font-size:.85rem;overflow-wrap:anywhere}svg{width:12rem;background:#fff}
</style></head><body><h1>Cork Ember on a phone</h1>${body}</body></html>`;
}

/** A QR for a terminal: two rows of it in a line of text. */
export function terminalQr(text: string): string {
  const { side, isDark } = squareOf(text);
  const lines: string[] = [];
  for (let y = -2; y < side + 2; y += 2) {
    let line = '';
    for (let x = -2; x < side + 2; x++) {
      const [above, below] = [isDark(x, y), isDark(x, y + 1)];
      // Light on a dark terminal: what is dark in the code is left out.
      line += above ? (below ? ' ' : '▄') : below ? '▀' : '█';
    }
    lines.push(line);
  }
  return lines.join('\n');
}
