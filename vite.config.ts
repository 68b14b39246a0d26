import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: 'dist/web', target: 'es2023', sourcemap: false, chunkSizeWarningLimit: 600,
    // What every view needs comes in three files, not in thirty: a first visit waits for rounds, not for bytes.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            {
              name: 'frame',
              test: /node_modules[\\/](react|react-dom|scheduler|react-router|@tanstack|@radix-ui|radix-ui|sonner|lucide-react|aria-hidden|react-remove-scroll|react-style-singleton|react-remove-scroll-bar|use-sidecar|use-callback-ref|@floating-ui)[\\/]/,
            },
            { name: 'core', test: /src[\\/]core[\\/](procedures|house|quantities|capacity|batteries|electrolyte|storage|safety|charging)[\\/]/ },
            { name: 'bench', test: /src[\\/]web[\\/](app|views[\\/]bench|views[\\/]shelf[\\/]standings|drawings[\\/](Port|port|Ribbon|useWidth))/ },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4700' } },
});
