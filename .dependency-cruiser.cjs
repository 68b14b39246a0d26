/**
 * Which room may know which. Floors, from below: core on nothing; contract on core; server, stand-ins and web on both.
 * Rooms within a floor, from below: each knows those before it, and none that comes after. `docs/architecture.md` draws them.
 */
const CORE = [
  'guide',
  'quantities',
  'electrolyte',
  'batteries',
  'safety',
  'capacity',
  'simulation',
  'charging',
  'rehearsal',
  'diagnosis',
  'chargers',
  'house',
  'storage',
  'plan',
  'catalogue',
  'job',
  'recovery',
  'steps',
  'watch',
  'dayplan',
  'paper',
  'sets',
  'results',
  'claims',
  'exchange',
  'drill',
];
const WEB = ['workers', 'parts', 'line', 'sandbox', 'drawings', 'inputs', 'views', 'app'];

/** No room of a floor imports one that comes after it. */
const upwards = (floor, rooms) =>
  rooms.slice(0, -1).map((room, i) => ({
    name: `${floor}-${room}-not-upwards`,
    severity: 'error',
    from: { path: `^src/${floor}/${room}/` },
    to: { path: `^src/${floor}/(${rooms.slice(i + 1).join('|')})/` },
  }));

module.exports = {
  forbidden: [
    { name: 'core-stands-alone', severity: 'error', from: { path: '^src/core' }, to: { pathNot: '^src/core' } },
    // A table that comes in is read by the standard parser, at the edge and nowhere else.
    { name: 'contract-on-core-joi-and-parser', severity: 'error', from: { path: '^src/contract' }, to: { pathNot: '^(src/(core|contract)|node_modules/(joi|papaparse|@types/papaparse))' } },
    { name: 'server-not-on-web', severity: 'error', from: { path: '^src/server' }, to: { path: '^src/web' } },
    { name: 'web-not-on-server', severity: 'error', from: { path: '^src/web' }, to: { path: '^src/server' } },
    { name: 'web-not-on-node', severity: 'error', from: { path: '^src/web' }, to: { dependencyTypes: ['core'] } },
    ...upwards('core', CORE),
    ...upwards('web', WEB),
    { name: 'every-core-room-is-listed', severity: 'error', from: { path: `^src/core/(?!(${CORE.join('|')})/)` }, to: {} },
    { name: 'every-web-room-is-listed', severity: 'error', from: { path: `^src/web/(?!(${WEB.join('|')})/|(main\\.tsx|begin\\.ts)$)` }, to: {} },
    // What two views draw stands in drawings or inputs.
    { name: 'no-view-to-view', severity: 'error', from: { path: '^src/web/views/([^/]+)/' }, to: { path: '^src/web/views/', pathNot: '^src/web/views/$1/' } },
    // Types count, too: two files that hold each other's types cannot be read one without the other.
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    // What the build makes itself, and the address of a file, are no modules.
    { name: 'no-strangers', severity: 'error', from: { path: '^src' }, to: { couldNotResolve: true, pathNot: '^virtual:|[?]url$' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default', 'types'], extensions: ['.ts', '.tsx', '.js', '.json'] },
  },
};
