// Lets Node read TypeScript: `node --import ./scripts/typescript.mjs file.ts`. Every file as esbuild makes it, with its map, and
// nothing besides (docs/decisions/043).
import { register } from 'node:module';

process.setSourceMapsEnabled(true);
register('./typescriptHooks.mjs', import.meta.url);
