// `npm start`: installs, builds, and serves the bench. See --help.
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import {
  buildPages,
  buildPrograms,
  builtFile,
  demandNode,
  installPackages,
  ROOT,
} from './setup.mjs';

const HELP = `npm start                  the demo shop, at http://127.0.0.1:4700
npm start -- --shop        your own shop; empty at first
npm start -- --fresh       the demo from its beginning again
              --data DIR   where the data lies (default: data)
              --port N     another port (default: 4700)
              --host H     another address; wider than this machine speaks TLS and asks for a PIN
              --name N     a name it is reached by there, besides the machine's own; may be given again
              --cert F --key F   a certificate of your own, in PEM; without it one is made
              --as-it-is   go on with a data file that has lost entries, or is another one
              --help       this text

The demo and a shop never share a file: DIR/demo and DIR/shop.`;

demandNode();
const args = process.argv.slice(2);
let values;
try {
  ({ values } = parseArgs({
    args,
    options: {
      shop: { type: 'boolean' },
      fresh: { type: 'boolean' },
      data: { type: 'string' },
      port: { type: 'string' },
      host: { type: 'string' },
      'as-it-is': { type: 'boolean' },
      name: { type: 'string', multiple: true },
      cert: { type: 'string' },
      key: { type: 'string' },
      rate: { type: 'string' },
      help: { type: 'boolean', short: 'h' },
    },
  }));
} catch (error) {
  console.error(`${error.message}\n\n${HELP}`);
  process.exit(2);
}
if (values.help) {
  console.log(HELP);
  process.exit(0);
}
if (values.fresh && values.shop) {
  console.error("--fresh begins the demo again; a shop's data is never thrown away.");
  process.exit(2);
}
installPackages();
buildPages();
buildPrograms();
const node = (program, more) =>
  spawn(process.execPath, [builtFile(program), ...more], { cwd: ROOT, stdio: 'inherit' });

// The demo has instruments: stand-ins in a process of their own, so that they outlive a server that dies.
const rackPort = String(Number(values.port ?? 4700) + 10);
const rackFile = resolve(ROOT, values.data ?? 'data', 'demo', 'rack.json');
if (values.fresh) rmSync(rackFile, { force: true });
const rack = values.shop ? null : node('standins/main', ['--port', rackPort, '--file', rackFile]);
const server = node('server/main', [...args, ...(rack ? ['--rack', rackPort] : [])]);
const stop = (signal) => {
  server.kill(signal);
  rack?.kill(signal);
};
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => stop(signal));
server.on('exit', (code) => {
  rack?.kill('SIGTERM');
  process.exit(code ?? 1);
});
