import { z } from 'zod';

/** Names an item of Today. */
export const ItemInput = z.object({ kind: z.string().min(1).max(40), key: z.string().min(1).max(120) });
