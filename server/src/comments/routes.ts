import { contract } from '@bibliona/core';
import type { Context } from 'koa';
import { tabHeader, type Live } from '../live/live.js';
import { forMember, type Served } from '../http/serve.js';
import type { Comments } from './comments.js';

export function commentRoutes(comments: Comments, live: Live): readonly Served[] {
  const tell = (context: Context, app: string, table: string): void => live.touched(app, [table], { tab: context.get(tabHeader), own: [table] });
  return [
    forMember(contract.readComments, ({ params }, { app, person }) => comments.read(app, person, params)),
    forMember(contract.addComment, async ({ params, body, context }, { app, person }) => {
      await comments.add(app, person, params, body);
      tell(context, app.id, params.table);
      return {};
    }),
    forMember(contract.changeComment, async ({ params, body, context }, { app, person }) => {
      await comments.change(app, person, params, params.comment, body.text);
      tell(context, app.id, params.table);
      return {};
    }),
    forMember(contract.removeComment, async ({ params, context }, { app, person }) => {
      await comments.remove(app, person, params, params.comment);
      tell(context, app.id, params.table);
      return {};
    }),
  ];
}
