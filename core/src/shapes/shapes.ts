/** What the parts of a design are made of. */
import { z } from 'zod';

/** Stable name of a part of a design: the design refers to everything by id, so that renaming touches nothing else. */
export const Id = z.string().regex(/^[a-z][a-z0-9_]{1,39}$/, 'must be a short id');

/** What a part is called by people. Also the source of its name in the database, which PostgreSQL cuts at 63 bytes. */
export const Label = z
  .string()
  .transform((text) => text.trim().replace(/\s+/gu, ' '))
  .pipe(
    z
      .string()
      .min(1, 'needs a name')
      .max(60, 'is longer than 60 characters')
      .regex(/^[^\p{C}"]*$/u, 'has a character that names cannot hold'),
  );

export const Description = z.string().max(2000).default('');

/** A text in the expression language; whether it can be read in its place is checked with the design. */
export const Expression = z.string().max(2000, 'is longer than 2000 characters');
