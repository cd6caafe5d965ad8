import { contract, endingOf, isImage } from '@bibliona/core';
import type { Context } from 'koa';
import type { Readable } from 'node:stream';
import { forMember, type Served } from '../http/serve.js';
import type { FilesService, SentFile } from './files.js';

export function fileRoutes(files: FilesService): readonly Served[] {
  return [
    forMember(contract.uploadFile, ({ query, context }, { app, person }) => files.upload(app, person, query.name, context.req)),
    forMember(contract.readFile, async ({ params, query, context }, { app, person }) =>
      answerFile(context, await files.read(app, person, params, query.as === 'preview'), query.as === 'download'),
    ),
    forMember(contract.readFreeFile, async ({ params, query, context }, { app, person }) =>
      answerFile(context, await files.readFreeFile(app, person, params.hash, query.as === 'preview'), query.as === 'download'),
    ),
  ];
}

/** Whether the person still sees it is asked each time; the content of a hash never changes. */
export async function answerFile(context: Context, sent: SentFile, isSaved: boolean): Promise<Readable | null> {
  context.etag = `${sent.file.hash}${sent.isPreview ? 'p' : ''}`;
  context.status = 200;
  const content = context.fresh ? null : await sent.content();
  describe(context, sent, isSaved);
  context.set('Cache-Control', 'private, no-cache');
  if (content === null) context.status = 304;
  return content;
}

/** Only what no browser runs is shown in place; all else is saved to the disk. */
function describe(context: Context, { file, isPreview }: SentFile, isSaved: boolean): void {
  const isShown = isPreview || isImage(file) || endingOf(file.name) === 'pdf';
  context.attachment(file.name, { type: isShown && !isSaved ? 'inline' : 'attachment' });
  context.type = isPreview ? 'webp' : isShown ? endingOf(file.name) : 'application/octet-stream';
  if (!isPreview) context.length = file.size;
}
