/**
 * The part of core that reads and computes expressions, for screens that can be drawn before they have it: it weighs more than
 * all else that such a screen needs.
 */
export { check } from './expression/check.js';
export { evaluate } from './expression/evaluate.js';
export { inWords } from './expression/in-words.js';
export { shown, startValue } from './expression/bring.js';
export { wants } from './feel/wants.js';
