import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { Key, On } from '../../../../../server/access/inputs.ts';
import { placeSheet } from '../../../../../server/access/place-sheet.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ key: Key, on: On }),
  object: whole('estate'),
  run: ({ ctx, input }) => placeSheet(ctx, input.key, input.on),
});
