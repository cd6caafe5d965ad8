/** All functions of the language, by name. */
import { aggregateFunctions } from './aggregates.js';
import { conversionFunctions } from './conversions.js';
import { dateFunctions } from './dates.js';
import type { BuiltIn } from './function.js';
import { listFunctions } from './lists.js';
import { numberFunctions } from './numbers.js';
import { rangeFunctions } from './ranges.js';
import { recordFunctions } from './records.js';
import { textFunctions } from './texts.js';

export const builtIns: readonly BuiltIn[] = [
  ...numberFunctions,
  ...textFunctions,
  ...aggregateFunctions,
  ...listFunctions,
  ...dateFunctions,
  ...rangeFunctions,
  ...recordFunctions,
  ...conversionFunctions,
];

const byName = new Map(builtIns.map((each) => [each.name, each]));
export const builtIn = (name: string): BuiltIn | undefined => byName.get(name);

/** Functions of FEEL that are left out, and why: said where one is used. */
export const leftOut: Readonly<Record<string, string>> = {
  product: 'The database cannot multiply a whole list exactly.',

  'insert before': 'Lists are joined by concatenate and append.',
  remove: 'Leave elements out by a condition in brackets: Lines[Amount > 0].',
  'list replace': 'Lists are not changed here, they are filtered and joined.',
  'get value': 'Names are written out: Hive.Name.',
  'get entries': 'Names are written out: Hive.Name.',
  context: 'Names are written out between braces.',
  'context put': 'Names are written out between braces.',
  'context merge': 'Names are written out between braces.',
  is: 'Compare with =: dates and times have no zones of their own here.',
  range: 'Ranges are written with brackets: [1..10].',
};
