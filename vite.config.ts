import { constants } from 'node:zlib';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { compression, defineAlgorithm } from 'vite-plugin-compression2';

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
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
      output: {
        codeSplitting: {
          groups: [
            // What a first visit to the bench needs comes in one file: it waits for rounds, not for bytes.
            // Fields, drawings and what they stand on, for every view but the bench.
            {
              name: 'parts',
              test: /node_modules[\\/](radix-ui|@radix-ui[\\/]react-(dialog|slot|primitive|compose|context|id|use-|portal|presence|focus|dismissable)|aria-hidden|react-remove-scroll|react-style-singleton|use-callback-ref|use-sidecar|lucide-react)|src[\\/](web[\\/](inputs|app|drawings[\\/](?!TraceChart))|core[\\/](quantities|batteries|capacity|electrolyte|procedures|charging|house))[\\/]/,
              minShareCount: 2,
              priority: 5,
            },
            { name: 'first', test: /src[\\/]web[\\/](main|views[\\/]bench[\\/]Bench)\.tsx/, includeDependenciesRecursively: true, priority: 10 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4700' } },
});
