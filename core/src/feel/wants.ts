/** What an expression has to give at its place. */
import { isOrdered, isScalar, plainKind, type Type } from './types.js';

export interface Wanted {
  readonly fits: (type: Type) => boolean;
  /** Completes "This must be …". */
  readonly description: string;
}

const oneOf = (kind: Type['kind'], description: string): Wanted => ({ fits: (type) => type.kind === kind || type.kind === 'null', description });

export const wants = {
  anything: { fits: () => true, description: 'anything' },
  truth: { fits: (type: Type) => type.kind === 'boolean', description: 'yes or no, such as a comparison' },
  text: { fits: (type: Type) => plainKind(type) === 'string' || type.kind === 'null', description: 'a text; other values become one by string( )' },
  plain: { fits: (type: Type) => isScalar(type), description: 'one plain value: a number, a text, a date, yes or no' },
  shown: { fits: (type: Type) => isScalar(type) || type.kind === 'record', description: 'one value: a field, or a summary of many' },
  number: oneOf('number', 'a number'),
  date: oneOf('date', 'a date, such as today()'),
  time: oneOf('time', 'a time of day, such as time(9, 30, 0)'),
  moment: oneOf('date and time', 'a date and time, such as now()'),
  duration: oneOf('days and time duration', 'a duration, such as duration("PT1H30M")'),
  yesOrNo: oneOf('boolean', 'true or false'),
  ordered: { fits: isOrdered, description: 'something that has a smallest: a number, a text, a date' },
} as const satisfies Record<string, Wanted>;
