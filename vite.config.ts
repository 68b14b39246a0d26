import { constants } from 'node:zlib';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { compression, defineAlgorithm } from 'vite-plugin-compression2';
import { VitePWA } from 'vite-plugin-pwa';

/** What the server draws a page with: the same pages, for Node. */
const forServer = {
  plugins: [react()],
  ssr: { noExternal: true as const },
  build: {
    outDir: 'dist/drawn',
    target: 'node20',
    copyPublicDir: false,
    // Pages are kept by browsers alone.
    rolldownOptions: { external: /^virtual:/, output: { entryFileNames: 'drawPage.js' } },
  },
  define: { 'process.env.NODE_ENV': '"production"' },
};

const forBrowsers = {
  plugins: [
    react(),
    tailwindcss(),
    // Installable, and there without the server: the pages are kept by a service worker, what they last showed by the page itself
    // (src/web/line/lastState.ts). A new version is offered, never forced.
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Cork Ember',
        short_name: 'Cork Ember',
        description: 'For the technician who fills, charges, tests and recovers lead-acid batteries.',
        display: 'standalone',
        start_url: '/',
        theme_color: '#FBF8F2',
        background_color: '#F3EADC',
        icons: [
          { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
          { src: '/icon-maskable-512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,png,woff2,wasm}'],
        maximumFileSizeToCacheInBytes: 4_000_000,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//, /^\/trust/],
      },
    }),
    // Pressed once here as small as it goes, so that the server only hands it on.
    compression({
      algorithms: [defineAlgorithm('brotliCompress', { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }), defineAlgorithm('gzip', { level: 9 })],
      include: /\.(js|css|html|svg)$/,
    }),
  ],
  build: {
    outDir: 'dist/web',
    target: 'es2023',
    sourcemap: false,
    chunkSizeWarningLimit: 600,
    // The server reads from it which scripts a view needs, and names them before the page asks.
    manifest: true,
    rolldownOptions: {
      // Pressing takes its time; nobody need be told at every start.
      checks: { pluginTimings: false },
      output: {
        codeSplitting: {
          groups: [
            // What the first script of a page needs to ask for the others, and nothing of them.
            { name: 'ask', test: /vite[\\/]preload-helper/, priority: 20 },
            // What a first visit to the bench needs comes in one file: it waits for rounds, not for bytes.
            // Fields, drawings and what they stand on, for every view but the bench.
            {
              name: 'parts',
              test: /node_modules[\\/](radix-ui|@radix-ui[\\/]react-(dialog|popover|popper|arrow|slot|primitive|compose|context|id|use-|portal|presence|focus|dismissable)|@floating-ui|@tanstack|aria-hidden|react-remove-scroll|react-style-singleton|use-callback-ref|use-sidecar|lucide-react)|src[\\/](web[\\/](inputs|app|parts|line|drawings[\\/](?!TraceChart|ReadingsChart|LiveChart))|core[\\/](quantities|batteries|capacity|electrolyte|procedures|charging|house|guide[\\/]terms|drill[\\/](tellsACase|words)|job|diagnosis[\\/](stories|practice[\\/](families|stories|experience))))/,
              minShareCount: 2,
              priority: 5,
            },
            // A job's page in one piece, and what a diagnosis adds to it in another.
            { name: 'job', test: /src[\\/]web[\\/]views[\\/]job[\\/](JobView|StepPanel|StepList|SizeLine|TrayBar|panels|charge[\\/](?!ChargeSays)|steps[\\/](AcidPanel|CellsPanel|CheckPanels|DecisionPanels|MeasurePanels|PortsPanel|WaitPanel))/, priority: 4 },
            { name: 'diagnosis', test: /src[\\/](web[\\/]views[\\/]job[\\/]diagnosis|core[\\/](diagnosis|simulation[\\/](random|parallel)))/, minShareCount: 1, priority: 2 },
            { name: 'first', test: /src[\\/]web[\\/](main|views[\\/]bench[\\/]Bench)\.tsx/, includeDependenciesRecursively: true, priority: 10 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4700' } },
};

// `vite build --ssr src/web/app/drawPage.tsx` makes the one, `vite build` the other.
export default defineConfig(({ isSsrBuild }) => (isSsrBuild ? forServer : forBrowsers));
