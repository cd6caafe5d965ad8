import { contract, endingOf, isImage, type HeldFile } from '@bibliona/core';
import type { Context } from 'koa';
import { forMember, type Served } from '../http/serve.js';
import type { FilesService } from './files.js';

export function fileRoutes(files: FilesService): readonly Served[] {
  return [
    forMember(contract.uploadFile, ({ query, context }, { app, person }) => files.upload(app, person, query.name, context.req)),
    forMember(contract.readFile, async ({ params, query, context }, { app, person }) => {
      const { file, content, isPreview } = await files.read(app, person, params, query.as === 'preview');
      describe(context, file, isPreview, query.as === 'download');
      // Whether the person still sees it is asked each time; the content of a hash never changes.
      context.set('Cache-Control', 'private, no-cache');
      context.etag = `${file.hash}${isPreview ? 'p' : ''}`;
      context.status = 200;
      if (!context.fresh) return content;
      content.destroy();
      context.status = 304;
      return null;
    }),
  ];
}

/** Only what no browser runs is shown in place; all else is saved to the disk. */
function describe(context: Context, file: HeldFile, isPreview: boolean, isSaved: boolean): void {
  const isShown = isPreview || isImage(file) || endingOf(file.name) === 'pdf';
  context.attachment(file.name, { type: isShown && !isSaved ? 'inline' : 'attachment' });
  context.type = isPreview ? 'webp' : isShown ? endingOf(file.name) : 'application/octet-stream';
  if (!isPreview) context.length = file.size;
}
