/** What people say to each other about a record. Everybody who sees the record reads it. */
import { z } from 'zod';
import { Email, nothingAsked } from './people.js';
import { recordParams } from './records.js';
import { route } from './route.js';

/** How many people one comment can tell. */
export const mostTold = 20;
const Text = z.string().trim().min(1, 'needs a text').max(5000);
const Commenter = z.object({ name: z.string(), mail: z.string() });

export const readComments = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/comments',
  access: 'member',
  params: recordParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({
    /** The oldest first. */
    comments: z.array(
      z.object({
        id: z.string(),
        at: z.string(),
        /** Null: someone who has no account any longer. */
        by: z.string().nullable(),
        isOwn: z.boolean(),
        text: z.string(),
        /** When its text was changed last. */
        changedAt: z.string().nullable(),
        /** The names of those whom a mail told of it. */
        told: z.array(z.string()),
      }),
    ),
    /** There are older ones than these. */
    more: z.boolean(),
    /** The other people who have said something here. */
    people: z.array(Commenter),
    /** Whether this person can find anybody of the app, to tell them. */
    findsAnyone: z.boolean(),
  }),
});
export type CommentsAnswer = z.infer<typeof readComments.answer>;

export const addComment = route({
  method: 'POST',
  path: '/api/apps/:app/tables/:table/records/:id/comments',
  access: 'member',
  params: recordParams,
  query: nothingAsked,
  /** `key` makes a comment that is sent twice one comment. `tell`: the mail addresses of people of the app. */
  body: z.object({ key: z.uuid(), text: Text, tell: z.array(Email).max(mostTold).default([]) }),
  answer: z.object({}),
});

const commentParams = recordParams.extend({ comment: z.uuid() });
/** The person's own. */
export const changeComment = route({
  method: 'POST',
  path: '/api/apps/:app/tables/:table/records/:id/comments/:comment',
  access: 'member',
  params: commentParams,
  query: nothingAsked,
  body: z.object({ text: Text }),
  answer: z.object({}),
});
/** The person's own; a builder removes any. */
export const removeComment = route({
  method: 'POST',
  path: '/api/apps/:app/tables/:table/records/:id/comments/:comment/remove',
  access: 'member',
  params: commentParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
