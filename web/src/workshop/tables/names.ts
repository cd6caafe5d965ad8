/** The name, or the name with a number after it where it is taken; capitals make no difference. */
export function freeName(wanted: string, taken: readonly string[]): string {
  const used = new Set(taken.map((name) => name.toLowerCase()));
  if (!used.has(wanted.toLowerCase())) return wanted;
  for (let n = 2; ; n += 1) if (!used.has(`${wanted} ${n}`.toLowerCase())) return `${wanted} ${n}`;
}
