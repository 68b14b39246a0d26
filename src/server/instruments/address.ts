import { lookup } from 'node:dns/promises';
import { BlockList, isIP, isIPv6 } from 'node:net';

/** Where instruments may stand: on this machine, and in the ranges a house keeps for itself (RFC 1918, RFC 4193). */
const OWN = new BlockList();
OWN.addSubnet('127.0.0.0', 8, 'ipv4');
OWN.addSubnet('10.0.0.0', 8, 'ipv4');
OWN.addSubnet('172.16.0.0', 12, 'ipv4');
OWN.addSubnet('192.168.0.0', 16, 'ipv4');
OWN.addAddress('::1', 'ipv6');
OWN.addSubnet('fc00::', 7, 'ipv6');

/** Is this an address an instrument may be spoken to at? Anything else, link-local and the open net, is left alone. */
export function isOwnAddress(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1] ?? address;
  return isIP(mapped) !== 0 && OWN.check(mapped, isIPv6(mapped) ? 'ipv6' : 'ipv4');
}

/**
 * The address behind a host, looked up once: whoever connects uses this one, so that the name cannot mean another
 * a moment later.
 *
 * @throws Error when it has none, or one that is not the shop's own
 */
export async function ownAddress(host: string): Promise<string> {
  const found = isIP(host) ? [host] : (await lookup(host, { all: true })).map((a) => a.address);
  const [first] = found;
  if (first === undefined || !found.every(isOwnAddress))
    throw new Error('not an address of the shop’s own net');
  return first;
}
