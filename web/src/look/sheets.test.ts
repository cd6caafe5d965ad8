import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { expect, test } from 'vitest';

const web = fileURLToPath(new URL('..', import.meta.url));
const files = (folder: string, ending: RegExp): readonly string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((path) => ending.test(path))
    .map((path) => join(folder, path));
const sheets = files(join(web, 'look'), /\.css$/u);

/** Classes that packages give to what they draw. */
const ofPackages = /^(?:Mui|react-flow|react-grid|react-resizable|cm-|tok-|(?:connecting|selected|resizing)$)/u;

/** All words in the texts of a program: a class is in one of them. */
function wordsOf(path: string): readonly string[] {
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node) || ts.isTemplateHead(node) || ts.isTemplateMiddle(node) || ts.isTemplateTail(node))
      found.push(...(node.text.match(/[\w-]+/gu) ?? []));
    ts.forEachChild(node, visit);
  };
  visit(ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.ES2023, false, ts.ScriptKind.TSX));
  return found;
}

const classesOf = (sheet: string): readonly string[] => {
  const rules = readFileSync(sheet, 'utf8')
    .replace(/\/\*.*?\*\//gsu, '')
    .replace(/\{[^{}]*\}/gu, '{}');
  return [...new Set([...rules.matchAll(/\.([a-zA-Z][\w-]*)/gu)].map(([, name]) => name ?? ''))];
};

test('every class of a sheet is used by a component', () => {
  expect(sheets.length).toBeGreaterThan(20);
  const words = new Set(files(web, /(?<!\.test)\.tsx?$/u).flatMap(wordsOf));
  // A word that ends in "-" begins the name of a class whose end is computed.
  const begun = [...words].filter((word) => word.endsWith('-'));
  const isUsed = (name: string): boolean => words.has(name) || ofPackages.test(name) || begun.some((word) => name.startsWith(word));
  expect(sheets.flatMap((sheet) => classesOf(sheet).flatMap((name) => (isUsed(name) ? [] : [`${sheet.slice(web.length)}: ${name}`])))).toEqual([]);
});

test('what the Desk styles is called by no name of another place, because a proof shows both on one page', () => {
  const selectorsIn = (sheet: string): readonly string[] =>
    [
      ...readFileSync(sheet, 'utf8')
        .replace(/\/\*.*?\*\//gsu, '')
        .matchAll(/([^{}]+)\{/gu),
    ].flatMap(([, selector = '']) => selector.split(',').map((each) => each.trim()));
  /** The classes that have a rule of their own in a sheet. */
  const alone = (sheet: string): readonly string[] => selectorsIn(sheet).flatMap((each) => /^\.([\w-]+)$/u.exec(each)?.[1] ?? []);
  /** The classes of what the rules of a sheet are about, wherever that is. */
  const about = (sheet: string): readonly string[] =>
    selectorsIn(sheet).flatMap((each) => [...(/[^\s>+~]+$/u.exec(each)?.[0] ?? '').matchAll(/\.([a-zA-Z][\w-]*)/gu)].map(([, name]) => name ?? ''));
  const isDesk = (sheet: string): boolean => sheet.includes(join('look', 'desk'));
  const elsewhere = new Set(sheets.filter((sheet) => !isDesk(sheet)).flatMap(about));
  expect(elsewhere.size).toBeGreaterThan(100);
  expect(
    sheets.filter(isDesk).flatMap((sheet) =>
      alone(sheet)
        .filter((name) => elsewhere.has(name))
        .map((name) => `${sheet.slice(web.length)}: ${name}`),
    ),
  ).toEqual([]);
});

test('no sheet is too long to find one’s way in', () => {
  expect(sheets.filter((sheet) => readFileSync(sheet, 'utf8').split('\n').length > 400)).toEqual([]);
});
