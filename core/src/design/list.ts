/** Lists: many records on screen, arranged in one of several ways. */
import { z } from 'zod';
import { tones } from '../fields/choice.js';
import { Expression, Id, Label } from '../shapes/shapes.js';
import { Arrangement } from './arrangement.js';
import { Published } from './published.js';
import { mostQuickFilters } from './saved-query.js';
import { screen } from './screen.js';

export const Sort = z.object({ field: Id, direction: z.enum(['up', 'down']) }).readonly();
export type Sort = z.infer<typeof Sort>;

/** A colour for the records that meet a condition, and what it says: nobody is told by a colour alone. */
export const RowTone = z.object({ id: Id, name: Label, condition: Expression.min(1, 'needs a condition'), tone: z.enum(tones) }).readonly();
export type RowTone = z.infer<typeof RowTone>;

export const [mostOrders, mostLevels, mostSums, mostTones, mostFrozen] = [4, 3, 12, 8, 5] as const;

export const List = z
  .object({
    ...screen,
    columns: z.array(Id).readonly(),
    /** The first decides, the next between equals. Empty: the oldest first. */
    order: z.array(Sort).max(mostOrders).readonly().default([]),
    /** Only records that meet it are listed; empty: all. */
    condition: Expression.default(''),
    arrangement: Arrangement.default({ kind: 'grid' }),
    /** Records with the same value of the first field are shown together; within such a group those with the same value of the next. */
    groupBy: z.array(Id).max(mostLevels).readonly().default([]),
    /** Fields whose sums are shown at the foot, and at each group. */
    sums: z.array(Id).max(mostSums).readonly().default([]),
    /** Fields by whose values it can be narrowed on the spot. */
    quickFilters: z.array(Id).max(mostQuickFilters).readonly().default([]),
    /** The first that a record meets colours it. */
    tones: z.array(RowTone).max(mostTones).readonly().default([]),
    /** In which its records open and are added; absent: in that of the table. */
    form: Id.optional(),
    /** So many of its first columns stay in sight when a grid is scrolled to the side; absent: none. */
    frozen: z.number().int().min(1).max(mostFrozen).optional(),
    /** Anyone who knows its address can see it; absent: only people of the app. */
    public: Published.optional(),
  })
  .readonly();
export type List = z.infer<typeof List>;

/** The fields whose sums a list needs. */
export const summedFields = ({ sums, arrangement }: Pick<List, 'sums' | 'arrangement'>): readonly string[] =>
  arrangement.kind === 'chart' && arrangement.sum !== undefined ? [...new Set([...sums, arrangement.sum])] : sums;

/** The settings of a list that has none yet. */
export const plainList = { order: [], condition: '', arrangement: { kind: 'grid' }, groupBy: [], sums: [], quickFilters: [], tones: [] } as const;
