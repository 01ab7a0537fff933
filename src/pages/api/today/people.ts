import { ItemInput } from '../../../server/desk/item-input.ts';
import { whoCouldHave } from '../../../server/desk/today-own.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** Who else could have an item. */
export const GET = endpoint({
  action: 'today.read',
  input: ItemInput,
  run: ({ ctx, account, input }) => whoCouldHave(ctx, account, input.kind, input.key),
});
