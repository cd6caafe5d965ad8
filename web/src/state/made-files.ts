/** Files that the server makes in the background for this browser. */
import { contract, fileRoutes, rowsInBackground, type FileRouteName } from '@bibliona/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { call, download, type Values } from './api.js';
import { lookedAs } from './look-as.js';

export interface FileToSave {
  readonly route: FileRouteName;
  readonly params: Values & { readonly app: string };
  readonly query?: Values;
  /** What the file is called. */
  readonly name: string;
  /** How many rows it has, as far as that is known. */
  readonly rows?: number;
}

interface MadeFilesStore {
  /** The app of each file that this browser has asked for. */
  readonly asked: Readonly<Record<string, string>>;
  /** Those that this tab asked for and has not saved yet: it saves them as soon as they are ready. */
  readonly awaited: readonly string[];
  readonly ask: (app: string, file: string) => void;
  readonly stopWaiting: (file: string) => void;
  readonly forget: (files: readonly string[]) => void;
}

export const useMadeFiles = create<MadeFilesStore>()(
  persist(
    (set) => ({
      asked: {},
      awaited: [],
      ask: (app, file) => set(({ asked, awaited }) => ({ asked: { ...asked, [file]: app }, awaited: [...awaited, file] })),
      stopWaiting: (file) => set(({ awaited }) => ({ awaited: awaited.filter((each) => each !== file) })),
      forget: (files) => set(({ asked }) => ({ asked: Object.fromEntries(Object.entries(asked).filter(([file]) => !files.includes(file))) })),
    }),
    { name: 'bibliona made files', partialize: ({ asked }) => ({ asked }) },
  ),
);

/** Saves a file now, or has it made in the background when that takes long. */
export async function saveFile({ route, params, query = {}, name, rows = 0 }: FileToSave): Promise<void> {
  const { app, ...more } = params;
  // A builder who looks as someone else changes nothing on the server, so they can't ask it for a file.
  if (rows < rowsInBackground || lookedAs(app) !== null) return download(fileRoutes[route], params, name, query);
  const body = { route, params: inAddress(more), query: inAddress(query), name };
  const file = await call(contract.makeFile, { params: { app }, body });
  useMadeFiles.getState().ask(app, file.id);
}

const inAddress = (values: Values): Record<string, string> =>
  Object.fromEntries(Object.entries(values).flatMap(([key, value]) => (value === undefined || value === '' ? [] : [[key, String(value)]])));
