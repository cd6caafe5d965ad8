/** What builders add to the diagram of the tables, for each other: nothing of it is shown to members. */
import { z } from 'zod';
import { tones } from '../fields/choice.js';
import { Id } from '../shapes/shapes.js';

/** The colour of a section of the shelf. The tables that name the section are drawn together; one without a tone is grey. */
export const Section = z.object({ id: Id, name: z.string().trim().min(1, 'needs a name').max(60), tone: z.enum(tones) }).readonly();
export type Section = z.infer<typeof Section>;

/** A text on the diagram. Its place, like that of a table, is not part of the design. */
export const DiagramNote = z.object({ id: Id, text: z.string().trim().min(1, 'needs a text').max(1000), tone: z.enum(tones) }).readonly();
export type DiagramNote = z.infer<typeof DiagramNote>;
