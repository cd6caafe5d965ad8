/** Texts that are filled in for a record: "Lot {Number} is released." A brace itself is written twice. */
import type { AppDesign, TableId } from '../design/design.js';
import { check } from './check.js';
import type { Node } from './node.js';
import { wants } from '../feel/wants.js';

/** A stretch of a merge text: words as they are, or the expression that is between two braces. */
export interface Piece {
  readonly kind: 'words' | 'expression';
  readonly text: string;
}

export type ReadText = { readonly ok: true; readonly pieces: readonly Piece[] } | { readonly ok: false; readonly problem: string };

/** Where the expression ends that begins at `from`: the place of its brace, or -1. Braces in texts and contexts are its own. */
function endOf(text: string, from: number): number {
  let depth = 0;
  let isText = false;
  for (let at = from; at < text.length; at += 1) {
    const sign = text.charAt(at);
    if (isText && sign === '\\') at += 1;
    else if (sign === '"') isText = !isText;
    else if (!isText && sign === '{') depth += 1;
    else if (!isText && sign === '}' && depth === 0) return at;
    else if (!isText && sign === '}') depth -= 1;
  }
  return -1;
}

export function readText(text: string): ReadText {
  const pieces: Piece[] = [];
  let words = '';
  const closeWords = (): void => {
    if (words !== '') pieces.push({ kind: 'words', text: words });
    words = '';
  };
  for (let at = 0; at < text.length; at += 1) {
    const sign = text.charAt(at);
    if ((sign === '{' || sign === '}') && text.charAt(at + 1) === sign) {
      words += sign;
      at += 1;
    } else if (sign === '}') return { ok: false, problem: 'A } has no {. Write }} for the brace itself.' };
    else if (sign !== '{') words += sign;
    else {
      const end = endOf(text, at + 1);
      if (end < 0) return { ok: false, problem: 'A { is not closed. Write {{ for the brace itself.' };
      const expression = text.slice(at + 1, end).trim();
      if (expression === '') return { ok: false, problem: 'Put the name of a field between { and }.' };
      closeWords();
      pieces.push({ kind: 'expression', text: expression });
      at = end;
    }
  }
  closeWords();
  return { ok: true, pieces };
}

/** The text of the pieces again. */
const written = (pieces: readonly Piece[]): string =>
  pieces.map((piece) => (piece.kind === 'expression' ? `{${piece.text}}` : piece.text.replace(/[{}]/gu, '$&$&'))).join('');

/** The text with each of its expressions as `change` gives it, by their places from 0; one that cannot be read is left alone. */
export function mappedText(text: string, change: (expression: string, at: number) => string): string {
  const read = readText(text);
  if (!read.ok) return text;
  let next = 0;
  const pieces = read.pieces.map((piece) => (piece.kind === 'expression' ? { ...piece, text: change(piece.text, next++) } : piece));
  return pieces.every((piece, i) => piece.text === read.pieces[i]?.text) ? text : written(pieces);
}

/** The expressions of a text that was checked with its design, in their order. */
export function nodesOfText(text: string, design: AppDesign, table: TableId): readonly Node[] {
  const read = readText(text);
  if (!read.ok) throw new TypeError(`A text of the design cannot be read: ${text}`);
  return read.pieces.flatMap((piece) => {
    if (piece.kind === 'words') return [];
    const checked = check(piece.text, { design, table }, wants.shown);
    if (!checked.ok) throw new TypeError(`An expression of the design cannot be read: ${piece.text}`);
    return [checked.node];
  });
}

/** The text with the values of its expressions, as they are printed, in their places. */
export function filledIn(text: string, values: readonly string[]): string {
  const read = readText(text);
  if (!read.ok) throw new TypeError(`A text of the design cannot be read: ${text}`);
  let next = 0;
  return read.pieces.map((piece) => (piece.kind === 'words' ? piece.text : (values[next++] ?? ''))).join('');
}
