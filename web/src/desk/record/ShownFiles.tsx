import type { Field, HeldFile } from '@bibliona/core';
import { useContext } from 'react';
import { useAppId } from '../../state/app.js';
import { RecordAt } from '../../ui/files/held.js';
import { HeldFiles } from '../../ui/files/HeldFiles.js';

/** The files of a field of the record around it, for those who do not change them here. */
export function ShownFiles({ field, files, isNamed = false }: { readonly field: Field; readonly files: readonly HeldFile[]; readonly isNamed?: boolean }) {
  const app = useAppId();
  const at = useContext(RecordAt);
  return at === null ? null : <HeldFiles files={files} place={{ app, ...at, field: field.id }} isNamed={isNamed} {...(isNamed ? {} : { most: 3 })} />;
}
