/** The JSON Schema (2020-12) of a design in a file, for those who write one by other means. */
import { AppDesignShape } from '@bibliona/core';
import { z } from 'zod';

export const designSchema = z.toJSONSchema(AppDesignShape, { io: 'input', unrepresentable: 'any', reused: 'ref' });
