import { contract } from '@bibliona/core';
import type { FilesService } from '../files/files.js';
import { answerFile } from '../files/routes.js';
import { forAnyone, forMember, type Served } from '../http/serve.js';
import type { PublicForms } from './public-forms.js';

export function publicFormRoutes(forms: PublicForms, files: FilesService): readonly Served[] {
  return [
    forAnyone(contract.readPublicForm, ({ params }) => forms.read(params.app, params.form)),
    forAnyone(contract.sendPublicForm, async ({ params, body, context }) => ({ thanks: await forms.send(params.app, params.form, body, context.ip) })),
    forAnyone(contract.readPublicImage, async ({ params, context }) => {
      const { form } = await forms.found(params.app, params.form);
      return answerFile(context, await files.readPublicImage(form, params.hash), false);
    }),
    forMember(contract.countPublicForm, async ({ params }, { app }) => ({ sent: await forms.count(app.id, params.form) })),
  ];
}
