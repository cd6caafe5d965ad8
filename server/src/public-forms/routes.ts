import { contract } from '@bibliona/core';
import { forAnyone, forMember, type Served } from '../http/serve.js';
import type { PublicForms } from './public-forms.js';

export function publicFormRoutes(forms: PublicForms): readonly Served[] {
  return [
    forAnyone(contract.readPublicForm, ({ params }) => forms.read(params.app, params.form)),
    forAnyone(contract.sendPublicForm, async ({ params, body, context }) => ({ thanks: await forms.send(params.app, params.form, body, context.ip) })),
    forMember(contract.countPublicForm, async ({ params }, { app }) => ({ sent: await forms.count(app.id, params.form) })),
  ];
}
