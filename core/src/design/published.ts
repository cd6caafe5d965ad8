/** What anyone can see or fill in who knows its address, without signing in. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';

/** The address of a site on the web, without what comes after its host: https://example.org */
const Site = z
  .string()
  .trim()
  .max(200)
  .regex(/^https?:\/\/[a-z0-9.-]+(?::\d{1,5})?$/u, 'must be the address of a site, such as https://example.org');

/** Sites whose pages something can be a part of. */
export const Sites = z.array(Site).max(20).readonly().default([]);

/** How something that is only read is published: visitors see of it what their role can see. */
export const Published = z.object({ role: Id, sites: Sites }).readonly();
export type Published = z.infer<typeof Published>;
