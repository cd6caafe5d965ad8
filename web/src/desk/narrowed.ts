/** What a list or the rows of a query are narrowed to, as it is in the address. */

/** As much of Zod's shapes as is asked here. */
interface Shape<T> {
  readonly safeParse: (value: unknown) => { readonly success: true; readonly data: T } | { readonly success: false };
}

/** What is not there, or is no list of such things, is nothing. */
export function readNarrowed<T>(text: string | null, shape: Shape<readonly T[]>): readonly T[] {
  if (text === null) return [];
  try {
    const read = shape.safeParse(JSON.parse(text));
    return read.success ? read.data : [];
  } catch {
    return [];
  }
}
