/** Where the files of a record are read, and what is said of them. */
import { contract, type HeldFile } from '@bibliona/core';
import { createContext } from 'react';
import { pathOf } from '../../state/api.js';
import { locale } from '../../state/locale.js';

/** A field of a record. */
export interface FilePlace {
  readonly app: string;
  readonly table: string;
  /** Null: it has not been saved yet, and its files are those that this person uploaded. */
  readonly record: number | null;
  readonly field: string;
}

/** The record whose fields are shown; null outside of one. */
export const RecordAt = createContext<Pick<FilePlace, 'table' | 'record'> | null>(null);

export const addressOf = ({ app, table, record, field }: FilePlace, { hash }: HeldFile, as: 'whole' | 'preview' | 'download'): string =>
  record === null ? pathOf(contract.readFreeFile, { app, hash }, { as }) : pathOf(contract.readFile, { app, table, id: record, field, hash }, { as });

/** Where the image of a form is read, by its hash; a public form has another way to it. */
export const ImageAddress = createContext((app: string, hash: string): string => pathOf(contract.readFreeFile, { app, hash }, {}));

/** "1.2 MB", as people say how large files are: in powers of 1,000. */
export function sizeWords(bytes: number): string {
  const [amount, unit] = bytes < 1000 ? [bytes, 'bytes'] : bytes < 1_000_000 ? [bytes / 1000, 'kB'] : [bytes / 1_000_000, 'MB'];
  return `${locale().number(amount >= 10 || unit === 'bytes' ? String(Math.round(amount)) : amount.toFixed(1))} ${unit}`;
}
