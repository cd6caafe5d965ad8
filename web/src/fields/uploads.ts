/** Files that are on their way into a field. */
import { contract, endingOf, fileProblem, filesAs, filesIn, imageEndings, kindOf, type HeldFile, type Typed } from '@bibliona/core';
import { useEffect, useRef, useState } from 'react';
import { messageOf } from '../state/api.js';
import { upload } from '../state/upload.js';
import { useAppId } from '../state/app.js';
import type { FieldOf } from './kind.js';
import { begin } from './underway.js';

export type FilesField = FieldOf<'file'> | FieldOf<'image'>;

export interface Arriving {
  readonly id: number;
  readonly name: string;
  readonly size: number;
  /** From 0 to 1. */
  readonly part: number;
  readonly stop: () => void;
}

let count = 0;
/** The server takes two at a time of one person. */
const mostAtOnce = 2;

export function useUploads(field: FilesField, value: Typed, onChange: (value: Typed) => void) {
  const app = useAppId();
  const endings = kindOf<FilesField>(field).files?.endings(field) ?? [];
  const [arriving, setArriving] = useState<readonly Arriving[]>([]);
  const [problems, setProblems] = useState<readonly string[]>([]);
  // Several that end at once each add to what the one before has made of the value.
  const latest = useRef<Typed>(value);
  useEffect(() => {
    latest.current = value;
  }, [value]);
  // Whoever is told knows of what was typed elsewhere while a file was on its way.
  const tell = useRef(onChange);
  useEffect(() => {
    tell.current = onChange;
  }, [onChange]);
  const change = (files: readonly HeldFile[]): void => {
    latest.current = filesAs(files);
    tell.current(latest.current ?? '');
  };
  const end = (id: number): void => setArriving((all) => all.filter((each) => each.id !== id));

  const bring = async (file: File, turn: Promise<unknown>, id: number, isStopped: () => boolean, onStop: (stop: () => void) => void): Promise<void> => {
    await turn.catch(() => undefined);
    if (isStopped()) return;
    try {
      const sending = upload(contract.uploadFile, { params: { app }, query: { name: file.name.slice(-200) } }, file, (part) =>
        setArriving((all) => all.map((each) => (each.id === id ? { ...each, part } : each))),
      );
      onStop(sending.stop);
      const held = await sending.answer;
      const problem = fileProblem(held, field, endings);
      if (problem === null) change([...filesIn(latest.current), held]);
      else setProblems((all) => [...all, problem]);
    } catch (error) {
      if (!(error instanceof DOMException && error.name === 'AbortError')) setProblems((all) => [...all, `“${file.name}”: ${messageOf(error)}`]);
    } finally {
      end(id);
    }
  };

  const add = (files: readonly File[]): void => {
    const room = field.most - filesIn(latest.current).length - arriving.length;
    const refused: string[] =
      files.length > room
        ? [
            room <= 0 && field.most === 1
              ? 'Remove the file that is there first'
              : `${field.name} holds up to ${field.most} files; ${files.length - Math.max(0, room)} were left out`,
          ]
        : [];
    const lanes: Promise<unknown>[] = Array.from({ length: mostAtOnce }, () => Promise.resolve());
    for (const [i, file] of files.slice(0, Math.max(0, room)).entries()) {
      // What its name says is asked before it is sent; its content decides.
      const problem = fileProblem({ name: file.name, size: file.size }, field, endingOf(file.name) === '' ? [] : endings);
      if (problem !== null) {
        refused.push(problem);
        continue;
      }
      const id = (count += 1);
      let isStopped = false;
      let stop = (): void => undefined;
      setArriving((all) => [...all, { id, name: file.name, size: file.size, part: 0, stop: () => ((isStopped = true), stop(), end(id)) }]);
      const work = bring(
        file,
        lanes[i % mostAtOnce] ?? Promise.resolve(),
        id,
        () => isStopped,
        (now) => (stop = now),
      );
      lanes[i % mostAtOnce] = work;
      begin(work);
    }
    setProblems(refused);
  };
  const remove = (at: number): void => {
    setProblems([]);
    change(filesIn(latest.current).filter((_, i) => i !== at));
  };
  return { arriving, problems, add, remove };
}

/** What the file chooser of the browser offers. */
export const accepted = (field: FilesField): string =>
  (field.kind === 'image' ? [...imageEndings, 'jpeg'] : field.endings).map((ending) => `.${ending}`).join(',');
