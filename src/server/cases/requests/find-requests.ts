import { z } from 'zod';
import { KIND_WORDS, REQUEST_KINDS, requestNumber } from '../../../core/cases/requests/request.ts';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';

/** Requests by their number; what they say of people is sealed, and is not searched. */
export async function findRequests({ store }: Context, text: string): Promise<readonly Found[]> {
  const number = /^r?-?(\d{1,9})$/i.exec(text.trim())?.[1];
  if (number === undefined) return [];
  const rows = await store.all(
    z.object({ id: z.number(), kind: z.enum(REQUEST_KINDS), next_words: z.string() }),
    'SELECT id, kind, next_words FROM subject_request WHERE id = ? OR CAST(id AS CHAR) LIKE ? ORDER BY id = ? DESC, id DESC LIMIT 5',
    [Number(number), `${number}%`, Number(number)],
  );
  return rows.map((r) => ({
    ...{ kind: 'request', words: `${requestNumber(r.id)}, ${KIND_WORDS[r.kind]}` },
    ...{ detail: r.next_words, link: `/cases/requests/${r.id}` },
  }));
}
