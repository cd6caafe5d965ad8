import type { Field } from '../design/design.js';
import { kindOf } from '../fields/kinds.js';

/** Whether values of a field are short enough that many records share one; of a formula its type decides. */
export const canNarrow = (field: Field): boolean =>
  field.kind === 'formula' || field.kind === 'reference' || field.kind === 'person' || kindOf(field).traits.canBeIndexed;
