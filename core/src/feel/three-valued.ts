/** Truths of which some may be unknown, gathered (DMN 1.5, table 50): in memory, and as aggregates of a column of them. */
import type { Feel } from './value.js';

/** Three-valued and: false when one is false, else unknown when one is. */
export const every = (values: readonly Feel[]): Feel => (values.includes(false) ? false : values.every((value) => value === true) ? true : null);
export const some = (values: readonly Feel[]): Feel => (values.includes(true) ? true : values.every((value) => value === false) ? false : null);
export const everySql = (value: string): string => `CASE WHEN COALESCE(bool_or(NOT ${value}), false) THEN false WHEN count(*) = count(${value}) THEN true END`;
export const someSql = (value: string): string => `CASE WHEN COALESCE(bool_or(${value}), false) THEN true WHEN count(*) = count(${value}) THEN false END`;
