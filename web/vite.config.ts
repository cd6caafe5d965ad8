import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** What only stations need, however many of them, and the language, which comes where something is checked. */
const heavy = /codemirror|lezer|xyflow|elkjs|dnd-kit|react-grid-layout|luxon|x-date-pickers|[\\/]d3-|[\\/]workshop[\\/]|core[\\/]src|re2js|regexpp/u;
/** What the first script of a page needs, which waits for nothing else. */
const first = /preload-helper|web[\\/]src[\\/](?:start|screens|state[\\/](?:early|look-as))\./u;

export default defineConfig({
  plugins: [react()],
  build: {
    target: 'es2023',
    chunkSizeWarningLimit: 1600,
    modulePreload: { polyfill: false },
    assetsInlineLimit: 0,
    rolldownOptions: {
      output: {
        // What most screens share comes in one file: sixty small ones take longer to ask for than to read.
        codeSplitting: {
          groups: [
            { name: 'first', test: first, priority: 2 },
            { name: 'shared', test: (id) => !heavy.test(id), minShareCount: 8, priority: 1 },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  server: { proxy: { '/api': { target: process.env['SERVER'] ?? 'http://127.0.0.1:4400' } } },
});
