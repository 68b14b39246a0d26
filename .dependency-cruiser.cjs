/** Four floors, imports only downwards: web and server on contract on core; core on nothing. */
module.exports = {
  forbidden: [
    { name: 'core-stands-alone', severity: 'error', from: { path: '^src/core' }, to: { pathNot: '^src/core' } },
    // A table that comes in is read by the standard parser, at the edge and nowhere else.
    { name: 'contract-on-core-joi-and-parser', severity: 'error', from: { path: '^src/contract' }, to: { pathNot: '^(src/(core|contract)|node_modules/(joi|papaparse|@types/papaparse))' } },
    { name: 'server-not-on-web', severity: 'error', from: { path: '^src/server' }, to: { path: '^src/web' } },
    { name: 'web-not-on-server', severity: 'error', from: { path: '^src/web' }, to: { path: '^src/server' } },
    { name: 'web-not-on-node', severity: 'error', from: { path: '^src/web' }, to: { dependencyTypes: ['core'] } },
    { name: 'shared-web-not-on-views', severity: 'error', from: { path: '^src/web/(app|drawings|inputs)' }, to: { path: '^src/web/views' } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    { name: 'no-strangers', severity: 'error', from: { path: '^src' }, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default', 'types'], extensions: ['.ts', '.tsx', '.js', '.json'] },
  },
};
