import { X509Certificate } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { hostname, networkInterfaces } from 'node:os';
import { join } from 'node:path';

/** What a server wider than its own machine speaks TLS with. */
export interface Certificate {
  key: string;
  cert: string;
  /** SHA-256 over the whole certificate: what a person compares when the browser asks whether to trust it. */
  fingerprint: string;
  /** The shop's own root that signed it, PEM: what a phone is told to trust. Null where the certificate came from elsewhere. */
  root: string | null;
  /** Made just now. */
  fresh: boolean;
}

const DAY_MS = 86_400_000;
const LASTS_DAYS = 825;
/** One that ends this soon is made anew at the next start. */
const RENEW_BEFORE_MS = 30 * DAY_MS;

/** Names this machine goes by, besides those it is told. */
export const ownNames = (): string[] => [
  ...new Set([
    'localhost',
    hostname().toLowerCase(),
    `${hostname()
      .toLowerCase()
      .replace(/\.local$/, '')}.local`,
  ]),
];

/** Addresses of this machine in digits, those of its own loop left out. */
export const reachableAddresses = (): string[] =>
  Object.values(networkInterfaces())
    .flatMap((list) => list ?? [])
    .filter((a) => !a.internal && a.family === 'IPv4')
    .map((a) => a.address);

function ownAddresses(): string[] {
  return Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).map((a) => a.address.split('%')[0] as string),
  );
}

/**
 * The certificate of a shop: its own, made at the first start and kept beside its data, or one it is given.
 *
 * @param given files in PEM, where the shop has a certificate from elsewhere
 * @throws Error when a given file cannot be read or is none
 */
export async function certificateOf(
  folder: string,
  names: readonly string[],
  given: { key: string; cert: string } | null,
): Promise<Certificate> {
  if (given) return read(given.key, given.cert, null, false);
  const kept = {
    key: join(folder, 'tls', 'key.pem'),
    cert: join(folder, 'tls', 'cert.pem'),
    root: join(folder, 'tls', 'root.pem'),
  };
  const known = await read(kept.key, kept.cert, kept.root, false).catch(() => null);
  if (known && Date.parse(new X509Certificate(known.cert).validTo) - Date.now() > RENEW_BEFORE_MS)
    return known;
  // Only whoever makes one waits for what makes it.
  const { generate } = await import('selfsigned');
  const now = Date.now();
  const common = {
    keyType: 'ec' as const,
    algorithm: 'sha256',
    // A day back: the tablet's clock may be behind.
    notBeforeDate: new Date(now - DAY_MS),
    notAfterDate: new Date(now + LASTS_DAYS * DAY_MS),
  };
  // A phone trusts a root, not a server. Its key is never written down: once it has signed this one, nobody can sign another.
  const root = await generate(
    [{ name: 'commonName', value: `Cork Ember, ${names[0] ?? 'shop'}` }],
    {
      ...common,
      extensions: [
        { name: 'basicConstraints', cA: true, pathLenConstraint: 0, critical: true },
        { name: 'keyUsage', keyCertSign: true, critical: true },
      ],
    },
  );
  const made = await generate([{ name: 'commonName', value: names[0] ?? 'localhost' }], {
    ...common,
    ca: { key: root.private, cert: root.cert },
    extensions: [
      { name: 'basicConstraints', cA: false },
      { name: 'keyUsage', digitalSignature: true },
      { name: 'extKeyUsage', serverAuth: true },
      {
        name: 'subjectAltName',
        altNames: [
          ...names.map((value) => ({ type: 2 as const, value })),
          ...ownAddresses().map((ip) => ({ type: 7 as const, ip })),
        ],
      },
    ],
  });
  await mkdir(join(folder, 'tls'), { recursive: true, mode: 0o700 });
  await writeFile(kept.key, made.private, { mode: 0o600 });
  await writeFile(kept.cert, made.cert);
  await writeFile(kept.root, root.cert);
  return read(kept.key, kept.cert, kept.root, true);
}

async function read(
  keyFile: string,
  certFile: string,
  rootFile: string | null,
  fresh: boolean,
): Promise<Certificate> {
  const [key, cert, root] = await Promise.all([
    readFile(keyFile, 'utf8'),
    readFile(certFile, 'utf8'),
    rootFile === null ? null : readFile(rootFile, 'utf8'),
  ]);
  return { key, cert, root, fingerprint: new X509Certificate(cert).fingerprint256, fresh };
}
