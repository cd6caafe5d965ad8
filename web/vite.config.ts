import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** What only stations need, however many of them, and the language, which comes where something is checked. */
const heavy =
  /codemirror|lezer|xyflow|elkjs|dnd-kit|react-grid-layout|luxon|x-date-pickers|[\\/]d3-|[\\/]workshop[\\/]|state[\\/]design\.|core[\\/]src|re2js|regexpp/u;
/** What the first script of a page needs, which waits for nothing else. */
const first = /preload-helper|web[\\/]src[\\/](?:start|screens|state[\\/](?:early|look-as))\./u;

/** Pages ask for what each of them needs while their first script is still on its way. */
const early: Plugin = {
  name: 'early',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle = {} }) =>
      Object.values(bundle)
        .filter((file) => file.type === 'chunk' && ['shared', 'main'].includes(file.name))
        .map(({ fileName }) => ({ tag: 'link', attrs: { rel: 'modulepreload', crossorigin: true, href: `/${fileName}` }, injectTo: 'head' as const })),
  },
};

export default defineConfig({
  plugins: [react(), early],
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
