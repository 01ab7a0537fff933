import { z } from 'zod';
import { evidenceFile, removeEvidence } from '../../../../../../server/obligations/work/evidence.ts';
import { attachment } from '../../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';

const Input = z.object({
  key: z.string().max(100),
  id: z.coerce.number().int().positive().max(4_294_967_295),
});
const object = (_ctx: unknown, { key }: { readonly key: string }) => ({ kind: 'measure work', id: key });

/** The file, as it was sent. */
export const GET = endpoint({
  action: 'obligations.read',
  input: Input,
  object,
  run: async ({ ctx, input }) => {
    const { name, body } = await evidenceFile(ctx, input.key, input.id);
    return attachment(name, 'application/octet-stream', body);
  },
});

export const DELETE = endpoint({
  action: 'obligations.work',
  input: Input,
  object,
  run: ({ ctx, account, input }) => removeEvidence(ctx, account.id, input.key, input.id),
});
