import type { CDPSession } from 'playwright-core';

export interface LoadedScripts {
  readonly files: number;
  /** As they are sent. */
  readonly bytes: number;
}

/** Counts the scripts that a page loads from now on; the answer tells those until it is called. */
export async function countScripts(devtools: CDPSession): Promise<() => LoadedScripts> {
  const scripts = new Set<string>();
  let bytes = 0;
  devtools.on('Network.responseReceived', ({ requestId, type }) => {
    if (type === 'Script') scripts.add(requestId);
  });
  devtools.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (scripts.has(requestId)) bytes += encodedDataLength;
  });
  await devtools.send('Network.enable');
  return () => ({ files: scripts.size, bytes });
}
