/** What takes long to make and is not always needed: made when it is first asked for, and kept. */
export function whenUsed<T>(make: () => T): () => T {
  let made: { readonly value: T } | null = null;
  return () => (made ??= { value: make() }).value;
}
