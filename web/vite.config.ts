import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** What only stations need, however many of them, and the language, which comes where something is checked. */
const heavy =
  /codemirror|lezer|react-hook-form|xyflow|elkjs|dnd-kit|react-grid-layout|luxon|x-date-pickers|[\\/]d3-|[\\/]workshop[\\/]|state[\\/]design\.|core[\\/]src|re2js|regexpp/u;
/** What the first script of a page needs, which waits for nothing else. */
const first = /preload-helper|web[\\/]src[\\/](?:start|screens|state[\\/](?:early|look-as))\./u;

/** The small parts of the Desk that several of its screens are made of, besides those of a form. */
const small = /web[\\/]src[\\/](?!ui[\\/]tiles|desk[\\/]record[\\/](?!layout-at))|phosphor/u;

/** Each icon comes in six weights, and we draw three of them. Leaving out the others halves its size. */
const threeWeights: Plugin = {
  name: 'three-weights',
  transform: {
    filter: { id: /@phosphor-icons[\\/]react[\\/]dist[\\/]defs[\\/]/u },
    handler(code) {
      const kept = code.replaceAll(/\n {2}\[\n {4}"(?:duotone|light|thin)",\n[\s\S]*?\n {2}\],?(?=\n)/gu, '');
      if (kept.match(/\n {2}\[\n {4}"/gu)?.length !== 3) this.error('An icon is written in another way than it was');
      return { code: kept, map: null };
    },
  },
};

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
  plugins: [react(), threeWeights, early],
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
            { name: 'shared', test: (id) => !heavy.test(id), minShareCount: 5, priority: 1 },
            { name: 'desk', test: (id) => small.test(id) && !heavy.test(id), minShareCount: 2, maxModuleSize: 5_000 },
            { name: 'form', test: /desk[\\/]record[\\/](?!layout-at)/u, minShareCount: 2 },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  server: { proxy: { '/api': { target: process.env['SERVER'] ?? 'http://127.0.0.1:4400' } } },
});
