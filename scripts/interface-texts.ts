/** The texts that people read: every sentence and label in the sources of the interface, the server and core. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

export interface InterfaceText {
  /** The file and the line, for a message. */
  readonly at: string;
  /** In one line. What is filled in while the program runs is `…`. */
  readonly text: string;
}

const root = fileURLToPath(new URL('..', import.meta.url));
const folders = ['core/src', 'server/src', 'web/src'];

function* sources(folder: string): Generator<string> {
  for (const entry of readdirSync(join(root, folder), { withFileTypes: true })) {
    const path = `${folder}/${entry.name}`;
    if (entry.isDirectory()) yield* sources(path);
    else if (/\.tsx?$/u.test(path) && !/\.(?:test|d)\.tsx?$|\/sample\.ts$/u.test(path)) yield path;
  }
}

function textOf(node: ts.Node): string | null {
  if (ts.isJsxText(node)) return node.text;
  if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) return node.text;
  return ts.isTemplateExpression(node) ? node.head.text + node.templateSpans.map((span) => `…${span.literal.text}`).join('') : null;
}

// SQL, markup, style sheets, the words of the language of expressions, and the names that parts of the interface go by.
const notProse =
  /::|<[?\w][^>]*>|\$\d|--|=>|[{}]|^if then else |\b(?:SELECT|INSERT|UPDATE|DELETE|FROM|WHERE|CREATE|DROP|ALTER|SET LOCAL|CASE|WITH|JOIN|ORDER BY|PRIMARY KEY|NULL|LOCK|AS "|NOT IN)\b|sans-serif|^\.[a-z]/u;
// Classes and keys are lower-case words in a row too, but not with one of these between them.
const onlyNames = /^[a-z]+(?:[ -][a-z0-9]+)*$/u;
const spoken = /\b(?:an?|the|of|to|is|are|was|in|on|by|that|with|for|from|it|its|no|not|has|have|they|who|what|there|and|or)\b/u;
const isProse = (text: string): boolean => /\p{L}\p{Ll}* \p{L}/u.test(text) && !notProse.test(text) && (!onlyNames.test(text) || spoken.test(text));

/** Texts of several words, in the order in which they are written. */
export function interfaceTexts(): readonly InterfaceText[] {
  const found: InterfaceText[] = [];
  for (const path of folders.flatMap((folder) => [...sources(folder)])) {
    const kind = path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
    const source = ts.createSourceFile(path, readFileSync(join(root, path), 'utf8'), ts.ScriptTarget.Latest, true, kind);
    const visit = (node: ts.Node): void => {
      const text = ts.isImportDeclaration(node) || ts.isExportDeclaration(node) ? null : textOf(node);
      const line = text?.replace(/\s+/gu, ' ').trim() ?? '';
      if (isProse(line)) found.push({ at: `${path}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1}`, text: line });
      if (!ts.isImportDeclaration(node)) ts.forEachChild(node, visit);
    };
    visit(source);
  }
  return found;
}
