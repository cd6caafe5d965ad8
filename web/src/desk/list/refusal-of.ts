import type { RecordAnswer, Write } from '@bibliona/core';
import { ApiRefusal, messageOf } from '../../state/api.js';

/** Why a save of several records was refused, with the record that it was refused for, where it was one of them. */
export function refusalOf(error: unknown, writes: readonly Write[], records: readonly RecordAnswer[], called: (record: RecordAnswer) => string): string {
  if (!(error instanceof ApiRefusal)) return messageOf(error);
  const place = error.answer.code === 'conflict' ? error.answer.details[0]?.write : error.issues.find((issue) => issue.write !== undefined)?.write;
  const write = place === undefined ? undefined : writes[place];
  const record = write !== undefined && 'id' in write ? records.find((one) => one.id === write.id) : undefined;
  return `${record === undefined ? '' : `${called(record)}: `}${messageOf(error)}`;
}
