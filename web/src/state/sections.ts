import type { Table } from '@bibliona/core';

/** Tables under the headings that the builder gave them, in the order the headings first came. */
export function sectionsOf(tables: readonly Table[]): readonly { readonly name: string; readonly tables: readonly Table[] }[] {
  const names = [...new Set(tables.map((table) => table.section))];
  return names.map((name) => ({ name, tables: tables.filter((table) => table.section === name) }));
}
