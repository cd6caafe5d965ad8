/** Parts of a design under the headings that the builder gave them, in the order the headings first came. */
export function sectionsOf<Part extends { readonly section: string }>(
  parts: readonly Part[],
): readonly { readonly name: string; readonly parts: readonly Part[] }[] {
  const names = [...new Set(parts.map((part) => part.section))];
  return names.map((name) => ({ name, parts: parts.filter((part) => part.section === name) }));
}
