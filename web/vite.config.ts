import react from '@vitejs/plugin-react';
import { join } from 'node:path';
import { defineConfig, type Plugin, type Rolldown } from 'vite';

/** What a screen needs of core comes with it; core itself imports everything that is in it. */
const core = /core[\\/]src[\\/]/u;

/** The modules that screens need before they can be drawn, which is what they import themselves and what that imports. */
function neededBy(screens: readonly string[]): (id: string, graph: Graph) => boolean {
  let needed: Set<string> | null = null;
  return (id, graph) => {
    if (needed === null) {
      const roots = screens.map((screen) => join(import.meta.dirname, 'src', screen));
      needed = new Set(roots);
      // A set is walked through to the end of what is added on the way.
      for (const each of needed) for (const next of graph.getModuleInfo(each)?.importedIds ?? []) if (!core.test(next)) needed.add(next);
    }
    return needed.has(id);
  };
}
type Graph = Parameters<Rolldown.CodeSplittingNameFunction>[1];
const byList = neededBy(['main.tsx', 'desk/DeskFrame.tsx', 'desk/list/ListScreen.tsx']);
const byForm = neededBy(['desk/record/RecordScreen.tsx']);
const byTables = neededBy(['workshop/WorkshopFrame.tsx', 'workshop/tables/TablesStation.tsx']);
/** The Desk never loads it. */
const ofWorkshop = /web[\\/]src[\\/]workshop[\\/]/u;

/** What the first script of a page needs, which waits for nothing else. */
const first = /preload-helper|web[\\/]src[\\/](?:start|screens|state[\\/](?:early|look-as|kept)|ui[\\/]elk-worker|workshop[\\/]tables[\\/]load-diagram)\./u;

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

/** What pages never read of a route: the server checks what is sent. */
const unread = new Set(['params', 'query', 'body', 'answer']);

/**
 * Of the contract, pages need how a route is called. Making the shapes of everything that is sent would take a slow processor
 * longer than it takes to draw a list.
 */
const callsAlone: Plugin = {
  name: 'calls-alone',
  transform: {
    filter: { id: /core[\\/]src[\\/]contract[\\/](?!refusal)\w+[.-]/u },
    handler(code) {
      const edits: { readonly start: number; readonly end: number; readonly text: string }[] = [];
      for (const statement of this.parse(code).body) {
        const declaration = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
        if (declaration?.type !== 'VariableDeclaration') continue;
        for (const { init } of declaration.declarations) {
          if (init?.type !== 'CallExpression') continue;
          const [parts] = init.arguments;
          if (init.callee.type === 'Identifier' && init.callee.name === 'route' && parts?.type === 'ObjectExpression')
            for (const part of parts.properties)
              if (part.type === 'Property' && part.key.type === 'Identifier' && unread.has(part.key.name))
                edits.push({ start: part.value.start, end: part.value.end, text: 'undefined' });
          // What nothing refers to is left out then.
          edits.push({ start: init.start, end: init.start, text: '/* @__PURE__ */ (() => ' }, { start: init.end, end: init.end, text: ')()' });
        }
      }
      const fromTheEnd = edits.sort((a, b) => b.start - a.start);
      return { code: fromTheEnd.reduce((text, edit) => text.slice(0, edit.start) + edit.text + text.slice(edit.end), code), map: null };
    },
  },
};

/**
 * A component names its style each time it is drawn, by reading all its letters twice in script. Nearly all of these texts were named
 * before, and looking one up is the browser's own work. A page has a few hundred of them.
 */
const namesRemembered: Plugin = {
  name: 'names-remembered',
  transform: {
    filter: { id: /@emotion[\\/]serialize[\\/]dist[\\/]/u },
    handler(code) {
      const lookedUp = code
        .replace('function serializeStyles(', 'var names = new Map();\nfunction serializeStyles(')
        .replace(
          'labelPattern.lastIndex = 0;',
          'var known = names.get(styles);\n  if (known !== undefined) return { name: known, styles: styles, next: cursor };\n  $&',
        )
        .replace(/(var name = hashString\(styles\) \+ identifierName;)/u, '$1\n  names.set(styles, name);');
      if (!['var names', 'names.get', 'names.set'].every((part) => lookedUp.includes(part))) this.error('Styles are named in another way than they were');
      return { code: lookedUp, map: null };
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
  plugins: [react(), threeWeights, callsAlone, namesRemembered, early],
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
            { name: (id, graph) => (byList(id, graph) ? 'shared' : null), minShareCount: 5, priority: 1, debugName: 'shared' },
            { name: (id, graph) => (byList(id, graph) ? 'desk' : null), minShareCount: 2, debugName: 'desk' },
            { name: (id, graph) => (byForm(id, graph) ? 'form' : null), minShareCount: 2, debugName: 'form' },
            { name: (id, graph) => (ofWorkshop.test(id) && byTables(id, graph) ? 'workshop' : null), minShareCount: 2, debugName: 'workshop' },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  server: { proxy: { '/api': { target: process.env['SERVER'] ?? 'http://127.0.0.1:4400' } } },
});
