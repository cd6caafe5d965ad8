/**
 * The part of core that reads and computes expressions. It is larger than all else that a form needs, so screens load it by
 * itself, after they are shown.
 */
export { check } from './expression/check.js';
export { evaluate } from './expression/evaluate.js';
export { inWords } from './expression/in-words.js';
export { shown, startValue, valueFor } from './expression/bring.js';
export { wants } from './feel/wants.js';
export { narrowedCondition } from './query/narrowed-condition.js';
export { readBy } from './expression/rename.js';
export { checksOf, fieldsRead } from './checks/checks.js';
