import type { RecordAnswer, Write } from '@bibliona/core';
import { ApiRefusal, messageOf } from '../../state/api.js';
import { locale } from '../../state/locale.js';

/** Why a save of several records was refused, as a sentence that begins with the record it was refused for, where it was one of them. */
export function refusalOf(error: unknown, writes: readonly Write[], records: readonly RecordAnswer[], called: (record: RecordAnswer) => string): string {
  if (!(error instanceof ApiRefusal)) return messageOf(error);
  if (error.answer.code === 'conflict') {
    const [conflict] = error.answer.details;
    const record = conflict === undefined ? undefined : recordOf(writes[conflict.write], records);
    if (conflict !== undefined && record !== undefined)
      return `${called(record)}: ${conflict.current === null ? 'it no longer exists, or you no longer have access to it' : `${conflict.by ?? 'someone'} has just changed it. Look at it, choose it again, then repeat this`}.`;
  }
  const issue = error.issues.find((each) => each.write !== undefined);
  const record = recordOf(writes[issue?.write ?? -1], records);
  const more = error.issues.length - 1;
  const said = record === undefined || issue === undefined ? messageOf(error) : issue.message;
  return `${record === undefined ? '' : `${called(record)}: `}${said.replace(/\.$/u, '')}${more > 0 && record !== undefined ? `, and ${locale().count(more)} more` : ''}.`;
}

const recordOf = (write: Write | undefined, records: readonly RecordAnswer[]): RecordAnswer | undefined =>
  write !== undefined && 'id' in write ? records.find((record) => record.id === write.id) : undefined;

/** The record for which a save of several was refused because it no longer exists; undefined: it was refused for another reason. */
export function goneIn(error: unknown, writes: readonly Write[], records: readonly RecordAnswer[]): RecordAnswer | undefined {
  if (!(error instanceof ApiRefusal) || error.answer.code !== 'conflict') return undefined;
  const [conflict] = error.answer.details;
  return conflict?.current === null ? recordOf(writes[conflict.write], records) : undefined;
}
