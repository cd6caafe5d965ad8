/** Forms that anyone can fill in: what a visitor is given, and what they send. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { appParams, OpenApp } from './apps.js';
import { FileHash } from './files.js';
import { nothingAsked } from './people.js';
import { WrittenValue } from './records.js';
import { route } from './route.js';

/** In milliseconds: nobody fills in a form faster than this, and what is sent before is refused. */
export const leastFillTime = 2000;

const formParams = appParams.extend({ form: Id });

/** The form with as much of its app as it needs, or why there is none. */
export const readPublicForm = route({
  method: 'GET',
  path: '/api/public/:app/:form',
  access: 'anyone',
  params: formParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.discriminatedUnion('state', [
    z.object({ state: z.literal('closed'), name: z.string(), text: z.string() }),
    z.object({
      state: z.literal('open'),
      app: OpenApp,
      form: z.string(),
      question: z.string().nullable(),
      /** Sent along with what was filled in: it tells when that began, and makes one record of it however often it is sent. */
      ticket: z.string(),
    }),
  ]),
});
export type PublicFormAnswer = z.infer<typeof readPublicForm.answer>;

export const sendPublicForm = route({
  method: 'POST',
  path: '/api/public/:app/:form',
  access: 'anyone',
  params: formParams,
  query: nothingAsked,
  body: z.object({
    ticket: z.string().max(200),
    values: z.record(Id, WrittenValue),
    /** To the question of the form. */
    answer: z.string().max(200).default(''),
    /** What is in an input that people don't see: programs fill it in. */
    unseen: z.string().max(1000).default(''),
  }),
  answer: z.object({ thanks: z.string() }),
});

/** An image on a public form. */
export const readPublicImage = route({
  method: 'GET',
  path: '/api/public/:app/:form/images/:hash',
  access: 'anyone',
  params: formParams.extend({ hash: FileHash }),
  query: nothingAsked,
  body: nothingAsked,
  answer: z.unknown(),
});

/** How many records a public form has added, for its builder. */
export const countPublicForm = route({
  method: 'GET',
  path: '/api/apps/:app/public-forms/:form',
  access: 'builder',
  params: formParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ sent: z.number() }),
});
