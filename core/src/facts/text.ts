import { z } from 'zod';

/** A stored text: without the NUL and the lone halves of a character that no database holds. */
export const text = (max: number) =>
  z
    .string()
    .max(max)
    .refine((s) => !s.includes('\u0000') && !/\p{Surrogate}/u.test(s), 'contains a character that cannot be stored');
