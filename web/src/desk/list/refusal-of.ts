import type { RecordAnswer, Write } from '@bibliona/core';
import { ApiRefusal, messageOf } from '../../state/api.js';
import { locale } from '../../state/locale.js';

/** Why a save of several records was refused, as a sentence that begins with the record it was refused for, where it was one of them. */
export function refusalOf(error: unknown, writes: readonly Write[], records: readonly RecordAnswer[], called: (record: RecordAnswer) => string): string {
  if (!(error instanceof ApiRefusal)) return messageOf(error);
  const issue = error.issues.find((one) => one.write !== undefined);
  const place = error.answer.code === 'conflict' ? error.answer.details[0]?.write : issue?.write;
  const write = place === undefined ? undefined : writes[place];
  const record = write !== undefined && 'id' in write ? records.find((one) => one.id === write.id) : undefined;
  const more = error.issues.length - 1;
  const said = record === undefined || issue === undefined ? messageOf(error) : issue.message;
  return `${record === undefined ? '' : `${called(record)}: `}${said.replace(/\.$/u, '')}${more > 0 && record !== undefined ? `, and ${locale().count(more)} more` : ''}.`;
}
