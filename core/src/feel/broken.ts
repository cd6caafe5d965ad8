/** What is said of a text that the grammar cannot read, and where. */
import type { At } from './syntax.js';

/** How deep brackets and prefix words are in one another; text inside quotes does not count. */
export function depthOf(text: string): number {
  let [depth, most, prefixes] = [0, 0, 0];
  for (const [part] of text.matchAll(/"(?:[^"\\]|\\.)*"?|[([{)\]}]|\b(?:if|for|some|every|function)\b|-\s*(?=-)/gu)) {
    if (part.startsWith('"')) continue;
    if (/^[([{]/u.test(part)) depth += 1;
    else if (/^[)\]}]/u.test(part)) depth -= 1;
    else prefixes += 1;
    most = Math.max(most, depth + prefixes);
  }
  return most;
}

/** The stretch to underline. */
export function widen({ from, to }: At, text: string): At {
  if (to > from) return { from, to };
  // Something is missing at a point: underline the last sign before it, where the person stopped writing.
  const before = text.slice(0, from).trimEnd().length;
  return { from: Math.max(0, before - 1), to: Math.max(before, Math.min(1, text.length)) };
}

export function errorMessage({ from, to }: At, text: string): string {
  const quotes = [...text.slice(0, Math.max(from, to)).matchAll(/(?<!\\)"/gu)].length;
  if (text[from] === '"' || (quotes % 2 === 1 && from < text.length)) return 'This text has no closing quote. Put text in double quotes on one line.';
  const opened = [...text].filter((sign) => sign === '(').length - [...text].filter((sign) => sign === ')').length;
  const rest = text.slice(from).trim();
  if (rest === '') {
    if (/\bif\b/u.test(text) && !/\belse\b/u.test(text)) return 'An if needs both: what it is then, and what else.';
    return opened > 0 ? 'A closing bracket ) is missing at the end.' : 'Something is missing here: the expression stops in the middle.';
  }
  const sign = rest[0] ?? '';
  if (sign === "'") return 'Put text in double quotes: "jar".';
  if (sign === '`' || sign === '#' || sign === '%' || sign === '&' || sign === '$' || sign === '!')
    return `The sign ${sign} has no meaning here. Marks in the name of a field are left out in an expression.`;
  return `This can't be here: ${rest.slice(0, 20)}${rest.length > 20 ? ' …' : ''}`;
}
