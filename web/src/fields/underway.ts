/** What is on its way to the server in any form: a save waits for it. */
const underway = new Set<Promise<unknown>>();

export function begin(work: Promise<unknown>): void {
  underway.add(work);
  void work.finally(() => underway.delete(work));
}
export const areUploading = (): boolean => underway.size > 0;
export async function uploadsEnded(): Promise<void> {
  while (underway.size > 0) await Promise.allSettled([...underway]);
}
